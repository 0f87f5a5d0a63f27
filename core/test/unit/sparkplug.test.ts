/**
 * Edge nodes as their messages tell of them: births, aliases, sequence, deaths, and what numbers on the wire stand for.
 * The rules are those of Eclipse Sparkplug 3.0.0, from memory.
 */
import fc from 'fast-check';
import {
  EdgeNode,
  Status,
  commandTopic,
  metricStatus,
  metricValue,
  parseSparkplugTopic,
  type WireMessage,
  type WireMetric,
} from '../../src/index.ts';

const metric = (over: Partial<WireMetric>): WireMetric => ({
  name: '',
  alias: null,
  time: null,
  type: null,
  historical: false,
  isNull: false,
  value: null,
  properties: {},
  ...over,
});
const message = (seq: number | null, ...metrics: Partial<WireMetric>[]): WireMessage => ({
  time: 1000,
  seq,
  metrics: metrics.map(metric),
});
const INT32 = 3;
const DOUBLE = 10;
const SESSION = { name: 'bdSeq', type: 8, value: 4n };
const AT = 5_000_000;

/** An edge node with a metric of its own, alias 1, and a device with one, alias 2. */
function born(): EdgeNode {
  const node = new EdgeNode();
  node.take('NBIRTH', '', message(0, SESSION, { name: 'Load', alias: '1', type: DOUBLE, value: 0.5 }), AT);
  node.take('DBIRTH', 'Pump', message(1, { name: 'Speed', alias: '2', type: INT32, value: 1450 }), AT);
  return node;
}

test('topics: an edge node, or a device of it; nothing else', () => {
  expect(parseSparkplugTopic('spBv1.0/G/NBIRTH/E')).toEqual({ verb: 'NBIRTH', edge: 'G/E', device: '' });
  expect(parseSparkplugTopic('spBv1.0/G/DDATA/E/D')).toEqual({ verb: 'DDATA', edge: 'G/E', device: 'D' });
  for (const other of [
    'spBv1.0/G/NCMD/E',
    'spBv1.0/STATE/host',
    'spBv1.0/G/DDATA/E',
    'spBv1.0/G/NDATA/E/D',
    'spBv1.0/G/DDATA/E/D/more',
    'spAv1.0/G/NDATA/E',
    'spBv1.0//NDATA/E',
  ])
    expect(parseSparkplugTopic(other)).toBeUndefined();
  expect(commandTopic('G/E')).toBe('spBv1.0/G/NCMD/E');
});

test('whole numbers have the sign that their type says, and are exact', () => {
  const read = (type: number, value: number | bigint) => metricValue({ value }, type);
  expect(read(1, 0xff)).toBe(-1);
  // Some encoders write what is negative in all 32 bits.
  expect(read(1, 0xffffffff)).toBe(-1);
  expect(read(2, 0x8000)).toBe(-32768);
  expect(read(INT32, 0xffffffff)).toBe(-1);
  expect(read(7, 0xffffffffn)).toBe(4294967295);
  expect(read(4, 2n ** 64n - 1n)).toBe(-1);
  expect(read(8, 2n ** 64n - 1n)).toBe(2n ** 64n - 1n);
  expect(metricValue({ value: true }, 11)).toBe(1);
  expect(metricValue({ value: 'x' }, 12)).toBe('x');
  expect(metricValue({ value: 'x' }, DOUBLE)).toBeUndefined();
  expect(metricValue({ value: 1 }, 16)).toBeUndefined();
});

test('a birth tells what there is; data name it by its alias', () => {
  const node = born();
  const { samples, again } = node.take(
    'DDATA',
    'Pump',
    message(2, { alias: '2', value: 1451, time: 2000 }, { alias: '2', isNull: true }),
    AT,
  );
  expect(again).toBeNull();
  expect(samples).toEqual([
    { device: 'Pump', metric: 'Speed', value: 1451, status: Status.Good, time: 2_000_000, trouble: null },
    { device: 'Pump', metric: 'Speed', value: null, status: Status.BadNoData, time: 1_000_000, trouble: null },
  ]);
});

test('law: in order nothing is asked again; any message that is missing is noticed', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 600 }), fc.integer({ min: 0, max: 700 }), (messages, lost) => {
      const node = born();
      const asked: number[] = [];
      for (let n = 0; n < messages; n++) {
        if (n === lost) continue;
        const { again } = node.take('NDATA', '', message((2 + n) % 256, { alias: '1', value: n }), AT);
        if (again !== null) asked.push(n);
      }
      expect(asked).toEqual(lost < messages - 1 ? [lost + 1] : []);
    }),
  );
});

test('what was not born is asked for: an edge node, a device, a metric', () => {
  const node = new EdgeNode();
  expect(node.take('NDATA', '', message(7, { alias: '1', value: 1 }), AT).again).toBe('values came before a birth');
  expect(node.take('DBIRTH', 'Pump', message(8), AT).again).toBe('a device was born before its edge node');
  const other = born();
  expect(other.take('DDATA', 'Fan', message(2), AT).again).toBe('Fan was not born');
  const { samples, again } = born().take(
    'NDATA',
    '',
    message(2, { alias: '9', value: 1 }, { alias: '1', value: 2 }),
    AT,
  );
  expect(again).toBe('a value came of alias 9, which was not born');
  expect(samples).toMatchObject([{ metric: 'Load', value: 2 }]);
});

test('a death leaves the last values, which nobody vouches for; one of a session before is none', () => {
  const node = born();
  expect(node.take('NDEATH', '', message(null, { ...SESSION, value: 3n }), AT).samples).toEqual([]);
  expect(node.isAlive).toBe(true);
  const { samples } = node.take('NDEATH', '', message(null, SESSION), AT);
  expect(samples.filter(({ metric: name }) => name !== 'bdSeq')).toEqual([
    { device: '', metric: 'Load', value: 0.5, status: Status.UncertainLastUsableValue, time: AT, trouble: null },
    { device: 'Pump', metric: 'Speed', value: 1450, status: Status.UncertainLastUsableValue, time: AT, trouble: null },
  ]);
  expect(node.take('NDATA', '', message(2, { alias: '1', value: 1 }), AT).again).toBe('values came before a birth');
});

test('a device dies alone, and may be born again', () => {
  const node = born();
  const { samples } = node.take('DDEATH', 'Pump', message(2), AT);
  expect(samples).toMatchObject([{ metric: 'Speed', status: Status.UncertainLastUsableValue, time: 1_000_000 }]);
  expect(node.take('DDATA', 'Pump', message(3, { alias: '2', value: 1 }), AT).again).toBe('Pump was not born');
  expect(
    node.take('DBIRTH', 'Pump', message(4, { name: 'Speed', alias: '2', type: INT32, value: 7 }), AT).samples,
  ).toMatchObject([{ metric: 'Speed', value: 7, status: Status.Good }]);
});

test('values of the past are told with their times, and are no news of the present', () => {
  const node = born();
  const old = { alias: '1', value: 9, time: 1, historical: true };
  expect(node.take('NDATA', '', message(2, old), AT).samples).toMatchObject([{ value: 9, time: 1000 }]);
  expect([...node.all].find(({ name }) => name === 'Load')!.value).toBe(0.5);
});

test('a quality that comes with a value is its own; what no tag can keep is told', () => {
  expect([metricStatus(192), metricStatus(0), metricStatus(500), metricStatus(undefined)]).toEqual([
    Status.Good,
    Status.Bad,
    Status.UncertainLastUsableValue,
    Status.Good,
  ]);
  const node = born();
  const stale = message(2, { alias: '1', value: 1, properties: { Quality: 500 } });
  expect(node.take('NDATA', '', stale, AT).samples).toMatchObject([{ status: Status.UncertainLastUsableValue }]);
  expect(node.take('NDATA', '', message(3, { alias: '1', value: 2 }), AT).samples).toMatchObject([
    { status: Status.Good },
  ]);
  const table = message(4, { name: 'Load', type: 16, value: null });
  expect(node.take('NDATA', '', table, AT).samples).toMatchObject([
    { value: null, trouble: 'Load holds a type that no tag can keep.' },
  ]);
});
