/** Delivery: once each, in order; what is too much goes in parts, what is refused for good holds up nothing. */
import { entryDescription, type EntryAnswer } from '@wide-ledger/contract';
import { FrameError, emptyFrame, isBundle, packEntry, unpackBundle, unpackEntry, type Frame } from '@wide-ledger/core';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { Delivery, MOST_SPANS, ServerRefused, Spool, partsOf } from '../../src/index.ts';

const silent = pino({ level: 'silent' });
let folder: string;
let spool: Spool;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'wide-ledger-delivery-'));
  spool = await Spool.open(folder);
});
afterEach(async () => {
  await spool.close();
  rmSync(folder, { recursive: true, force: true });
});

const frameOf = (samples: number): Frame => {
  const frame = emptyFrame(samples, { tags: true });
  frame.tags!.fill(1);
  frame.times.forEach((_, i) => (frame.times[i] = i));
  return frame;
};
const outage = (from: number): object => ({
  source: 1,
  tag: from + 1,
  from,
  to: from + 1,
  cause: 'tag',
  sentence: 'refused',
  code: null,
  recoverable: false,
});
const add = (outages = 0, samples = 1): Promise<void> =>
  spool.add(
    (sequence) =>
      packEntry(
        {
          writer: 'c',
          sequence,
          origin: 'live',
          watches: [],
          outages: Array.from({ length: outages }, (_, i) => outage(i)),
        },
        samples > 0 ? frameOf(samples) : null,
      ),
    {},
    samples,
  );

interface Got {
  readonly writer: string;
  readonly sequence: number;
  readonly outages: number;
  readonly samples: number;
}

/** A server as the test has it: it answers to what it is sent, or throws. */
class Server {
  readonly got: Got[] = [];
  tries = 0;
  /** @param knowsBundles false: it is of an earlier version. */
  constructor(
    private readonly judge: (got: Got) => Error | null = () => null,
    private readonly knowsBundles = true,
  ) {}

  /** An entry, or a bundle: all of it or nothing. */
  deliver(packed: Uint8Array): Promise<EntryAnswer> {
    this.tries++;
    try {
      const bundled = isBundle(packed) && this.knowsBundles;
      const taken = (bundled ? unpackBundle(packed) : [packed]).map((one) => this.take(one));
      this.got.push(...taken);
      const accepted = taken.reduce((sum, { samples }) => sum + samples, 0);
      return Promise.resolve({ entry: this.got.length, accepted, setAside: 0, repeated: false });
    } catch (error) {
      return Promise.reject(error instanceof FrameError ? new ServerRefused(error.message) : (error as Error));
    }
  }

  private take(packed: Uint8Array): Got {
    const { description, frame } = unpackEntry(packed);
    const { writer, sequence, outages } = description as { writer: string; sequence: number; outages: unknown[] };
    const got = { writer, sequence, outages: outages.length, samples: frame?.times.length ?? 0 };
    // As the real border does it.
    const checked = entryDescription.safeParse(description);
    const error = checked.success ? this.judge(got) : new ServerRefused('POST /entries was answered 400: too many');
    if (error) throw error;
    return got;
  }
}

async function delivered(server: Server): Promise<Delivery> {
  const delivery = new Delivery(spool, server, silent);
  delivery.start();
  while (spool.entries > 0) await new Promise((done) => setTimeout(done, 5));
  return delivery;
}

test('an entry that cannot be read back is put away with the reason, and holds up nothing', async () => {
  await add();
  await spool.add(() => Uint8Array.of(0x57, 0x4c, 0x45, 0x31, 0, 0), null, 1);
  await add();
  const server = new Server();
  await (await delivered(server)).stop();
  expect(server.got.map(({ sequence }) => sequence)).toEqual([1, 3]);
  expect((await spool.quarantine()).map(({ packed }) => packed.length)).toEqual([6]);
});

test('numbers that the server knows of another copy of this spool are given anew, and nothing is lost', async () => {
  const known = new Map<string, string>();
  /** A server that takes each number of a writer once, as the journal does. */
  const journal = {
    deliver: (packed: Uint8Array): Promise<EntryAnswer> => {
      const numbers = (isBundle(packed) ? unpackBundle(packed) : [packed]).map((one) => {
        const { description, frame } = unpackEntry(one);
        const { writer, sequence } = description as { writer: string; sequence: number };
        const key = `${writer} ${sequence}`;
        if (known.has(key)) return null;
        known.set(key, String(frame?.tags?.[0]));
        return known.size;
      });
      return Promise.resolve({
        entry: known.size,
        accepted: 1,
        setAside: 0,
        repeated: numbers.every((number) => number === null),
        numbers,
      });
    },
  };
  const deliver = async (): Promise<void> => {
    const delivery = new Delivery(spool, journal, silent);
    delivery.start();
    while (spool.entries > 0) await new Promise((done) => setTimeout(done, 5));
    await delivery.stop();
  };
  const write = (tag: number): Promise<void> =>
    spool.add(
      (sequence) => {
        const frame = frameOf(1);
        frame.tags![0] = tag;
        const writer = `c/${spool.name}`;
        return packEntry({ writer, sequence, origin: 'live', watches: [], outages: [] }, frame);
      },
      null,
      1,
    );
  // The machine goes on from a picture of its memory: the copy before it has used the same numbers since.
  known.set(`c/${spool.name} 2`, 'of the other').set(`c/${spool.name} 3`, 'of the other');
  for (const tag of [1, 2, 3, 4]) await write(tag);
  await deliver();
  expect([...known.values()].filter((tag) => tag !== 'of the other').toSorted()).toEqual(['1', '2', '3', '4']);
});

test('entries are delivered in their order, each until it is acknowledged', async () => {
  for (let n = 0; n < 5; n++) await add();
  let failures = 3;
  const server = new Server(({ sequence }) => (sequence === 2 && failures-- > 0 ? new Error('no answer') : null));
  await (await delivered(server)).stop();
  expect(server.got.map(({ sequence }) => sequence)).toEqual([1, 2, 3, 4, 5]);
});

test('what has waited goes in few requests, in its order, also where one of them is refused and where bundles are unknown', async () => {
  const numbers = Array.from({ length: 450 }, (_, i) => i + 1);
  const many = async (server: Server): Promise<number[]> => {
    for (let n = 0; n < 450; n++) await add();
    await (await delivered(server)).stop();
    return server.got.map(({ sequence }) => sequence);
  };
  const server = new Server();
  expect(await many(server)).toEqual(numbers);
  expect(server.tries).toBe(3);
  // One in the second bundle is refused for good: only that one is put away, and what came with it goes by itself.
  const strict = new Server(({ sequence }) => (sequence === 450 + 300 ? new ServerRefused('no') : null));
  expect(await many(strict)).toEqual(numbers.map((n) => 450 + n).filter((n) => n !== 750));
  expect(strict.tries).toBe(3 + 200);
  expect(spool.putAwayEntries).toBe(1);
  await spool.takeBack((await spool.quarantine())[0]!.key);
  expect(await many(new Server(undefined, false))).toEqual(numbers.map((n) => 900 + n));
});

test('more outages than a server takes at once go in parts of another writer, none twice and none missing', async () => {
  await add(12_345, 7);
  await add();
  const server = new Server();
  await (await delivered(server)).stop();
  expect(server.got.map(({ writer, sequence, outages, samples }) => [writer, sequence, outages, samples])).toEqual([
    ['c/part of 1', 1, MOST_SPANS, 7],
    ['c/part of 1', 2, MOST_SPANS, 0],
    ['c/part of 1', 3, 12_345 - 2 * MOST_SPANS, 0],
    ['c', 2, 0, 1],
  ]);
  expect(spool.putAwayEntries).toBe(0);
});

test('an entry that is refused for good is put away with its reason, the next ones go on, and it is tried at the next start', async () => {
  for (let n = 0; n < 3; n++) await add();
  const strict = new Server(({ sequence }) => (sequence === 2 ? new ServerRefused('of another version') : null));
  await (await delivered(strict)).stop();
  expect(strict.got.map(({ sequence }) => sequence)).toEqual([1, 3]);
  expect(spool.putAwayEntries).toBe(1);
  const kept = await spool.quarantine();
  expect(unpackEntry(kept[0]!.packed).description).toMatchObject({ writer: 'c', sequence: 2 });

  // It is on the disk, not in memory.
  await spool.close();
  spool = await Spool.open(folder);
  expect(spool.putAwayEntries).toBe(1);
  await add();
  const lenient = new Server();
  await (await delivered(lenient)).stop();
  expect(lenient.got.map(({ writer, sequence }) => [writer.split('/')[0], sequence])).toEqual([
    ['c', 1],
    ['c', 4],
  ]);
  expect(spool.putAwayEntries).toBe(0);
});

test('new entries do not shorten the pause between two tries', async () => {
  await add();
  const server = new Server(() => new Error('no answer'));
  const delivery = new Delivery(spool, server, silent);
  delivery.start();
  for (let flush = 0; flush < 60; flush++) {
    await add();
    delivery.wake();
    await new Promise((done) => setTimeout(done, 10));
  }
  await delivery.stop();
  // Pauses of 250 and 500 ms: a handful of tries, not one at every flush.
  expect(server.tries).toBeLessThan(6);
});

test('the parts of an entry hold together what it held', () => {
  const description = entryDescription.parse({
    writer: 'w',
    sequence: 9,
    origin: 'live',
    watches: [],
    outages: [outage(1)],
  });
  const parts = partsOf(packEntry(description, frameOf(450_000)), description, (whole, part) => ({
    ...whole,
    sequence: part,
  }));
  const unpacked = parts.map((part) => unpackEntry(part));
  expect(unpacked.map(({ frame }) => frame!.times.length)).toEqual([200_000, 200_000, 50_000]);
  expect(unpacked.map(({ description: own }) => (own as Got & { outages: unknown[] }).outages.length)).toEqual([
    1, 0, 0,
  ]);
  expect(unpacked.flatMap(({ frame }) => [...frame!.times])).toEqual(Array.from({ length: 450_000 }, (_, i) => i));
});
