/** The engine against the slow second implementation, on random data with Bad and Uncertain stretches. */
import fc from 'fast-check';
import {
  AGGREGATE_NAMES,
  AggregateCalculation,
  PackedRuns,
  SECOND,
  Status,
  computeAggregates,
  cutIntoBuckets,
  endOfRun,
  packRun,
  resultsIn,
  seriesOf,
  summariseRun,
  type AggregateConfiguration,
  type AggregateResult,
  type Columns,
} from '../../src/index.ts';
import { Slow, type Quality, type Row, type Sample } from '../reference/slow.ts';

const CODES: Record<Quality, number> = { good: Status.Good, uncertain: Status.Uncertain, bad: Status.Bad };

/** Stretches of one quality, as an instrument has them, rather than a coin thrown for each sample. */
const stretches = fc.array(
  fc.record({
    quality: fc.constantFrom<Quality>('good', 'good', 'uncertain', 'bad'),
    samples: fc.array(fc.record({ step: fc.integer({ min: 1, max: 9 }), value: fc.integer({ min: -3, max: 6 }) }), {
      minLength: 1,
      maxLength: 6,
    }),
  }),
  { minLength: 1, maxLength: 6 },
);

const samplesOf = (given: readonly { quality: Quality; samples: { step: number; value: number }[] }[]): Sample[] => {
  let time = 0;
  return given.flatMap(({ quality, samples }) =>
    samples.map(({ step, value }) => ({ time: (time += step), value, quality })),
  );
};

const columnsOf = (samples: readonly Sample[]): Columns => ({
  times: Float64Array.from(samples, ({ time }) => time * SECOND),
  values: Float64Array.from(samples, ({ value }) => value),
  status: Uint32Array.from(samples, ({ quality }) => CODES[quality]),
});

const configurations: fc.Arbitrary<AggregateConfiguration> = fc.record({
  treatUncertainAsBad: fc.boolean(),
  percentDataBad: fc.constantFrom(100, 50, 80),
  percentDataGood: fc.constantFrom(100, 50),
  useSlopedExtrapolation: fc.boolean(),
  stepped: fc.boolean(),
});

const request = fc.record({
  given: stretches,
  configuration: configurations,
  from: fc.integer({ min: -5, max: 90 }),
  length: fc.integer({ min: 1, max: 90 }),
  reverse: fc.boolean(),
  interval: fc.integer({ min: 0, max: 25 }),
  watched: fc.option(fc.integer({ min: 0, max: 150 }), { nil: -Infinity }),
});

function shown({ time, value, status }: AggregateResult, name: string): Row {
  const quality = name.startsWith('WorstQuality') && !Number.isNaN(value) ? value >>> 30 : value;
  if (status === Status.BadNoData) return { time: time / SECOND, value: NaN, status: 'BND' };
  const base = ['Good', status >>> 16 === 0x4000 ? 'Uncertain' : 'USub', 'Bad'][status >>> 30]!;
  const bits =
    base === 'Bad' ? [] : [['R', 'C', 'I'][status & 3]!, ...(status & 4 ? ['P'] : []), ...(status & 16 ? ['M'] : [])];
  return { time: time / SECOND, value: quality, status: [base, ...bits].join(',') };
}

test.each(AGGREGATE_NAMES)('%s agrees, forward and reverse, stepped and sloped', (name) => {
  let compared = 0;
  fc.assert(
    fc.property(request, ({ given, configuration, from, length, reverse, interval, watched }) => {
      const samples = samplesOf(given);
      const [start, end] = reverse ? [from + length, from] : [from, from + length];
      const buckets = cutIntoBuckets(start * SECOND, end * SECOND, { kind: 'fixed', micros: interval * SECOND }, 'UTC');
      const slow = new Slow(samples, configuration, watched);
      const series = seriesOf(columnsOf(samples), watched * SECOND);
      const [results] = computeAggregates(series, buckets, [name], configuration);
      buckets.forEach(({ begin, finish, truncated }, i) => {
        const expected = slow.row(name, { begin: begin / SECOND, finish: finish / SECOND, truncated });
        if (!expected) return;
        compared++;
        const actual = shown(results![i]!, name);
        expect({ ...actual, value: 0 }).toEqual({ ...expected, value: 0 });
        if (Number.isNaN(expected.value)) expect(actual.value).toBeNaN();
        else expect(actual.value).toBeCloseTo(expected.value, 9);
      });
    }),
    { numRuns: 80 },
  );
  expect(compared).toBeGreaterThan(150);
});

test('however samples are cut into frames and summaries, every figure is the same to the last bit', () => {
  let whole = 0;
  fc.assert(
    fc.property(
      request,
      fc.array(fc.integer({ min: 1, max: 7 }), { minLength: 40, maxLength: 40 }),
      ({ given, configuration, from, length, reverse, interval }, cuts) => {
        const columns = columnsOf(samplesOf(given).map((one) => ({ ...one, value: one.value / 7 })));
        const [start, end] = reverse ? [from + length, from] : [from, from + length];
        const buckets = cutIntoBuckets(
          start * SECOND,
          end * SECOND,
          { kind: 'fixed', micros: interval * SECOND },
          'UTC',
        );
        const expected = computeAggregates(seriesOf(columns), buckets, AGGREGATE_NAMES, configuration);
        const pass = new AggregateCalculation(buckets, AGGREGATE_NAMES, configuration);
        for (let at = 0, k = 0; at < columns.times.length; k++) {
          const to = Math.min(columns.times.length, at + cuts[k % cuts.length]!);
          const part = {
            times: columns.times.subarray(at, to),
            values: columns.values.subarray(at, to),
            status: columns.status.subarray(at, to),
          };
          const plain = endOfRun(part.values, part.status, 0, to - at) === to - at;
          if (plain && pass.takesWhole(part.times[0]!, part.times.at(-1)!)) {
            whole++;
            const packed = packRun(summariseRun(part.times, part.values, 0, to - at));
            for (const run of PackedRuns.unpack(packed)) pass.takeSummary(run);
          } else pass.take(part);
          at = to;
        }
        expect(pass.finish().map(resultsIn)).toEqual(expected);
      },
    ),
    { numRuns: 100 },
  );
  expect(whole).toBeGreaterThan(50);
});

/** Aggregates whose parts add up to the whole, and how a part without data counts. */
const ADDITIVE = [
  'Total',
  'Total2',
  'Count',
  'NumberOfTransitions',
  'DurationGood',
  'DurationBad',
  'DurationInStateZero',
  'DurationInStateNonZero',
] as const;

test.each(ADDITIVE)('%s: the parts of an interval add up to the whole (D20)', (name) => {
  let added = 0;
  fc.assert(
    fc.property(request, fc.integer({ min: 1, max: 12 }), ({ given, configuration, reverse }, parts) => {
      const samples = samplesOf(given);
      // Within the data, where every second counts; nothing suppressed by percentages.
      const [first, last] = [samples[0]!.time, samples.at(-1)!.time];
      if (last - first < parts) return;
      const setting = { ...configuration, percentDataBad: 100, percentDataGood: 0 };
      const length = Math.floor((last - first) / parts);
      const [from, to] = [first * SECOND, (first + length * parts) * SECOND];
      const ends: [number, number] = reverse ? [to, from] : [from, to];
      const series = seriesOf(columnsOf(samples));
      const sumOver = (micros: number): number | null => {
        const [rows] = computeAggregates(
          series,
          cutIntoBuckets(...ends, { kind: 'fixed', micros }, 'UTC'),
          [name],
          setting,
        );
        // Bad by percentage in one part or in the whole: nothing can be added.
        if (rows!.some(({ status }) => status >>> 31 === 1 && status !== Status.BadNoData)) return null;
        return rows!.reduce((sum, { value }) => sum + (Number.isNaN(value) ? 0 : value), 0);
      };
      const [whole, inParts] = [sumOver(0), sumOver(length * SECOND)];
      if (whole === null || inParts === null) return;
      added++;
      expect(inParts).toBeCloseTo(whole, 6);
    }),
    { numRuns: 150 },
  );
  expect(added).toBeGreaterThan(60);
});

test('Total2 of a slope that ends at a Bad value is the same in one interval and in steps of ten seconds', () => {
  // 0 s = 10, 10 s = 20, 60 s Bad, 80 s = 30: held at 20 from the tenth second to the sixtieth.
  const series = seriesOf({
    times: Float64Array.of(0, 10 * SECOND, 60 * SECOND, 80 * SECOND),
    values: Float64Array.of(10, 20, NaN, 30),
    status: Uint32Array.of(Status.Good, Status.Good, Status.Bad, Status.Good),
  });
  const configuration = {
    treatUncertainAsBad: true,
    percentDataBad: 100,
    percentDataGood: 100,
    useSlopedExtrapolation: false,
    stepped: false,
  };
  const valuesOf = (micros: number): number[] =>
    computeAggregates(
      series,
      cutIntoBuckets(0, 60 * SECOND, { kind: 'fixed', micros }, 'UTC'),
      ['Total2'],
      configuration,
    )[0]!.map(({ value }) => value);
  expect(valuesOf(0)).toEqual([1150]);
  expect(valuesOf(10 * SECOND)).toEqual([150, 200, 200, 200, 200, 200]);
});
