/**
 * Two collectors on one source: killed, frozen and stopped in turn, nothing of the plant is missing and nothing of it is
 * told twice. Real processes; what the plant really produced is known by its formulas.
 */
import type { GapsAnswer, RawAnswer, Source } from '@wide-ledger/contract';
import { SECOND, formatInstant } from '@wide-ledger/core';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { ModbusDevice, THORNMERE, archivedAt, tagOf } from '../../bench/src/index.ts';
import { ROOT, freePort } from '../../launch/ground.mjs';
import { startProgram, type Program } from '../../launch/processes.mjs';
import { TestSite } from '../../server/test/integration/testSite.ts';

const NAMES = ['first', 'second'] as const;
type Name = (typeof NAMES)[number];
const other = (name: Name): Name => (name === 'first' ? 'second' : 'first');
const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-standby-'));
const INTERVAL = SECOND;

let site: TestSite;
const devices: ModbusDevice[] = [];
const keys = {} as Record<Name, string>;
const running = new Map<Name, Program>();

async function until(what: string, check: () => Promise<boolean>): Promise<void> {
  for (const end = performance.now() + 90_000; performance.now() < end; await wait(100)) if (await check()) return;
  throw new Error(`Waited in vain until ${what}.`);
}

function start(name: Name): void {
  const program = startProgram(join(ROOT, 'collector/dist/main.mjs'), {
    WIDE_LEDGER_SERVER: site.site.url,
    WIDE_LEDGER_KEY: keys[name],
    WIDE_LEDGER_COLLECTOR: name,
    WIDE_LEDGER_COLLECTOR_DATA: join(folder, name),
    WIDE_LEDGER_LOG: 'silent',
  });
  running.set(name, program);
}

async function kill(name: Name): Promise<void> {
  const program = running.get(name)!;
  program.child.kill('SIGKILL');
  await program.ended;
}

const readers = async (): Promise<Source['readers']> =>
  (await site.call<{ sources: Source[] }>('GET', '/sources')).body.sources[0]!.readers;

/**
 * Both watch, and exactly one of them records: on a machine that stood still for longer than a turn lasts, either may.
 * That nobody takes a turn back who still could is told in the collector's own tests of turns. @returns which.
 */
async function bothWatch(): Promise<Name> {
  let holder: string | undefined;
  await until('both watch', async () => {
    const all = await readers();
    const holders = all.filter(({ holds }) => holds);
    holder = holders[0]?.collector;
    return all.filter(({ present, state }) => present && state === 'watching').length === 2 && holders.length === 1;
  });
  // One that has just begun has no beat yet to go on from.
  await wait((2 * INTERVAL) / 1000);
  return holder as Name;
}

const recordedBy = (name: Name): Promise<void> =>
  until(`${name} records`, async () =>
    (await readers()).some((one) => one.collector === name && one.holds && one.present),
  );

/** Nothing of the plant is missing from one moment to another: each beat has its value, as the plant had it, and no gap is told. */
async function expectWhole(from: number, to: number): Promise<void> {
  const window = `from=${formatInstant(from)}&to=${formatInstant(to)}`;
  for (const point of POINTS) {
    const { body } = await site.call<RawAnswer>('GET', `/history/raw?tag=${point.tag}&${window}&limit=10000`);
    const times = body.samples.map(({ time }) => Date.parse(time) * 1000);
    const beats = Array.from({ length: Math.ceil((to - from) / INTERVAL) }, (_, i) => from + i * INTERVAL);
    // Where a collector takes over it says once what it knows, a moment after the last beat of the other.
    const beside = body.samples.filter(({ time }) => !beats.includes(Math.round(Date.parse(time) * 1000)));
    expect(beats.filter((beat) => !times.includes(beat))).toEqual([]);
    expect(beside.length).toBeLessThan(3);
    expect(body.samples.filter(({ quality }) => quality !== 'Good')).toEqual([]);
    const far = (point.high! - point.low!) * MOVED;
    const wrong = body.samples.filter(
      ({ time, value }) => Math.abs(Number(value) - archivedAt(point, Date.parse(time) / 1000)) > far,
    );
    expect(wrong).toEqual([]);
  }
  const { body } = await site.call<GapsAnswer>('GET', `/gaps?${window}`);
  expect(body.gaps).toEqual([]);
}

const POINTS = THORNMERE.points.slice(0, 3);
/** The standby reads a copy of the plant, in which everything has another address. */
const ELSEWHERE = 400;
interface Collected {
  readonly collection: { readonly address: object };
}
/** By so much of its range a value may differ from the plant's at its beat: it is read a moment later. */
const MOVED = 0.05;
const beatAfter = (milliseconds: number): number => Math.ceil((milliseconds * 1000) / INTERVAL) * INTERVAL;

beforeAll(async () => {
  site = await TestSite.open();
  const connection = { host: '127.0.0.1', port: await freePort(), unit: 1 };
  const standbyConnection = { ...connection, port: await freePort() };
  const elsewhere = POINTS.map((point) => ({ ...point, address: point.address + ELSEWHERE }));
  devices.push(
    new ModbusDevice(THORNMERE, '127.0.0.1', connection.port, await freePort()),
    new ModbusDevice({ ...THORNMERE, points: elsewhere }, '127.0.0.1', standbyConnection.port, await freePort()),
  );
  for (const device of devices) await device.start();
  const put = await site.call('PUT', '/sources', {
    name: 'Plant',
    kind: 'modbus-tcp',
    connection,
    collector: 'first',
    standby: 'second',
    standbyConnection,
  });
  expect(put.status).toBe(200);
  // Every beat is kept, so that every beat can be looked for.
  const since = formatInstant(Date.now() * 1000);
  const tags = POINTS.map(({ deadband: _deadband, ...point }, i) => {
    const tag = tagOf({ ...point, intervalMilliseconds: INTERVAL / 1000 }, since, 'Plant') as Collected;
    const standbyAddress = { ...tag.collection.address, address: elsewhere[i]!.address };
    return { ...tag, collection: { ...tag.collection, standbyAddress } };
  });
  const made = await site.call('POST', '/tags', tags);
  expect(made.status).toBe(201);
  for (const name of NAMES) {
    const key = await site.call<{ key: string }>('POST', '/keys', { name, scopes: ['collect'], collector: name });
    keys[name] = key.body.key;
    start(name);
  }
}, 120_000);

afterAll(async () => {
  for (const program of running.values()) program.child.kill('SIGKILL');
  for (const device of devices) await device.stop();
  await site.close();
  rmSync(folder, { recursive: true, force: true });
});

test('whoever records is killed, frozen, stopped: the other goes on without a hole', async () => {
  const killed = await bothWatch();
  const from = beatAfter(Date.now());

  await kill(killed);
  await recordedBy(other(killed));
  start(killed);

  const frozen = await bothWatch();
  running.get(frozen)!.child.kill('SIGSTOP');
  await recordedBy(other(frozen));
  await wait(2000);
  running.get(frozen)!.child.kill('SIGCONT');

  const stopped = await bothWatch();
  await running.get(stopped)!.stop();
  await recordedBy(other(stopped));
  await wait(2000);
  const to = beatAfter(Date.now()) - 2 * SECOND;
  await until('all is delivered', async () => {
    const window = `from=${formatInstant(to - 2 * INTERVAL)}&to=${formatInstant(to)}`;
    const { body } = await site.call<RawAnswer>('GET', `/history/raw?tag=${POINTS[0]!.tag}&${window}`);
    return body.samples.length >= 2;
  });
  await expectWhole(from, to);
  start(stopped);
  await bothWatch();
}, 240_000);

test('where both are gone, that is told, with a mark in the data', async () => {
  await bothWatch();
  await Promise.all(NAMES.map(kill));
  const gone = Date.now() * 1000;
  await wait(3000);
  const back = Date.now() * 1000;
  start('second');
  await until('it is told', async () => {
    const window = `from=${formatInstant(gone - 20 * SECOND)}&to=now`;
    const { body } = await site.call<GapsAnswer>('GET', `/gaps?${window}`);
    return body.gaps.some(({ from, to }) => Date.parse(from) * 1000 <= gone && Date.parse(to) * 1000 >= back);
  });
  // Before anybody says so it is a gap already: nobody was there.
  await until('the last value is not held for one of the gap', async () => {
    // The last beat before they were gone lies in it, however late that was noticed.
    const window = `from=${formatInstant(gone - 5 * SECOND)}&to=${formatInstant(back)}`;
    const { body } = await site.call<RawAnswer>('GET', `/history/raw?tag=${POINTS[0]!.tag}&${window}`);
    return body.samples.at(-1)?.value === null;
  });
}, 180_000);
