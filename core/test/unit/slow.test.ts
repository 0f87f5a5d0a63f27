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
    { numRuns: 150 },
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
    { numRuns: 200 },
  );
  expect(whole).toBeGreaterThan(50);
});
