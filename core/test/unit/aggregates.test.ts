import fc from 'fast-check';
import {
  AGGREGATE_NAMES,
  SECOND,
  Status,
  computeAggregate,
  computeAggregates,
  cutIntoBuckets,
  seriesOf,
  type AggregateConfiguration,
  type AggregateName,
  type Series,
} from '../../src/index.ts';
import { ANNOTATIONS_1, CONFIGURATION_1, CONFIGURATION_3, HISTORIAN_1, HISTORIAN_2, clock } from './examples.ts';

/** A row as the tables print it: value, status, and the time where it is not the interval's start. */
function printRow(
  series: Series,
  name: AggregateName,
  from: string,
  to: string,
  seconds: number,
  configuration: AggregateConfiguration,
): string[] {
  const buckets = cutIntoBuckets(clock(from), clock(to), { kind: 'fixed', micros: seconds * SECOND }, 'UTC');
  const [results] = computeAggregates(series, buckets, [name], configuration, ANNOTATIONS_1);
  return results!.map(({ time, value, status }, i) => {
    const quality =
      name.startsWith('WorstQuality') && !Number.isNaN(value)
        ? (['Good', 'Uncertain', 'Bad'][value >>> 30] ?? '?')
        : null;
    const number = quality ?? (Number.isNaN(value) ? '—' : String(Math.round(value * 1000) / 1000));
    const stamp = (time - clock('0:00')) / SECOND;
    const own =
      time === buckets[i]!.begin
        ? ''
        : ` @${String(Math.floor(stamp / 60)).padStart(2, '0')}:${String(stamp % 60).padStart(2, '0')}`;
    return `${number} ${short(status)}${own}`;
  });
}

function short(status: number): string {
  if (status === Status.BadNoData) return 'BND';
  const base =
    (
      {
        [Status.Good]: 'Good',
        [Status.Bad]: 'Bad',
        [Status.Uncertain]: 'Uncertain',
        [Status.UncertainDataSubNormal]: 'USub',
      } as Record<number, string>
    )[(status & 0xffff0000) >>> 0] ?? status.toString(16);
  const source = base === 'Bad' ? [] : [['R'], ['C'], ['I']][status & 3]!;
  return [base, ...source, ...(status & 4 ? ['P'] : []), ...(status & 0x10 ? ['M'] : [])].join(',');
}

describe('OPC 10000-13, example data set 1, from memory: rows that are sure', () => {
  const row = (name: AggregateName): string[] => printRow(HISTORIAN_1, name, '0:00', '1:36', 16, CONFIGURATION_1);

  test('Interpolative every 5 s', () => {
    expect(printRow(HISTORIAN_1, 'Interpolative', '0:00', '1:40', 5, CONFIGURATION_1)).toEqual([
      '— BND',
      '— BND',
      '10 Good,R',
      '15 Good,I',
      '20 Good,R',
      '25 Good,I',
      '30 Good,R',
      '35 USub,I',
      '40 USub,I',
      '45 USub,I',
      '50 Good,R',
      '55 Good,I',
      '60 Good,R',
      '65 USub,I',
      '70 Uncertain,R',
      '75 USub,I',
      '80 Good,R',
      '85 Good,I',
      '90 Good,R',
      '90 USub,I',
    ]);
  });
  test('Minimum, Average, DurationGood, DurationBad, PercentGood', () => {
    expect(row('Minimum')).toEqual(['10 Good,C,P', '20 Good,C', '— BND', '50 Good,C', '— BND', '80 Good,R,P']);
    expect(row('Average').map((cell) => cell.split(' ')[0])).toEqual(['10', '25', '—', '55', '—', '85']);
    expect(row('DurationGood')[0]).toBe('6000 Good,C,P');
    expect(row('DurationBad')[0]).toBe('10000 Good,C,P');
    expect(row('PercentGood')[0]).toBe('37.5 Good,C,P');
  });
});

test('OPC 10000-13, example data set 2, from memory: Interpolative every 5 s', () => {
  expect(printRow(HISTORIAN_2, 'Interpolative', '0:05', '1:35', 5, CONFIGURATION_1)).toEqual([
    '11.304 Good,I',
    '13.478 Good,I',
    '15.652 Good,I',
    '17.826 Good,I',
    '20 Good,R',
    '25.909 Good,I',
    '28.182 Good,I',
    '31.111 USub,I',
    '36.667 USub,I',
    '45 Good,I',
    '51.5 Good,I',
    '54 Good,I',
    '56.5 Good,I',
    '59 Good,I',
    '66 USub,I',
    '70 USub,I',
    '76.667 Good,I',
    '90 Good,R',
  ]);
});

test('OPC 10000-13, example data set 3, from memory: Interpolative every 5 s', () => {
  expect(printRow(HISTORIAN_2, 'Interpolative', '0:05', '1:35', 5, CONFIGURATION_3)).toEqual([
    '10 Good,I',
    '10 Good,I',
    '10 Good,I',
    '10 Good,I',
    '20 Good,R',
    '25 Good,I',
    '25 Good,I',
    '30 Good,I',
    '30 USub,I',
    '40 Good,I',
    '50 Good,I',
    '50 Good,I',
    '50 Good,I',
    '50 Good,I',
    '60 Good,I',
    '60 USub,I',
    '70 Good,I',
    '90 Good,R',
  ]);
});

test('OPC 10000-13, example data set 2, from memory: a value on an edge belongs to the interval that begins there', () => {
  const cells = (from: string, to: string): string[] =>
    printRow(HISTORIAN_2, 'Average', from, to, 16, CONFIGURATION_1).map((cell) => cell.split(' ')[0]!);
  expect(cells('0:32', '1:04')).toEqual(['30', '45']);
  expect(cells('1:04', '0:32')).toEqual(['50', '35']);
});

describe('example data set 1 by a slow second implementation, 16 s', () => {
  const table: [AggregateName, string][] = [
    ['Interpolative', '— BND | 16 Good,I | 32 USub,I | 48 USub,I | 64 USub,I | 80 Good,R'],
    ['Average', '10 Good,C,P | 25 Good,C | — BND | 55 Good,C | — BND | 85 Good,C,P'],
    ['TimeAverage', '13 Good,C,P | 24 USub,C | 40 USub,C | 56 USub,C | 72 USub,C | 85 Good,C,P'],
    ['TimeAverage2', '13 Good,C,P | 23.875 USub,C | 30 USub,C | 57 USub,C | 72 USub,C | 85 Good,C,P'],
    ['Total', '78 Good,C,P | 384 USub,C | 640 USub,C | 896 USub,C | 1152 USub,C | 850 Good,C,P'],
    ['Total2', '78 Good,C,P | 382 USub,C | 240 USub,C | 798 USub,C | 1152 USub,C | 850 Good,C,P'],
    ['Minimum', '10 Good,C,P | 20 Good,C | — BND | 50 Good,C | — BND | 80 Good,R,P'],
    ['Maximum', '10 Good,C,P | 30 Good,C | — BND | 60 Good,C | — BND | 90 Good,C,P'],
    ['MinimumActualTime', '10 Good,R,P @00:10 | 20 Good,R @00:20 | — BND | 50 Good,R @00:50 | — BND | 80 Good,R,P'],
    [
      'MaximumActualTime',
      '10 Good,R,P @00:10 | 30 Good,R @00:30 | — BND | 60 Good,R @01:00 | — BND | 90 Good,R,P @01:30',
    ],
    ['Range', '0 Good,C,P | 10 Good,C | — BND | 10 Good,C | — BND | 10 Good,C,P'],
    ['Minimum2', '10 Good,C,P | 16 USub,I | 30 USub,I | 50 USub,C | 64 USub,I | 80 Good,R,P'],
    ['Maximum2', '16 Good,C,P | 30 USub,C | 30 USub,I | 64 USub,C | 80 USub,C | 90 Good,C,P'],
    ['MinimumActualTime2', '10 Good,R,P @00:10 | 16 USub,I | 30 USub,I | 50 USub,R @00:50 | 64 USub,I | 80 Good,R,P'],
    [
      'MaximumActualTime2',
      '16 Good,I,P @00:16 | 30 USub,R @00:30 | 30 USub,I | 64 USub,I @01:04 | 80 USub,I @01:20 | 90 Good,R,P @01:30',
    ],
    ['Range2', '6 Good,C,P | 14 USub,C | 0 USub,C | 14 USub,C | 16 USub,C | 10 Good,C,P'],
    ['AnnotationCount', '0 Good,C,P | 0 Good,C | 1 Good,C | 1 Good,C | 1 Good,C | 0 Good,C,P'],
    ['Count', '1 Good,C,P | 2 Good,C | — Bad | 2 Good,C | 0 USub,C | 2 Good,C,P'],
    ['DurationInStateZero', '0 Good,C,P | 0 Good,C | 0 USub,C | 0 USub,C | 0 USub,C | 0 Good,C,P'],
    [
      'DurationInStateNonZero',
      '6000 Good,C,P | 16000 Good,C | 8000 USub,C | 14000 USub,C | 16000 USub,C | 10000 Good,C,P',
    ],
    ['NumberOfTransitions', '1 Good,C,P | 2 Good,C | — Bad | 2 Good,C | 1 USub,C | 2 Good,C,P'],
    [
      'Start',
      '10 Good,R @00:10 | 20 Good,R @00:20 | 40 Bad @00:40 | 50 Good,R @00:50 | 70 Uncertain,R @01:10 | 80 Good,R',
    ],
    [
      'End',
      '10 Good,R @00:10 | 30 Good,R @00:30 | 40 Bad @00:40 | 60 Good,R @01:00 | 70 Uncertain,R @01:10 | 90 Good,R @01:30',
    ],
    ['Delta', '0 Good,C,P | 10 Good,C | — BND | 10 Good,C | — BND | 10 Good,C,P'],
    ['StartBound', '— BND | 16 Good,I | 30 USub,I | — BND | 64 USub,I | 80 Good,R'],
    [
      'EndBound',
      '16 Good,I @00:16 | 30 USub,I @00:32 | — BND @00:48 | 64 USub,I @01:04 | 80 Good,R @01:20 | 90 USub,I @01:36',
    ],
    ['DeltaBounds', '— BND | 14 USub,C | — BND | — BND | 16 USub,C | 10 USub,C,P'],
    ['DurationGood', '6000 Good,C,P | 16000 Good,C | 8000 Good,C | 14000 Good,C | 6000 Good,C | 10000 Good,C,P'],
    ['DurationBad', '10000 Good,C,P | 0 Good,C | 8000 Good,C | 2000 Good,C | 0 Good,C | 0 Good,C,P'],
    ['PercentGood', '37.5 Good,C,P | 100 Good,C | 50 Good,C | 87.5 Good,C | 37.5 Good,C | 100 Good,C,P'],
    ['PercentBad', '62.5 Good,C,P | 0 Good,C | 50 Good,C | 12.5 Good,C | 0 Good,C | 0 Good,C,P'],
    ['WorstQuality', 'Good Good,C,P | Good Good,C | Bad Good,C | Good Good,C | Uncertain Good,C | Good Good,C,P'],
    ['WorstQuality2', 'Bad Good,C,P | Good Good,C | Bad Good,C | Bad Good,C | Uncertain Good,C | Good Good,C,P'],
    ['StandardDeviationSample', '0 Good,C,P | 7.071 Good,C | — BND | 7.071 Good,C | — BND | 7.071 Good,C,P'],
    ['VarianceSample', '0 Good,C,P | 50 Good,C | — BND | 50 Good,C | — BND | 50 Good,C,P'],
    ['StandardDeviationPopulation', '0 Good,C,P | 5 Good,C | — BND | 5 Good,C | — BND | 5 Good,C,P'],
    ['VariancePopulation', '0 Good,C,P | 25 Good,C | — BND | 25 Good,C | — BND | 25 Good,C,P'],
  ];
  test.each(table)('%s', (name, row) => {
    expect(printRow(HISTORIAN_1, name, '0:00', '1:36', 16, CONFIGURATION_1).join(' | ')).toBe(row);
  });
  test('every aggregate offered stands in the table', () => {
    expect(table.map(([name]) => name).sort()).toEqual([...AGGREGATE_NAMES].sort());
  });
});

describe('laws', () => {
  const samples = fc
    .array(
      fc.tuple(
        fc.integer({ min: 0, max: 7200 }),
        fc.integer({ min: -1000, max: 1000 }),
        fc.constantFrom<number>(Status.Good, Status.Good, Status.Good, Status.Bad),
      ),
      { minLength: 2, maxLength: 80 },
    )
    .map((rows) => [...new Map(rows.map((row) => [row[0], row])).values()].sort((a, b) => a[0] - b[0]))
    .map((rows) =>
      seriesOf({
        times: Float64Array.from(rows, (r) => r[0] * SECOND),
        values: Float64Array.from(rows, (r) => r[1]),
        status: Uint32Array.from(rows, (r) => r[2]),
      }),
    );
  const total = (series: Series, name: AggregateName, seconds: number): number =>
    computeAggregate(
      series,
      cutIntoBuckets(0, 3600 * SECOND, { kind: 'fixed', micros: seconds * SECOND }, 'UTC'),
      name,
      CONFIGURATION_1,
    ).reduce((sum, { value }) => sum + (Number.isNaN(value) ? 0 : value), 0);

  test("an hour's total is the sum of its minutes'", () => {
    fc.assert(
      fc.property(samples, (series) => {
        expect(total(series, 'DurationGood', 60)).toBeCloseTo(total(series, 'DurationGood', 3600), 5);
        // A minute that is Bad throughout has no total, while the hour bridges it: the law is for usable data.
        const usable = {
          ...series,
          status: series.status.map((status) => (status === Status.Bad ? Status.Uncertain : 0)),
        };
        expect(total(usable, 'Total', 60)).toBeCloseTo(total(usable, 'Total', 3600), 5);
      }),
    );
  });

  test('minimum ≤ average ≤ maximum', () => {
    const one = cutIntoBuckets(0, 3600 * SECOND, { kind: 'fixed', micros: 0 }, 'UTC');
    fc.assert(
      fc.property(samples, (series) => {
        const [least, mean, most] = (['Minimum', 'Average', 'Maximum'] as const).map(
          (name) => computeAggregate(series, one, name, CONFIGURATION_1)[0]!.value,
        );
        fc.pre(!Number.isNaN(mean!));
        expect(least!).toBeLessThanOrEqual(mean! + 1e-9);
        expect(mean!).toBeLessThanOrEqual(most! + 1e-9);
      }),
    );
  });
});

test('a value still watched after the last sample is known, not assumed (D1)', () => {
  const held = seriesOf(
    { times: Float64Array.of(0), values: Float64Array.of(5), status: Uint32Array.of(0) },
    60 * SECOND,
  );
  const [row] = computeAggregate(
    held,
    cutIntoBuckets(0, 60 * SECOND, { kind: 'fixed', micros: 0 }, 'UTC'),
    'TimeAverage',
    CONFIGURATION_1,
  );
  expect(row).toEqual({ time: 0, value: 5, status: 0x401 });
});
