/** A source that is reached by two ways, over real sockets: changed over by itself, back again, and by hand. */
import type { ConfiguredSource, WatchSpan } from '@wide-ledger/contract';
import { Status, union } from '@wide-ledger/core';
import { setTimeout as wait } from 'node:timers/promises';
import { ModbusDevice, THORNMERE } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { SourceWatcher, kindOf } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { TestOutlet } from '../outlet.ts';
import { tagAt } from '../tags.ts';

const START = Date.now() / 1000;
/** Two devices with the same in them, which counts the seconds: a value tells when it was read. */
const point = THORNMERE.points[0]!;
const ports = [await freePort(), await freePort()] as const;
const devices = await Promise.all(
  ports.map(async (port) => new ModbusDevice(THORNMERE, '127.0.0.1', port, await freePort(), () => START)),
);
await Promise.all(devices.map((device) => device.start()));
afterAll(() => Promise.all(devices.map((device) => device.stop())));

const at = { area: point.area, address: point.address, type: point.register, order: point.order } as const;
const to = (port: number) => ({ host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: 1000 });
const source = (over: object = {}): ConfiguredSource => ({
  id: 1,
  name: 'Twice',
  kind: 'modbus-tcp',
  connection: to(ports[0]),
  standbyConnection: to(ports[1]),
  changeOverSeconds: 1,
  tags: [tagAt(1, at, { reading: { intervalMilliseconds: 100 } })],
  ...over,
});

function watch(of: ConfiguredSource) {
  const outlet = new TestOutlet();
  const watcher = new SourceWatcher(of, 1, kindOf(of)!, ALONE, outlet, null);
  watcher.open();
  const rows: { readonly tag: number; readonly time: number; readonly status: number }[] = [];
  const watches: WatchSpan[] = [];
  const gather = (): void => {
    watcher.report();
    const gathered = outlet.gathering.take();
    watches.push(...gathered.watches);
    for (const { tags, times, status } of gathered.frames)
      times.forEach((time, i) => rows.push({ tag: tags![i]!, time, status: status[i]! }));
  };
  const until = async (check: () => boolean): Promise<void> => {
    for (gather(); !check(); gather()) await wait(20);
  };
  return { watcher, rows, watches, gather, until };
}

test('the second way is taken when the first does not answer, and only the change-over is missing', async () => {
  const { watcher, rows, watches, gather, until } = watch(source());
  await until(() => rows.length > 5);
  expect([watcher.summary.way, watcher.summary.facts[0]]).toEqual([
    1,
    ['Way', `the first of 2: 127.0.0.1:${ports[0]}, unit 1`],
  ]);
  await devices[0]!.line.set({ kind: 'cut' });
  await until(() => watcher.summary.way === 2 && watcher.summary.state === 'watching');
  const before = rows.length;
  await until(() => rows.length > before + 5);
  watcher.stop('The test is over.');
  gather();
  await devices[0]!.line.set(null);
  expect(union(watches)).toHaveLength(2);
  // Each beat that was read is there once.
  const good = rows.filter(({ status }) => status === Status.Good).map(({ time }) => time);
  expect(new Set(good).size).toBe(good.length);
  // At the beginning of what is missing the tag is told to be so.
  const lost = union(watches)[0]!.to;
  expect(rows.some(({ time, status }) => time >= lost && status !== Status.Good)).toBe(true);
}, 60_000);

test('by hand it is changed over between two beats: nothing is missing, nothing is read twice, and tags lie where they lie there', async () => {
  const elsewhere = THORNMERE.points[1]!;
  const there = { area: elsewhere.area, address: elsewhere.address, type: elsewhere.register, order: elsewhere.order };
  const tag = tagAt(1, at, { reading: { intervalMilliseconds: 100, standbyAddress: there } });
  const { watcher, rows, watches, gather, until } = watch(source({ tags: [tag] }));
  await until(() => rows.length > 5);
  expect(await watcher.takeWay(2)).toBe(`Twice is read by way 2: 127.0.0.1:${ports[1]}, unit 1.`);
  const before = rows.length;
  await until(() => rows.length > before + 5);
  await expect(watcher.takeWay(3)).rejects.toThrow('There is no way 3 to Twice.');
  await devices[0]!.line.set({ kind: 'cut' });
  await expect(watcher.takeWay(1)).rejects.toThrow(/127\.0\.0\.1/);
  expect([watcher.summary.way, watcher.summary.state]).toEqual([2, 'watching']);
  await devices[0]!.line.set(null);
  watcher.stop('The test is over.');
  gather();
  expect(union(watches)).toHaveLength(1);
  const times = rows.filter(({ status }) => status === Status.Good).map(({ time }) => time);
  expect(new Set(times).size).toBe(times.length);
  const steps = times.slice(1).map((time, i) => (time - times[i]!) / 1000);
  expect(Math.min(...steps)).toBeGreaterThan(0);
}, 60_000);
