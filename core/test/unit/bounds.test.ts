/** Simple and interpolated bounds where they decide: by hand, from the rules in docs/decisions.md and OPC 10000-13, from memory. */
import {
  DEFAULT_CONFIGURATION,
  SECOND,
  Status,
  computeAggregate,
  cutIntoBuckets,
  describeStatus,
  seriesOf,
  type AggregateConfiguration,
  type AggregateName,
} from '../../src/index.ts';

const { Good: G, Bad: B, Uncertain: U } = Status;
type Row = readonly [second: number, value: number, status: number];

/** Results over [from, to) seconds in steps: value, words of the status, and second of the result. */
function results(
  rows: readonly Row[],
  name: AggregateName,
  [from, to, step]: readonly [number, number, number],
  configuration: Partial<AggregateConfiguration> = {},
): [number, string, number][] {
  const series = seriesOf({
    times: Float64Array.from(rows, ([second]) => second * SECOND),
    values: Float64Array.from(rows, ([, value]) => value),
    status: Uint32Array.from(rows, ([, , status]) => status),
  });
  const buckets = cutIntoBuckets(from * SECOND, to * SECOND, { kind: 'fixed', micros: step * SECOND }, 'UTC');
  return computeAggregate(series, buckets, name, { ...DEFAULT_CONFIGURATION, stepped: false, ...configuration }).map(
    ({ time, value, status }) => [value, describeStatus(status), time / SECOND],
  );
}
const sub = 'Uncertain_DataSubNormal, Calculated';

describe('a bound that is derived as Uncertain is a bound, also where Uncertain values are Bad (D16)', () => {
  const rows: Row[] = [
    [0, 10, G],
    [10, 20, G],
    [60, 0, B],
    [80, 30, G],
  ];

  test('Total2 of a line that is held up to a Bad value: the parts add up to the whole', () => {
    const [whole] = results(rows, 'Total2', [0, 60, 60])[0]!;
    const parts = results(rows, 'Total2', [0, 60, 10]);
    expect(whole).toBe(1150);
    expect(parts.map(([value]) => value)).toEqual([150, 200, 200, 200, 200, 200]);
    expect(parts.slice(1).map(([, words]) => words)).toEqual([sub, sub, sub, sub, sub]);
  });

  test.each<[AggregateName, number]>([
    ['TimeAverage2', 20],
    ['Minimum2', 20],
    ['Maximum2', 20],
    ['Range2', 0],
  ])('%s of a part between the two is %d', (name, value) => {
    expect(results(rows, name, [20, 30, 10])[0]![0]).toBe(value);
  });

  test('a raw Uncertain value at the edge is Bad for DeltaBounds; taken as Good it only lowers the status', () => {
    const doubtful: Row[] = [
      [0, 10, U],
      [10, 20, G],
      [20, 30, G],
    ];
    expect(results(doubtful, 'DeltaBounds', [0, 10, 10])[0]).toEqual([NaN, 'Bad_NoData', 0]);
    expect(results(doubtful, 'DeltaBounds', [0, 10, 10], { treatUncertainAsBad: false })[0]).toEqual([10, sub, 0]);
  });
});

test.each<[AggregateName, number]>([
  ['TimeAverage', 20],
  ['Total', 200],
])('%s whose first values are Bad begins late and says so', (name, value) => {
  const rows: Row[] = [
    [0, 0, B],
    [10, 20, G],
    [30, 20, G],
  ];
  const [actual, words] = results(rows, name, [0, 20, 20])[0]!;
  expect(actual).toBe(value);
  expect(words).toContain('Partial');
});

test.each<[AggregateName, number]>([
  ['Minimum2', 5],
  ['Range2', 5],
])('%s whose extreme is an Uncertain value is Uncertain, whatever the percentages say (D17)', (name, value) => {
  const rows: Row[] = [
    [0, 10, G],
    [10, 5, U],
    [12, 10, G],
    [40, 10, G],
  ];
  const half = { treatUncertainAsBad: false, percentDataBad: 50, percentDataGood: 50 };
  expect(results(rows, name, [0, 40, 40], half)[0]).toEqual([value, sub, 0]);
  // And were it Good, so would the result be.
  const good = rows.map(([second, one]): Row => [second, one, G]);
  expect(results(good, name, [0, 40, 40], half)[0]).toEqual([value, 'Good, Calculated', 0]);
});

test('in reverse a raw value at the later edge is a raw bound', () => {
  const rows: Row[] = [
    [0, 1, G],
    [10, 2, G],
    [20, 3, G],
    [30, 4, G],
  ];
  expect(results(rows, 'StartBound', [20, 0, 10])).toEqual([
    [3, 'Good', 20],
    [2, 'Good', 10],
  ]);
});

test.each<AggregateName>(['MinimumActualTime2', 'MaximumActualTime2'])(
  '%s that is suppressed as Bad carries the start of its interval (D19)',
  (name) => {
    const rows: Row[] = [
      [0, 5, G],
      [4, 9, G],
      [10, 0, B],
      [20, 7, G],
      [30, 7, G],
    ];
    const [value, words, second] = results(rows, name, [0, 20, 20], { percentDataBad: 10 })[0]!;
    expect([value, words, second]).toEqual([NaN, expect.stringMatching(/^Bad/), 0]);
  },
);
