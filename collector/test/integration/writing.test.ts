/**
 * Writing over real sockets through the watch over a source in force: only over what was seen, read back, and said when
 * it is not known.
 * @jest-environment ./collector/test/oneRealm.mjs
 */
import type { ConfiguredSource, ConfiguredTag, Written } from '@wide-ledger/contract';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { KILNBANK, ModbusDevice, OpcUaDevice, THORNMERE, nodeIdOf, type Variable } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { SourceWatcher, kindOf } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { TestOutlet } from '../outlet.ts';
import { opcUaTo, tagAt } from '../tags.ts';

const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-writing-'));
let meter: ModbusDevice;
let controller: OpcUaDevice;
const watchers: SourceWatcher[] = [];
let modbus: SourceWatcher;
let opcUa: SourceWatcher;

const point = (name: string) => THORNMERE.points.find(({ tag }) => tag === name)!;
function modbusTag(id: number, name: string): ConfiguredTag {
  const { area, address, register, order, scaling, type, low, high } = point(name);
  const place = { area, address, type: register, order };
  return tagAt(id, place, { type, low, high, reading: { intervalMilliseconds: 100, ...(scaling ? { scaling } : {}) } });
}
const variable = (name: string): Variable => KILNBANK.variables.find((one) => one.name === name)!;

function watch(source: ConfiguredSource): SourceWatcher {
  const around = { ...ALONE, folder: join(folder, 'collector') };
  const watcher = new SourceWatcher(source, 1, kindOf(source)!, around, new TestOutlet(), null);
  watcher.open();
  watchers.push(watcher);
  return watcher;
}

const watching = async (watcher: SourceWatcher): Promise<void> => {
  while (watcher.summary.state !== 'watching') await wait(20);
};

/** What is measured may move between the two questions, and then nothing is tried: it is asked again. */
async function writeOverWhatMoves({ values }: SourceWatcher, tag: number, value: number): Promise<Written> {
  for (;;) {
    const written = await values.writeOver(tag, value, (await values.holds(tag)).value);
    if (written.outcome !== 'changed meanwhile') return written;
  }
}

beforeAll(async () => {
  const [port, inner, other, otherInner] = [await freePort(), await freePort(), await freePort(), await freePort()];
  meter = new ModbusDevice(THORNMERE, '127.0.0.1', port, inner);
  controller = new OpcUaDevice(KILNBANK, '127.0.0.1', other, otherInner, { folder });
  await meter.start();
  await controller.start();
  modbus = watch({
    id: 1,
    name: 'Thornmere',
    kind: 'modbus-tcp',
    connection: { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: 2000 },
    tags: [modbusTag(1, 'TW-PC-410'), modbusTag(2, 'TW-HS-411'), modbusTag(3, 'TW-PT-402')],
  });
  opcUa = watch({
    id: 2,
    name: 'Kilnbank',
    kind: 'opc-ua',
    connection: opcUaTo(other, { timeoutMilliseconds: 1000 }),
    tags: [
      tagAt(1, { node: nodeIdOf(variable('SupplySetPoint')), element: '' }),
      tagAt(2, { node: nodeIdOf(variable('Supply')), element: '' }),
    ],
  });
  await watching(modbus);
  await watching(opcUa);
}, 120_000);
afterAll(async () => {
  for (const watcher of watchers) watcher.stop('The test is over.');
  await meter.stop();
  await controller.stop();
  rmSync(folder, { recursive: true, force: true });
}, 60_000);

describe.each([
  ['a register', () => modbus, 48, 41.25],
  ['a node', () => opcUa, 88, 91.5],
] as const)('a set point in %s', (_where, watcher, first, wanted) => {
  test('is written while it holds what was seen, and read back', async () => {
    expect(await watcher().values.holds(1)).toEqual({ value: first, status: 0, quality: 'Good' });
    expect(await watcher().values.writeOver(1, wanted, first)).toEqual({
      outcome: 'written',
      sentence: '',
      before: { value: first, status: 0, quality: 'Good' },
      after: { value: wanted, status: 0, quality: 'Good' },
    });
  });

  test('is left as it is where somebody else changed it since it was shown', async () => {
    const { outcome, sentence, after } = await watcher().values.writeOver(1, 50, first);
    expect([outcome, after]).toEqual(['changed meanwhile', null]);
    expect(sentence).toBe(`It holds ${wanted} by now, not ${first}: nothing was written.`);
    expect((await watcher().values.holds(1)).value).toBe(wanted);
  });

  test('is not written twice by two who saw the same', async () => {
    const both = await Promise.all([
      watcher().values.writeOver(1, 44, wanted),
      watcher().values.writeOver(1, 45, wanted),
    ]);
    expect(both.map(({ outcome }) => outcome)).toEqual(['written', 'changed meanwhile']);
    expect((await watcher().values.holds(1)).value).toBe(44);
  });
});

test('a coil is switched, and what is measured is refused with the device’s reason', async () => {
  expect((await modbus.values.writeOver(2, 0, 1)).after?.value).toBe(0);
  expect(await writeOverWhatMoves(modbus, 3, 30)).toMatchObject({
    outcome: 'refused',
    sentence: expect.stringContaining('The device did not take it.'),
  });
  const { value } = await opcUa.values.holds(2);
  const refused = await opcUa.values.writeOver(2, 80, value);
  // It moves with nearly every question: then nothing was tried.
  expect(['refused', 'changed meanwhile']).toContain(refused.outcome);
});

test('what a register cannot hold exactly becomes the nearest that it can', async () => {
  const { value } = await modbus.values.holds(1);
  expect(await modbus.values.writeOver(1, 33.333, value)).toMatchObject({
    outcome: 'written',
    after: { value: 33.33 },
  });
});

test('where no answer comes back it is said that nobody knows; a source that is away is not written to', async () => {
  const { value } = await modbus.values.holds(1);
  // The reading before it gets through; the answer to the writing does not.
  const writing = modbus.values.writeOver(1, 30, value);
  await meter.line.set({ kind: 'deaf' });
  const came = await writing.catch((error: Error) => error.message);
  if (typeof came === 'object') expect(['not known', 'written']).toContain(came.outcome);
  else expect(came).toMatch(/answer/);
  while (modbus.summary.state === 'watching') await wait(20);
  await expect(modbus.values.writeOver(1, 31, value)).rejects.toThrow(/^Thornmere is away: /);
  await meter.line.set(null);
  await watching(modbus);
  expect([30, value]).toContain((await modbus.values.holds(1)).value);
}, 60_000);
