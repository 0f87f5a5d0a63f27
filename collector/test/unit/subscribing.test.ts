/** What a source tells by itself: what is handed on, what is said again, and whose clock stamps it. */
import type { ConfiguredTag } from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import { Clock, SourceAway, type Listener, type Sample, type SubscribedSession } from '../../src/index.ts';
import { Subscribing } from '../../src/acquisition/subscribing.ts';
import { tagAt } from '../tags.ts';
import type { Read } from '../../src/acquisition/acquisition.ts';

const tag = (id: number, longestSilenceSeconds: number | null): ConfiguredTag =>
  tagAt(id, { node: `i=${id}`, element: '' }, { reading: { longestSilenceSeconds } });
const sample = (id: number, value: number, sourceTime: number | null = null): Sample => ({
  tag: id,
  value,
  status: Status.Good,
  sourceTime,
  fault: null,
});

class Told {
  now = 1_800_000_000_000;
  readonly clock = new Clock(
    () => this.now,
    () => this.now,
  );
  readonly reads: Read[] = [];
  readonly dropped: unknown[][] = [];
  readonly failures: [unknown, number][] = [];
  listener: Listener | null = null;
  followed: readonly number[] = [];
  refuse: SourceAway | null = null;
  readonly subscribing = new Subscribing(this.clock, {
    read: (read) => this.reads.push(read),
    trouble: () => undefined,
    vouched: () => undefined,
    kept: () => Promise.resolve(),
    dropped: (id, { from, to }, bySource) => this.dropped.push([id, from, to, bySource]),
    failed: (error, at) => this.failures.push([error, at]),
  });
  readonly session: SubscribedSession & { clockSkew: number | null } = {
    acquires: 'subscription',
    clockSkew: null,
    follow: (tags, listener) => {
      this.followed = tags.map(({ id }) => id);
      this.listener = listener;
      return this.refuse ? Promise.reject(this.refuse) : Promise.resolve();
    },
    close: () => undefined,
  };
  async begin(tags: readonly ConfiguredTag[]): Promise<void> {
    this.subscribing.arrange(tags);
    await this.subscribing.prove(this.session);
    this.subscribing.start(this.session);
  }
  samples = (): Sample[] => this.reads.flatMap(({ samples }) => samples);
}

test('what it tells is handed on; that it was heard of vouches for the time until then', async () => {
  const told = new Told();
  await told.begin([tag(1, null)]);
  told.listener!.changed([sample(1, 5, 17)]);
  told.now += 1000;
  told.listener!.heard();
  expect(told.samples()).toEqual([sample(1, 5, 17)]);
  expect(told.reads.at(-1)).toMatchObject({ samples: [], until: told.now * 1000, missed: null });
});

test('a value that does not change is said again after its longest silence, by the source’s clock', async () => {
  const told = new Told();
  await told.begin([tag(1, 10), tag(2, null)]);
  told.session.clockSkew = 3_600_000;
  told.listener!.changed([sample(1, 5), sample(2, 6)]);
  for (let second = 1; second <= 25; second++) {
    told.now += 1000;
    told.listener!.heard();
  }
  const again = told.samples().slice(2);
  expect(again.map(({ tag: id, value }) => [id, value])).toEqual([
    [1, 5],
    [1, 5],
  ]);
  const start = 1_800_000_000_000 + 3_600_000;
  expect(again.map(({ sourceTime }) => sourceTime! / 1000 - start)).toEqual([10_000, 20_000]);
});

test('what the source dropped lies between the last that was heard and now', async () => {
  const told = new Told();
  await told.begin([tag(1, null)]);
  told.listener!.heard();
  const heard = told.now * 1000;
  told.now += 700;
  told.listener!.overflowed(1, null);
  expect(told.dropped).toEqual([[1, heard, told.now * 1000, false]]);
  // Where it says between which values, that is it, however long this process slept.
  told.listener!.overflowed(1, { from: 17, to: 19 });
  expect(told.dropped[1]).toEqual([1, 17, 19, true]);
});

test('a loss is told once, from when it was last heard of; a loss while it is proved is the proof that fails', async () => {
  const told = new Told();
  await told.begin([tag(1, null)]);
  told.listener!.heard();
  const heard = told.now * 1000;
  const away = new SourceAway('gone', 'CLOSED', Status.BadNoCommunication);
  told.now += 5000;
  told.listener!.lost(away);
  told.listener!.lost(away);
  told.listener!.heard();
  expect(told.failures).toEqual([[away, heard]]);

  const proving = new Told();
  proving.refuse = away;
  proving.subscribing.arrange([tag(1, null)]);
  await expect(proving.subscribing.prove(proving.session)).rejects.toBe(away);
  expect(proving.failures).toEqual([]);
});

test('a new version of the tags is followed at once; what left is not said again', async () => {
  const told = new Told();
  await told.begin([tag(1, 10), tag(2, 10)]);
  told.listener!.changed([sample(1, 5), sample(2, 6)]);
  told.subscribing.arrange([tag(2, 10), tag(3, 10)]);
  expect(told.followed).toEqual([2, 3]);
  told.now += 11_000;
  told.listener!.heard();
  expect(
    told
      .samples()
      .slice(2)
      .map(({ tag: id }) => id),
  ).toEqual([2]);
});

test('where silence tells nothing, such as of a broker that is heard without its meters, nothing is said again', async () => {
  for (const silenceTells of [true, false]) {
    const told = new Told();
    Object.assign(told.session, { silenceTells });
    await told.begin([tag(1, 10)]);
    told.listener!.changed([sample(1, 5)]);
    told.now += 11_000;
    told.listener!.heard();
    expect(told.samples()).toHaveLength(silenceTells ? 2 : 1);
  }
});
