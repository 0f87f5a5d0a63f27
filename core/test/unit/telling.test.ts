/**
 * An edge node that tells, heard by the one that listens: what goes in comes out. Messages are read by a decoder of another
 * make, too (the package sparkplug-payload, of the Eclipse project that keeps the standard).
 */
import fc from 'fast-check';
import { get } from 'sparkplug-payload';
import {
  EdgeNode,
  REBIRTH,
  Status,
  TellingNode,
  parseSparkplugTopic,
  readSparkplug,
  type OfferedMetric,
  type OfferedSample,
} from '../../src/index.ts';

const METRICS: readonly OfferedMetric[] = [
  { number: 1, name: 'Flow', type: 'real', unit: 'm³/h' },
  { number: 2, name: 'Count', type: 'integer', unit: '' },
  { number: 3, name: 'Runs', type: 'boolean', unit: '' },
  { number: 4, name: 'Note', type: 'text', unit: '' },
  { number: 5, name: 'State', type: 'state', unit: '' },
];
const whole = fc.bigInt({ min: -(2n ** 63n), max: 2n ** 63n - 1n });
const valueFor: Readonly<Record<OfferedMetric['type'], fc.Arbitrary<number | string>>> = {
  real: fc.double({ noNaN: true }),
  integer: whole.map((value) => (Number.isSafeInteger(Number(value)) ? Number(value) : String(value))),
  boolean: fc.nat(1),
  text: fc.string(),
  state: fc.integer(),
};
const sample = fc.constantFrom(...METRICS).chain((metric) =>
  fc.record({
    metric: fc.constant(metric),
    millis: fc.nat(2_000_000_000_000),
    value: fc.option(valueFor[metric.type], { freq: 8 }),
    status: fc.constantFrom(Status.Good, Status.Bad, Status.UncertainLastUsableValue),
  }),
);
const told = (value: number | string | null): number | bigint | string | null =>
  typeof value === 'string' && /^-?\d+$/.test(value) ? BigInt(value) : value;
const AT = 1_795_800_000_000;

test('values, times and qualities come out as they went in, whatever their type, and no message is missing', () => {
  fc.assert(
    fc.property(fc.array(fc.array(sample, { minLength: 1, maxLength: 5 }), { maxLength: 6 }), (messages) => {
      const node = new TellingNode(7);
      const heard = new EdgeNode();
      heard.take('NBIRTH', '', readSparkplug(node.birth(METRICS, AT)), 0);
      for (const samples of messages) {
        const offered = samples.map(({ metric: { number }, millis, value, status }): OfferedSample => {
          return { number, micros: millis * 1000 + 999, value, status };
        });
        const { samples: out, again } = heard.take('NDATA', '', readSparkplug(node.data(offered, AT)), 0);
        expect(again).toBeNull();
        expect(out.map(({ metric, time }) => [metric, time])).toEqual(
          samples.map(({ metric, millis }) => [metric.name, millis * 1000]),
        );
        samples.forEach(({ metric, value, status }, i) => {
          if (value !== null) expect(out[i]!.value).toEqual(metric.type === 'text' ? value : told(value));
          if (value !== null) expect(out[i]!.status).toBe(status);
          // A value that is none is Bad for whoever listens, whatever it was called.
          else expect([out[i]!.value, out[i]!.status >>> 30]).toEqual([null, 2]);
        });
      }
    }),
  );
});

test('a birth says what was told last; what is older than that is history; another session is known by its number', () => {
  const node = new TellingNode(9);
  node.birth(METRICS, AT);
  node.data([{ number: 1, micros: 5_000_000, value: 1.5, status: Status.Good }], AT);
  const late = readSparkplug(node.data([{ number: 1, micros: 4_000_000, value: 9, status: Status.Good }], AT));
  expect(late.metrics[0]).toMatchObject({ historical: true, time: 4000, alias: '1' });
  const birth = readSparkplug(node.again(10).birth(METRICS, AT));
  expect(birth.seq).toBe(0);
  const flow = birth.metrics.find(({ name }) => name === 'Flow');
  expect(flow).toMatchObject({ value: 1.5, time: 5000, alias: '1', properties: { engUnit: 'm³/h' } });
  expect(birth.metrics.find(({ name }) => name === 'Note')).toMatchObject({ isNull: true });
  expect(birth.metrics.find(({ name }) => name === REBIRTH)).toMatchObject({ value: false });
  const death = readSparkplug(node.again(10).death(AT));
  expect([death.seq, death.metrics]).toMatchObject([null, [{ name: 'bdSeq', value: 10n }]]);
  const heard = new EdgeNode();
  heard.take('NBIRTH', '', birth, 0);
  heard.take('NDEATH', '', readSparkplug(node.death(AT)), 0);
  expect(heard.isAlive).toBe(true);
  heard.take('NDEATH', '', death, 0);
  expect(heard.isAlive).toBe(false);
});

test('the other make reads what was meant', () => {
  const { decodePayload } = get('spBv1.0')!;
  const node = new TellingNode(3);
  const birth = decodePayload(node.birth(METRICS, AT));
  expect(birth.metrics!.map(({ name, type }) => [name, type])).toEqual([
    ['bdSeq', 'Int64'],
    [REBIRTH, 'Boolean'],
    ['Flow', 'Double'],
    ['Count', 'Int64'],
    ['Runs', 'Boolean'],
    ['Note', 'String'],
    ['State', 'Int64'],
  ]);
  const data = decodePayload(
    node.data(
      [
        { number: 1, micros: 1_000_000, value: 0.1, status: Status.Good },
        { number: 2, micros: 1_000_000, value: '9007199254740993', status: Status.Bad },
        { number: 4, micros: 1_000_000, value: 'größe', status: Status.Good },
      ],
      AT,
    ),
  );
  expect(data.metrics!.map(({ value }) => String(value))).toEqual(['0.1', '9007199254740993', 'größe']);
  expect(Number(data.seq)).toBe(1);
  expect(parseSparkplugTopic('spBv1.0/G/NDATA/E')!.verb).toBe('NDATA');
});
