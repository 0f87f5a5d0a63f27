/** The engine against DuckDB, an independent one: the same figures by SQL over rows. */
import { DuckDBInstance } from '@duckdb/node-api';
import fc from 'fast-check';
import {
  DEFAULT_CONFIGURATION,
  SECOND,
  computeAggregate,
  cutIntoBuckets,
  seriesOf,
  type AggregateName,
} from '@wide-ledger/core';

const HOURS = 6;
const buckets = cutIntoBuckets(0, HOURS * 3600 * SECOND, { kind: 'fixed', micros: 3600 * SECOND }, 'UTC');

/** Irregular samples over six hours, one on each edge of the window so that DuckDB needs no bounds of its own. */
const series = fc
  .array(fc.tuple(fc.integer({ min: 1, max: HOURS * 3600 - 1 }), fc.integer({ min: -5000, max: 5000 })), {
    minLength: 20,
    maxLength: 200,
  })
  .map((rows) => new Map([...rows, [0, 7] as [number, number], [HOURS * 3600, -3] as [number, number]]))
  .map((rows) => [...rows].sort((a, b) => a[0] - b[0]));

const SQL = `
  WITH row AS (SELECT unnest(?::BIGINT[]) AS t, unnest(?::DOUBLE[]) AS v),
  line AS (SELECT t, v, lead(t) OVER (ORDER BY t) AS t1, lead(v) OVER (ORDER BY t) AS v1 FROM row),
  hour AS (SELECT h, h * 3600 AS a, (h + 1) * 3600 AS b FROM range(0, ${HOURS}) AS r(h)),
  part AS (
    SELECT h, greatest(t, a) AS p, least(t1, b) AS q, t, v, t1, v1 FROM line JOIN hour ON t < b AND t1 > a WHERE t1 IS NOT NULL),
  area AS (
    SELECT h, sum((v + (v1 - v) * (p - t) / (t1 - t) + v + (v1 - v) * (q - t) / (t1 - t)) / 2 * (q - p)) AS total,
           sum(v * (q - p)) AS held FROM part GROUP BY h),
  raw AS (SELECT t // 3600 AS h, avg(v) AS mean, min(v) AS least, max(v) AS greatest, count(*) AS n,
           CASE WHEN count(*) = 1 THEN 0 ELSE stddev_samp(v) END AS sd, arg_min(v, t) AS first, arg_max(v, t) AS last FROM row GROUP BY 1)
  SELECT total, held / 3600 AS held_mean, mean, least, greatest, coalesce(n, 0)::INT AS n, sd, first, last
  FROM hour JOIN area USING (h) LEFT JOIN raw USING (h) ORDER BY h`;

const COLUMNS: readonly [AggregateName, number, boolean][] = [
  ['Total', 0, false],
  ['TimeAverage2', 1, true],
  ['Average', 2, false],
  ['Minimum', 3, false],
  ['Maximum', 4, false],
  ['Count', 5, false],
  ['StandardDeviationSample', 6, false],
  ['Start', 7, false],
  ['End', 8, false],
];

test('hourly figures of irregular samples are the same by DuckDB', async () => {
  const connection = await (await DuckDBInstance.create(':memory:')).connect();
  await fc.assert(
    fc.asyncProperty(series, async (rows) => {
      const list = (values: readonly number[]): string => `[${values.join(', ')}]`;
      const sql = SQL.replace('?', list(rows.map(([t]) => t))).replace('?', list(rows.map(([, v]) => v)));
      const expected = (await connection.runAndReadAll(sql)).getRows();
      const samples = seriesOf({
        times: Float64Array.from(rows, ([t]) => t * SECOND),
        values: Float64Array.from(rows, ([, v]) => v),
        status: new Uint32Array(rows.length),
      });
      for (const [name, column, stepped] of COLUMNS) {
        const ours = computeAggregate(samples, buckets, name, { ...DEFAULT_CONFIGURATION, stepped });
        ours.forEach(({ value }, hour) => {
          const theirs = expected[hour]![column];
          if (theirs === null) expect(value).toBeNaN();
          else expect(value).toBeCloseTo(Number(theirs), 6);
        });
      }
    }),
    { numRuns: 40 },
  );
});
