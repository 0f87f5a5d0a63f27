/**
 * A subscription's coverage over real sockets: cut, silent, restored. What was kept lies in what was watched, and what was
 * not watched is an outage with its cause.
 * @jest-environment ./collector/test/oneRealm.mjs
 */
import type { ConfiguredSource, OutageSpan, WatchSpan } from '@wide-ledger/contract';
import { Status, isGood, union } from '@wide-ledger/core';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { KILNBANK, OpcUaDevice } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { SourceWatcher, kindOf } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { TestOutlet } from '../outlet.ts';
import { opcUaTo, tagAt } from '../tags.ts';

const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-watching-'));
let device: OpcUaDevice;
let port: number;
beforeAll(async () => {
  port = await freePort();
  device = new OpcUaDevice(KILNBANK, '127.0.0.1', port, await freePort(), { folder: join(folder, 'device') });
  await device.start();
}, 60_000);
afterAll(async () => {
  await device.stop();
  rmSync(folder, { recursive: true, force: true });
}, 60_000);

const source = (): ConfiguredSource => ({
  id: 1,
  name: 'Kilnbank',
  kind: 'opc-ua',
  connection: opcUaTo(port, { queueSize: 100 }),
  tags: [tagAt(1, { node: 'ns=1;s=Network.Flow', element: '' }, { reading: { intervalMilliseconds: 100 } })],
});

interface Row {
  readonly time: number;
  readonly status: number;
}

/** The watch over the source, and what came of it so far. */
function watch(of = source()) {
  const outlet = new TestOutlet();
  const { gathering } = outlet;
  const around = { ...ALONE, folder: join(folder, 'collector') };
  const watcher = new SourceWatcher(of, 1, kindOf(of)!, around, outlet, null);
  watcher.open();
  const samples: Row[] = [];
  const watches: WatchSpan[] = [];
  const outages = new Map<string, OutageSpan>();
  const gather = (): void => {
    watcher.report();
    const gathered = gathering.take();
    watches.push(...gathered.watches);
    for (const outage of gathered.outages) outages.set(`${outage.tag} ${outage.from}`, outage);
    for (const { times, status } of gathered.frames)
      times.forEach((time, i) => samples.push({ time, status: status[i]! }));
  };
  const until = async (check: () => boolean): Promise<void> => {
    for (gather(); !check(); gather()) await wait(50);
  };
  const good = (): Row[] => samples.filter(({ status }) => isGood(status));
  return { watcher, samples, watches, outages, gather, until, good };
}

test.each([
  ['cut', 'CLOSED'],
  ['stalled', 'SILENT'],
  ['deaf', 'SILENT'],
] as const)(
  'a line that is %s: watched until it was heard last, an outage with its cause, watched again',
  async (fault, code) => {
    const { watcher, samples, watches, outages, gather, until, good } = watch();
    await until(() => good().length > 10);
    await device.line.set({ kind: fault });
    await until(() => watcher.summary.state === 'away');
    expect(watcher.summary.code).toBe(code);
    await device.line.set(null);
    const before = good().length;
    await until(() => good().length > before + 10);
    watcher.stop('The test is over.');
    gather();

    const own = [...outages.values()].filter(({ to }) => to !== null);
    const outage = own.find(({ cause }) => cause === 'source')!;
    expect(outage.code === code || outage.code === 'ECONNREFUSED').toBe(true);
    // From the first watch to the last nothing is unsaid, and nothing said twice.
    const watched = union(watches);
    const said = union([...watched, ...own.map(({ from, to }) => ({ from, to: to! }))]);
    expect(said.some(({ from, to }) => from <= watched[0]!.from && to >= watched.at(-1)!.to)).toBe(true);
    expect(watched.every(({ from, to }) => to <= outage.from || from >= outage.to!)).toBe(true);
    // No value was kept of the time in which nobody could know one; at its start every tag got a Bad sample.
    const within = samples.filter(({ time }) => time > outage.from + 1000 && time < outage.to! - 1_000_000);
    expect(within.filter(({ status }) => isGood(status))).toEqual([]);
    expect(samples.some(({ time, status }) => Math.abs(time - outage.from) < 10_000 && status !== Status.Good)).toBe(
      true,
    );
  },
  90_000,
);

test('a line on which everything comes later, or lost and sent again: watched all the while, every value by its own time', async () => {
  const { watcher, samples, watches, outages, gather, until, good } = watch();
  await until(() => good().length > 10);
  for (const fault of [{ kind: 'slow', milliseconds: 400 } as const, { kind: 'lossy', percent: 10 } as const]) {
    await device.line.set(fault);
    const before = good().length;
    await until(() => good().length > before + 30);
  }
  await device.line.set(null);
  const before = good().length;
  await until(() => good().length > before + 10);
  watcher.stop('The test is over.');
  gather();
  // But for the end of the test itself.
  expect([...outages.values()].filter(({ to }) => to !== null)).toEqual([]);
  expect(union(watches)).toHaveLength(1);
  // The source samples every 100 ms: none was left out, however late it came.
  const times = samples.filter(({ status }) => isGood(status)).map(({ time }) => time);
  const steps = times.slice(1).map((time, i) => (time - times[i]!) / 1000);
  expect(Math.min(...steps)).toBeGreaterThan(0);
  expect(Math.max(...steps)).toBeLessThan(5000);
}, 90_000);

test('a line that stands still until the server’s queue overflows: what was dropped is not covered, and nothing else is missing', async () => {
  const of = { ...source(), connection: opcUaTo(port, { queueSize: 10 }) } as ConfiguredSource;
  const { watcher, samples, outages, gather, until, good } = watch(of);
  await until(() => good().length > 10);
  await device.line.set({ kind: 'stalled' });
  const stalledAt = Date.now();
  await until(() => Date.now() - stalledAt > 3500);
  await device.line.set(null);
  await until(() => [...outages.values()].some(({ code }) => code === 'OVERFLOW'));
  const before = good().length;
  await until(() => good().length > before + 10);
  watcher.stop('The test is over.');
  gather();
  const gaps = [...outages.values()].filter(({ to }) => to !== null);
  expect(gaps.every(({ code, tag }) => code === 'OVERFLOW' && tag === 1)).toBe(true);
  const inOrder = samples.toSorted((a, b) => a.time - b.time);
  const steps = good().flatMap(({ time }, i, all) => (i > 0 ? [{ from: all[i - 1]!.time, to: time }] : []));
  // The source samples every 100 ms: a longer step is a stretch that is said not to be covered, from value to value.
  const long = steps.filter(({ from, to }) => to - from > 500_000);
  expect(long.length).toBeGreaterThan(0);
  for (const { from, to } of long) {
    expect(gaps.some((gap) => gap.from === from && gap.to === to)).toBe(true);
    // And nobody takes the value before it for what was meanwhile.
    expect(inOrder.find(({ time }) => time > from)).toEqual({ time: from + 1, status: Status.BadDataLost });
  }
}, 90_000);

test('a source whose clock jumps while it is watched: stamped by it, the difference is told, and what is dated ahead counts as nothing that is known of now', async () => {
  const { watcher, samples, watches, outages, gather, until, good } = watch();
  await until(() => good().length > 5);
  device.setClock(40);
  // How the two clocks stand is looked at every ten seconds.
  await until(() => Math.abs((watcher.summary.clockSkewMilliseconds ?? 0) - 40_000) < 500);
  const ahead = samples.filter(({ time }) => time / 1000 - Date.now() > 20_000);
  expect(ahead.length).toBeGreaterThan(5);
  device.setClock(0);
  await until(() => Math.abs(watcher.summary.clockSkewMilliseconds ?? 40_000) < 500);
  watcher.stop('The test is over.');
  gather();
  expect([...outages.values()].filter(({ to }) => to !== null)).toMatchObject([{ tag: 1, code: 'CLOCK_JUMP' }]);
  expect(ahead.every(({ status }) => status === Status.Uncertain)).toBe(true);
  expect(union(watches)).toHaveLength(1);
}, 90_000);

test('when a server of a redundant set is gone, the other one of it is read that it had told of, and the gap is the change-over', async () => {
  const [first, second] = [await freePort(), await freePort()];
  const at = (own: number): string => `opc.tcp://127.0.0.1:${own}`;
  const set = [
    { uri: 'urn:set:a', endpoint: at(first) },
    { uri: 'urn:set:b', endpoint: at(second) },
  ];
  const one = async (own: number, uri: string): Promise<OpcUaDevice> => {
    const made = new OpcUaDevice(KILNBANK, '127.0.0.1', own, await freePort(), {
      folder: join(folder, String(own)),
      uri,
      set,
    });
    await made.start();
    return made;
  };
  const [a, b] = [await one(first, 'urn:set:a'), await one(second, 'urn:set:b')];
  const of = { ...source(), connection: opcUaTo(first, { queueSize: 100 }), changeOverSeconds: 1 } as ConfiguredSource;
  const { watcher, watches, gather, until, good } = watch(of);
  const waysTold = (): string => watcher.summary.facts.find(([name]) => name === 'Way')?.[1] ?? '';
  await until(() => good().length > 5 && waysTold() === `the first of 2: ${at(first)}`);
  await a.stop();
  await until(() => waysTold() === `the second of 2: ${at(second)}` && watcher.summary.state === 'watching');
  const before = good().length;
  await until(() => good().length > before + 5);
  expect(watcher.summary.way).toBe(2);
  watcher.stop('The test is over.');
  gather();
  const [gap, ...others] = union(watches)
    .slice(1)
    .map(({ from }, i) => from - union(watches)[i]!.to);
  expect(others).toEqual([]);
  expect(gap).toBeGreaterThan(0);
  await b.stop();
}, 90_000);
