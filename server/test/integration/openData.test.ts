/**
 * Open data sets through the archive, against figures that others publish or that DuckDB computes from the same rows.
 * Mauna Loa CO₂ by month with its real gaps (Scripps, CC BY 4.0) and the hourly normals of Seattle (US Government), as
 * npm vega-datasets 3.2.1 carries them.
 */
import { DuckDBInstance } from '@duckdb/node-api';
import { parse } from 'csv-parse/sync';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from '../../../launch/ground.mjs';
import { TestSite } from './testSite.ts';

const site = await TestSite.open();
const duck = await (await DuckDBInstance.create()).connect();
afterAll(async () => {
  duck.closeSync();
  await site.close();
});

const pathOf = (name: string): string => join(ROOT, 'node_modules/vega-datasets/data', name);
const rowsOf = (name: string): Record<string, string>[] =>
  parse<Record<string, string>>(readFileSync(pathOf(name)), { columns: true });

interface Row {
  readonly time: string;
  readonly value: number | null;
  readonly quality: string;
}

async function processed(tag: string, aggregate: string, from: string, to: string, interval: string): Promise<Row[]> {
  const query = new URLSearchParams({ tag, aggregate, from, to, interval, zone: 'UTC' });
  return (await site.call<{ rows: Row[] }>('GET', `/history/processed?${query}`)).body.rows;
}
const only = async (...request: Parameters<typeof processed>): Promise<number | null> =>
  (await processed(...request))[0]!.value;

async function archive(tag: string, rows: readonly { time: string; value: number }[]): Promise<void> {
  await site.tag({ name: tag });
  const samples = rows.map((row) => ({ tag, ...row }));
  const { body } = await site.call<{ accepted: number }>('POST', '/samples', { samples });
  expect(body.accepted).toBe(rows.length);
}

/** A month's table is made for each month with values: twenty years are enough here. core checks the whole series. */
const LAST = '1978';

describe('CO₂ at Mauna Loa, by month, with the months that were never measured', () => {
  const window = ['1958-01-01T00:00:00Z', `${LAST}-01-01T00:00:00Z`] as const;
  beforeAll(() =>
    archive(
      'CO2',
      rowsOf('co2-concentration.csv')
        .filter(({ Date: day }) => day! < LAST)
        .map(({ Date: day, CO2 }) => ({ time: `${day}T00:00:00Z`, value: Number(CO2) })),
    ),
  );

  test('mean, first and count are DuckDB’s, before and after posting', async () => {
    const reader = await duck.runAndReadAll(
      `SELECT avg(CO2) AS mean, count(*)::int AS n FROM read_csv('${pathOf('co2-concentration.csv')}') WHERE Date < '${LAST}-01-01'`,
    );
    const [{ mean, n }] = reader.getRowObjects() as [{ mean: number; n: number }];
    const check = async (): Promise<void> => {
      expect(await only('CO2', 'Average', ...window, 'PT0S')).toBeCloseTo(mean, 9);
      expect(await only('CO2', 'Start', ...window, 'PT0S')).toBe(315.7);
      expect(await only('CO2', 'Count', ...window, 'PT0S')).toBe(n);
    };
    await check();
    await site.site.posting.postAll();
    await check();
  });

  test('exactly the months that are missing have no value', async () => {
    const rows = await processed('CO2', 'Count', '1958-03-01T00:00:00Z', '1965-01-01T00:00:00Z', 'P1M');
    expect(rows.filter(({ value }) => value === 0).map(({ time }) => time.slice(0, 7))).toEqual([
      '1958-06',
      '1958-10',
      '1964-02',
      '1964-03',
      '1964-04',
    ]);
  });

  test('the time average of every year is DuckDB’s, which joins the same straight lines', async () => {
    const ours = await processed('CO2', 'TimeAverage', '1960-01-01T00:00:00Z', '1977-01-01T00:00:00Z', 'year');
    const reader = await duck.runAndReadAll(
      `WITH line AS (
         SELECT epoch(Date::TIMESTAMP) AS t0, CO2 AS v0, lead(epoch(Date::TIMESTAMP)) OVER w AS t1, lead(CO2) OVER w AS v1
         FROM read_csv('${pathOf('co2-concentration.csv')}') WINDOW w AS (ORDER BY Date)),
       year AS (SELECT y, epoch(make_timestamp(y, 1, 1, 0, 0, 0)) AS a, epoch(make_timestamp(y + 1, 1, 1, 0, 0, 0)) AS b
                FROM range(1960, 1977) AS years(y)),
       part AS (SELECT y, b - a AS length, greatest(t0, a) AS s, least(t1, b) AS e, t0, v0, (v1 - v0) / (t1 - t0) AS slope
                FROM line, year WHERE t1 > a AND t0 < b)
       SELECT y::int AS y, sum((v0 + slope * ((s + e) / 2 - t0)) * (e - s)) / any_value(length) AS mean FROM part GROUP BY y ORDER BY y`,
    );
    const theirs = reader.getRowObjects() as { y: number; mean: number }[];
    expect(ours).toHaveLength(17);
    ours.forEach(({ value }, i) => expect(value).toBeCloseTo(theirs[i]!.mean, 6));
  });
});

describe('the hourly normals of Seattle', () => {
  const window = ['2010-01-01T00:00:00Z', '2011-01-02T00:00:00Z'] as const;
  beforeAll(async () => {
    await archive(
      'Temperature',
      rowsOf('seattle-weather-hourly-normals.csv').map(({ date, temperature }) => ({
        time: `${date!.replace(' ', 'T').slice(0, 16)}:00Z`,
        value: Number(temperature),
      })),
    );
    await site.site.posting.postAll();
  });

  test('mean, spread and extremes are the published ones', async () => {
    const one = (aggregate: string): Promise<number | null> => only('Temperature', aggregate, ...window, 'PT0S');
    expect(await one('Count')).toBe(8759);
    expect(await one('Average')).toBeCloseTo(11.127617307911862, 12);
    expect(await one('StandardDeviationSample')).toBeCloseTo(5.356543543350764, 12);
    expect([await one('Minimum'), await one('Maximum')]).toEqual([3.1, 24.4]);
  });

  test('the mean of every day is DuckDB’s', async () => {
    const ours = await processed('Temperature', 'Average', '2010-01-02T00:00:00Z', '2010-12-31T00:00:00Z', 'P1D');
    const reader = await duck.runAndReadAll(
      `SELECT date_trunc('day', date::TIMESTAMP) AS day, avg(temperature) AS mean
       FROM read_csv('${pathOf('seattle-weather-hourly-normals.csv')}') GROUP BY day ORDER BY day`,
    );
    const theirs = reader.getRowObjects() as { mean: number }[];
    ours.forEach(({ value }, i) => expect(value).toBeCloseTo(theirs[i + 1]!.mean, 9));
    expect(ours).toHaveLength(363);
  });
});
