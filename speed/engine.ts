/** The history engine: all aggregates in one pass, a year from summaries, DuckDB on the same data, a late value, files. */
import { DuckDBInstance, type DuckDBConnection } from '@duckdb/node-api';
import { AGGREGATE_NAMES, SECOND, emptyFrame, encodeFrame, packRun, summarise, type Frame } from '@wide-ledger/core';
import { drizzle } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import { pino } from 'pino';
import { Journal, Posting } from '../server/src/index.ts';

const DAY = 86_400;
const HOURS_OF_YEAR = 8760;
const YEAR_TAGS = 20;

interface Surroundings {
  readonly base: string;
  readonly authorization: string;
  readonly url: string;
  readonly client: pg.Client;
  /** 30 days of one-second values, as they are in the archive under `tag`, named Month. */
  readonly month: Frame;
  readonly tag: number;
  readonly start: number;
  readonly row: (name: string, value: string, ratio?: string) => void;
  readonly fastest: (times: number, run: () => unknown) => Promise<number>;
}

const iso = (seconds: number): string => new Date(seconds * 1000).toISOString();
const milliseconds = (seconds: number): string => `${(seconds * 1000).toFixed(seconds < 0.1 ? 1 : 0)} ms`;

export async function measureEngine(surroundings: Surroundings): Promise<void> {
  console.log('\nThe history engine\n');
  const one = await aggregates(surroundings);
  await againstDuckDb(surroundings, one);
  await yearFromSummaries(surroundings);
  await lateValue(surroundings);
  await monthAsFile(surroundings);
}

/** @returns seconds of one aggregate and of all, over HTTP. */
async function aggregates({
  base,
  authorization,
  start,
  row,
  fastest,
}: Surroundings): Promise<{ one: number; all: number }> {
  const ask = (names: readonly string[], interval: string) => async (): Promise<void> => {
    const window = `from=${iso(start)}&to=${iso(start + 30 * DAY)}&interval=${interval}`;
    const answer = await fetch(`${base}/history/table?tags=Month&aggregates=${names.join(',')}&${window}`, {
      headers: { authorization },
    });
    if (!answer.ok) throw new Error(await answer.text());
    await answer.arrayBuffer();
  };
  const one = await fastest(5, ask(['TimeAverage'], 'PT1H'));
  const all = await fastest(5, ask(AGGREGATE_NAMES, 'PT1H'));
  row('hourly time average of 30 days, from summaries', milliseconds(one));
  row(
    `all ${AGGREGATE_NAMES.length} aggregates of it in one pass`,
    milliseconds(all),
    `${(all / one).toFixed(1)} times one`,
  );
  // Intervals that no block fits into: every block is opened and every sample looked at.
  const oneOpened = await fastest(3, ask(['TimeAverage'], 'PT50M'));
  const allOpened = await fastest(3, ask(AGGREGATE_NAMES, 'PT50M'));
  row('every 50 minutes, so that every block is opened', milliseconds(oneOpened));
  row('all of them so', milliseconds(allOpened), `${(allOpened / oneOpened).toFixed(1)} times one`);
  return { one, all };
}

async function loadDuckDb({ month }: Surroundings): Promise<DuckDBConnection> {
  const duck = await (await DuckDBInstance.create()).connect();
  await duck.run('CREATE TABLE sample (time BIGINT, value DOUBLE)');
  const appender = await duck.createAppender('sample');
  for (let i = 0; i < month.times.length; i++) {
    appender.appendBigInt(BigInt(month.times[i]!));
    appender.appendDouble(month.values[i]!);
    appender.endRow();
  }
  appender.closeSync();
  return duck;
}

async function againstDuckDb(surroundings: Surroundings, ours: { one: number; all: number }): Promise<void> {
  const { row, fastest } = surroundings;
  const duck = await loadDuckDb(surroundings);
  const theirs = await fastest(5, () =>
    duck.runAndReadAll(
      `SELECT time // 3600000000 AS hour, sum((value + next_value) / 2 * (next_time - time)) / sum(next_time - time) FROM (
         SELECT time, value, lead(time) OVER w AS next_time, lead(value) OVER w AS next_value FROM sample WINDOW w AS (ORDER BY time))
       WHERE next_time IS NOT NULL GROUP BY hour ORDER BY hour`,
    ),
  );
  duck.closeSync();
  row(
    'the same time average by DuckDB, data in its memory',
    milliseconds(theirs),
    `ours is ${(theirs / ours.one).toFixed(1)} times as fast (aim 8)`,
  );
  row(
    '',
    '',
    `ours with all ${AGGREGATE_NAMES.length} is ${(theirs / ours.all).toFixed(1)} times as fast (aim over 1)`,
  );
}

/** A year of one-second values of twenty tags, laid into the ledger as posting would. */
async function yearFromSummaries({ base, authorization, client, month, row, fastest }: Surroundings): Promise<void> {
  const answer = await fetch(`${base}/tags`, {
    method: 'POST',
    headers: { authorization, 'content-type': 'application/json' },
    body: JSON.stringify(Array.from({ length: YEAR_TAGS }, (_, i) => ({ name: `Year${i}` }))),
  });
  const { results } = (await answer.json()) as { results: { id: number }[] };
  const begin = Date.UTC(2024, 0, 1) / 1000;
  for (let m = 0; m < 12; m++)
    await client.query(
      'INSERT INTO ledger_month (tag_id, month, part) SELECT id, $1, ensure_ledger_month($1) FROM unnest($2::int[]) AS id',
      [Date.UTC(2024, m, 1) * 1000, results.map(({ id }) => id)],
    );
  const hours = Array.from({ length: 24 }, (_, h) => ({
    values: month.values.slice(h * 3600, (h + 1) * 3600),
    status: new Uint32Array(3600),
    origins: new Uint8Array(3600),
  }));
  const columns: [number[], number[], (number | null)[][], Buffer[], Buffer[]] = [[], [], [], [], []];
  for (let hour = 0; hour < HOURS_OF_YEAR; hour++) {
    const times = Float64Array.from({ length: 3600 }, (_, s) => (begin + hour * 3600 + s) * SECOND);
    const frame: Frame = { tags: null, times, texts: [], ...hours[hour % 24]! };
    const { firstTime, lastTime, least, greatest, sum, run } = summarise(frame);
    columns[0].push(firstTime);
    columns[1].push(lastTime);
    columns[2].push([least, greatest, sum]);
    columns[3].push(Buffer.from(packRun(run!)));
    columns[4].push(Buffer.from(encodeFrame(frame)));
  }
  const [firsts, lasts, figures, summaries, frames] = columns;
  await client.query(
    `INSERT INTO ledger_block (tag_id, first_time, last_time, samples, good_samples, uncertain_samples, least, greatest, total, summary, frame)
     SELECT tag, first, last, 3600, 3600, 0, least, greatest, total, summary, frame
     FROM unnest($2::bigint[], $3::bigint[], $4::float8[], $5::float8[], $6::float8[], $7::bytea[], $8::bytea[])
       AS b(first, last, least, greatest, total, summary, frame), unnest($1::int[]) AS t(tag)`,
    [
      results.map(({ id }) => id),
      firsts,
      lasts,
      ...[0, 1, 2].map((k) => figures.map((one) => one[k]!)),
      summaries,
      frames,
    ],
  );
  await client.query('VACUUM ANALYZE ledger_block');
  const ask = async (): Promise<string> => {
    const tags = results.map((_, i) => `Year${i}`).join(',');
    const window = `from=${iso(begin)}&to=${iso(begin + HOURS_OF_YEAR * 3600)}&interval=PT1H`;
    const table = await fetch(`${base}/history/table?tags=${tags}&aggregates=TimeAverage&${window}`, {
      headers: { authorization },
    });
    return table.text();
  };
  const seconds = await fastest(5, ask);
  const { rows } = JSON.parse(await ask()) as { rows: unknown[] };
  if (rows.length !== HOURS_OF_YEAR) throw new Error(`${rows.length} rows instead of ${HOURS_OF_YEAR}`);
  row(`a year of hours for ${YEAR_TAGS} tags of one-second values, one call`, milliseconds(seconds), '(aim 1 s)');
}

/** One value into the middle of a month that was posted long ago: read, merge, write, in one transaction. */
async function lateValue({ url, tag, start, row, fastest }: Surroundings): Promise<void> {
  const pool = new pg.Pool({ connectionString: url });
  const posting = new Posting(pool, { id: 1, pool: () => Promise.resolve(pool) }, 0, pino({ level: 'silent' }));
  const journal = new Journal({ pool, tables: drizzle(pool) });
  await posting.postAll();
  let at = start + 3 * DAY;
  let best = Infinity;
  for (let i = 0; i < 20; i++) {
    at += 3601.5;
    const frame = emptyFrame(1, { tags: true });
    frame.tags![0] = tag;
    frame.times[0] = at * SECOND;
    await journal.append({
      writer: 'late',
      sequence: null,
      origin: 'entered',
      frame,
      watches: [],
      outages: [],
      refused: [],
    });
    best = Math.min(best, await fastest(1, () => posting.postBatch()));
  }
  await pool.end();
  row('a late value into an old block', milliseconds(best));
}

/** A month of one-second values as a file, taken as it comes. */
async function monthAsFile({ base, authorization, start, row }: Surroundings): Promise<void> {
  for (const format of ['csv', 'parquet']) {
    const started = performance.now();
    const window = `from=${iso(start)}&to=${iso(start + 30 * DAY)}`;
    const answer = await fetch(`${base}/history/export?kind=raw&tags=Month&format=${format}&${window}`, {
      headers: { authorization },
    });
    let bytes = 0;
    for await (const chunk of answer.body!) bytes += (chunk as Uint8Array).length;
    const seconds = (performance.now() - started) / 1000;
    row(
      `30 days of one-second values as ${format}`,
      `${Math.round((30 * DAY) / seconds).toLocaleString('en')} rows/s`,
      `${(bytes / 1e6).toFixed(0)} MB`,
    );
  }
}
