/** Units behind a gateway: which answer, one that is off, a slow one, a busy one; a register sheet, limits and pauses. */
import { Status } from '@wide-ledger/core';
import { setTimeout as wait } from 'node:timers/promises';
import { GATEWAY, GatewayDevice, SIGNALS_UNIT } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { SourceAway, SourceWatcher, kindOf, modbusTcp, type SourceOf, type TagOf } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { TestOutlet } from '../outlet.ts';
import { tagAt } from '../tags.ts';

let device: GatewayDevice;
let port: number;
beforeAll(async () => {
  port = await freePort();
  device = new GatewayDevice(GATEWAY, '127.0.0.1', port, await freePort());
  await device.start();
});
afterAll(() => device.stop());

type Connection = SourceOf<'modbus-tcp'>['connection'];
const source = (unit: number, over: Partial<Connection> = {}): SourceOf<'modbus-tcp'> => ({
  name: 'G',
  kind: 'modbus-tcp',
  connection: { host: '127.0.0.1', port, unit, timeoutMilliseconds: 20_000, ...over },
});
const floatAt = (id: number, address: number): TagOf<'modbus-tcp'> =>
  tagAt(id, { area: 'holding', address, type: 'float32', order: 'ABCD' });

test('the scan tells which units answer, and what the gateway says of the others', async () => {
  const { units } = await modbusTcp.units!(source(1), 1, 7);
  expect(units.map(({ unit, answers }) => [unit, answers])).toEqual([
    [1, true],
    [2, false],
    [3, true],
    [4, true],
    [SIGNALS_UNIT, true],
    [6, false],
    [7, false],
  ]);
  expect(units[1]!.sentence).toContain('the device behind it does not answer');
});

test('a unit that is off is a source that is away, and its path check says so', async () => {
  const session = await modbusTcp.open(source(2), ALONE);
  await expect(session.read([floatAt(1, 0)])).rejects.toThrow(SourceAway);
  session.close();
  const { rungs } = await modbusTcp.check(source(2), ALONE, () => undefined);
  expect(rungs.find(({ outcome }) => outcome === 'failed')).toMatchObject({ rung: 'answer', code: 'MODBUS_11' });
});

test('a busy unit is asked again, a slow one waited for; neither is taken apart', async () => {
  for (const unit of [3, 4]) {
    const session = await modbusTcp.open(source(unit), ALONE);
    for (let i = 0; i < 5; i++) {
      const samples = await session.read([floatAt(1, 0), floatAt(2, 2), floatAt(3, 4)]);
      expect(samples.map(({ status }) => status)).toEqual([Status.Good, Status.Good, Status.Good]);
    }
    session.close();
  }
});

test('tags that are read as fast as the source answers are read more often than at the shortest interval, the others at theirs', async () => {
  const every = (id: number, intervalMilliseconds: number) =>
    tagAt(id, { area: 'holding', address: 0, type: 'float32', order: 'ABCD' } as const, {
      reading: { intervalMilliseconds },
    });
  const outlet = new TestOutlet();
  const { gathering } = outlet;
  const configured = { ...source(SIGNALS_UNIT), id: 1, tags: [every(1, 0), every(2, 50), every(3, 1000)] };
  const watcher = new SourceWatcher(configured, 1, kindOf(configured)!, ALONE, outlet, null);
  watcher.open();
  const counts: Record<number, number> = { 1: 0, 2: 0, 3: 0 };
  while (counts[3]! < 3) {
    await wait(20);
    for (const { tags } of gathering.take().frames) for (const tag of tags!) counts[tag]!++;
  }
  expect(counts[1]).toBeGreaterThan(counts[2]!);
  expect(counts[2]).toBeGreaterThan(10);
  expect(watcher.summary.timing['as it answers']).toMatchObject({ missed: 0 });
  watcher.stop('The test is over.');
});

test('a limit on a request’s size makes several of one, with pauses between them where they are asked for', async () => {
  const tags = [floatAt(1, 0), floatAt(2, 2), floatAt(3, 4)];
  // The device counts whoever asks: nobody else may still be connected, and what was on its way has been counted.
  const quiet = async (): Promise<void> => {
    for (let counted = -1; device.state.connections > 0 || device.state.requests !== counted;) {
      counted = device.state.requests;
      await wait(50);
    }
  };
  const requestsFor = async (over: Partial<Connection>): Promise<number> => {
    await quiet();
    const session = await modbusTcp.open(source(1, over), ALONE);
    const before = device.state.requests;
    expect((await session.read(tags)).map(({ tag }) => tag)).toEqual([1, 2, 3]);
    session.close();
    return device.state.requests - before;
  };
  expect([
    await requestsFor({}),
    await requestsFor({ most: 2 }),
    await requestsFor({ most: 4, pauseMilliseconds: 5 }),
  ]).toEqual([1, 3, 2]);
  const apart = [floatAt(1, 0), floatAt(2, 4)];
  await quiet();
  const session = await modbusTcp.open(source(1, { gap: 0 }), ALONE);
  const before = device.state.requests;
  await session.read(apart);
  session.close();
  expect(device.state.requests - before).toBe(2);
});

test('a block of registers is read as it is; what the device refuses is said', async () => {
  device.setSignal(1, { shape: 'square', period: 1e9, amplitude: 0, offset: 12.5, renewMilliseconds: 1000 });
  // IEEE 754: 12.5 is 41480000.
  expect(await modbusTcp.registers!(source(SIGNALS_UNIT), { area: 'holding', start: 0, length: 2 })).toEqual({
    data: '41480000',
    refusal: null,
  });
  const refused = await modbusTcp.registers!(source(1), { area: 'coil', start: 9, length: 1 });
  expect([refused.data, refused.refusal]).toEqual([null, expect.stringContaining('illegal data address')]);
});
