/** Measures on plant-like data and prints the ratios. Nothing here asserts: a slow machine is not a wrong one. */
import {
  DEFAULT_CONFIGURATION,
  SECOND,
  computeAggregate,
  cutIntoBuckets,
  decodeFrame,
  emptyFrame,
  encodeFrame,
  packEntry,
  seriesOf,
  type Frame,
} from '@wide-ledger/core';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { join } from 'node:path';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { THORNMERE_POINTS, archivedAt } from '../bench/src/index.ts';
import { startProgram } from '../launch/processes.mjs';
import { measureEngine } from './engine.ts';
import { measureConfiguration } from './configuration.ts';
import { measureCrowd } from './crowd.ts';
import { measureDeriving } from './deriving.ts';
import { measureLinks } from './links.ts';
import { measureMessages } from './messages.ts';
import { measureOpcUa } from './opcUa.ts';
import { measureOutages } from './outages.ts';
import { measurePunctuality } from './punctuality.ts';
import { measureRecords } from './records.ts';
import { measureRecovery } from './recovery.ts';
import { measureSheet } from './sheet.ts';
import { measureSpool } from './spool.ts';
import type { Surroundings } from './surroundings.ts';
import { measureSustained } from './sustained.ts';

const START = Date.UTC(2026, 5, 1) / 1000;
const TAGS = 24;
const SECONDS_PER_TAG = 40_000;
const ENTRY_SAMPLES = 5000;
const DAY = 86_400;

const url = process.env.SPEED_DATABASE_URL!;
const port = process.env.SPEED_PORT!;
const base = `http://127.0.0.1:${port}/api/v1`;

const row = (name: string, value: string, ratio = ''): void =>
  console.log(`  ${name.padEnd(62)}${value.padStart(22)}  ${ratio}`);
const thousands = (n: number): string => Math.round(n).toLocaleString('en');

/** The fastest of several runs, in seconds: what the machine can do when nobody else wants it. */
async function fastest(times: number, run: () => unknown): Promise<number> {
  let best = Infinity;
  for (let i = 0; i < times; i++) {
    const started = performance.now();
    await run();
    best = Math.min(best, (performance.now() - started) / 1000);
  }
  return best;
}

/** One tag's one-second values, by the formulas of the simulated plant. */
function samplesOf(tag: number, point: number, seconds: number): Frame {
  const frame = emptyFrame(seconds, { tags: true });
  frame.tags!.fill(tag);
  for (let i = 0; i < seconds; i++) {
    frame.times[i] = (START + i) * SECOND;
    frame.values[i] = archivedAt(THORNMERE_POINTS[point]!, START + i);
  }
  return frame;
}

/** PostgreSQL's binary COPY format: header, rows of (int4, int8, float8, int8), trailer. */
function binaryRows(frames: readonly Frame[]): Buffer {
  const count = frames.reduce((sum, frame) => sum + frame.times.length, 0);
  const size = 2 + 8 + 12 + 12 + 12;
  const buffer = Buffer.alloc(19 + count * size + 2);
  buffer.write('PGCOPY\n\xff\r\n\0', 'latin1');
  let at = 19;
  for (const { tags, times, values, status } of frames) {
    for (let i = 0; i < times.length; i++) {
      buffer.writeInt16BE(4, at);
      buffer.writeInt32BE(4, at + 2);
      buffer.writeInt32BE(tags![i]!, at + 6);
      buffer.writeInt32BE(8, at + 10);
      buffer.writeBigInt64BE(BigInt(times[i]!), at + 14);
      buffer.writeInt32BE(8, at + 22);
      buffer.writeDoubleBE(values[i]!, at + 26);
      buffer.writeInt32BE(8, at + 34);
      buffer.writeBigInt64BE(BigInt(status[i]!), at + 38);
      at += size;
    }
  }
  buffer.writeInt16BE(-1, at);
  return buffer;
}

async function untilHealthy(): Promise<void> {
  for (;;) {
    const answer = await fetch(`${base}/health`).catch(() => null);
    if (answer?.ok) return;
    await new Promise((done) => setTimeout(done, 50));
  }
}

const server = startProgram(join(import.meta.dirname, '../server/dist/main.mjs'), {
  DATABASE_URL: `${url}/postgres`,
  WIDE_LEDGER_PORT: port,
  WIDE_LEDGER_ADMIN_PASSWORD: 'only-for-speed',
  WIDE_LEDGER_LOG: 'error',
});
await untilHealthy();
const client = new pg.Client(`${url}/postgres`);
await client.connect();

async function post<Body>(
  path: string,
  body: unknown,
  headers: Record<string, string>,
): Promise<{ body: Body; headers: Headers }> {
  const answer = await fetch(base + path, {
    method: 'POST',
    headers: { 'content-type': 'application/json', ...headers },
    body: JSON.stringify(body),
  });
  if (!answer.ok) throw new Error(await answer.text());
  return { body: (await answer.json()) as Body, headers: answer.headers };
}
const signedIn = await post('/session', { name: 'admin', password: 'only-for-speed' }, {});
const cookie = signedIn.headers.getSetCookie()[0]!.split(';')[0]!;
const { key } = (
  await post<{ key: string }>('/keys', { name: 'speed', scopes: ['collect', 'admin', 'read', 'write'] }, { cookie })
).body;
const authorization = `Bearer ${key}`;
const { results } = (
  await post<{ results: { id: number }[] }>(
    '/tags',
    [...Array.from({ length: TAGS }, (_, i) => ({ name: `S${i}` })), { name: 'Month' }],
    { authorization },
  )
).body;
const ids = results.map(({ id }) => id);

console.log(`\nPlant-like data: ${TAGS} tags, ${thousands(TAGS * SECONDS_PER_TAG)} one-second samples, fsync on\n`);
const frames = Array.from({ length: TAGS }, (_, i) => samplesOf(ids[i]!, i, SECONDS_PER_TAG));
const total = TAGS * SECONDS_PER_TAG;

// Acknowledged ingest: entries as a collector delivers them, four writers at a time. The first pass, ten days earlier,
// warms the server up: what counts is what it sustains.
const SHIFTS = [-10 * DAY, 0];
const entriesOf = (shift: number): Uint8Array[][] =>
  frames.map((frame, w) =>
    Array.from({ length: Math.ceil(SECONDS_PER_TAG / ENTRY_SAMPLES) }, (_, i) => {
      const part = (column: Float64Array | Uint32Array): never =>
        column.slice(i * ENTRY_SAMPLES, (i + 1) * ENTRY_SAMPLES) as never;
      const times = (part(frame.times) as Float64Array).map((time) => time + shift * SECOND);
      const columns = { tags: part(frame.tags!), times, values: part(frame.values), status: part(frame.status) };
      return packEntry(
        { writer: `speed-${shift}-${w}`, sequence: i + 1, origin: 'live' },
        { ...columns, origins: null, texts: [] },
      );
    }),
  );
async function untilPosted(): Promise<void> {
  for (;;) {
    const { rows } = await client.query<{ n: string }>(
      'SELECT count(*) AS n FROM journal_entry j, posting p WHERE j.id > p.entry',
    );
    if (Number(rows[0]!.n) === 0) return;
    await new Promise((done) => setTimeout(done, 200));
  }
}
let ingest = Infinity;
for (const shift of SHIFTS) {
  const entries = entriesOf(shift);
  ingest = await fastest(1, () =>
    Promise.all(
      Array.from({ length: 4 }, async (_, lane) => {
        for (let tag = lane; tag < TAGS; tag += 4) {
          for (const entry of entries[tag]!) {
            const answer = await fetch(`${base}/entries`, {
              method: 'POST',
              headers: { authorization },
              body: entry as NonNullable<RequestInit['body']>,
            });
            if (!answer.ok) throw new Error(await answer.text());
          }
        }
      }),
    ),
  );
  await untilPosted();
}
async function copy(table: string, keyed: boolean): Promise<number> {
  await client.query(
    `CREATE TABLE ${table} (tag int NOT NULL, time bigint NOT NULL, value double precision, status bigint ${keyed ? ', PRIMARY KEY (tag, time)' : ''})`,
  );
  const chunks = frames.map((frame) => binaryRows([frame]));
  const started = performance.now();
  for (const chunk of chunks)
    await pipeline(Readable.from([chunk]), client.query(copyFrom(`COPY ${table} FROM STDIN (FORMAT binary)`)));
  return (performance.now() - started) / 1000;
}
const keyed = await copy('keyed_row', true);
const bare = await copy('bare_row', false);
row('acknowledged ingest through HTTP in frames', `${thousands(total / ingest)} /s`);
row(
  'COPY BINARY into a keyed table',
  `${thousands(total / keyed)} /s`,
  `ingest is ${(keyed / ingest).toFixed(1)} times as fast (aim 3)`,
);
row(
  'COPY BINARY into a bare table',
  `${thousands(total / bare)} /s`,
  `ingest is ${(bare / ingest).toFixed(1)} times as fast`,
);

// Size: after posting and vacuum, everything of the ledger counted: heap, TOAST, indexes.
await untilPosted();
await client.query('VACUUM FULL ledger_block');
await client.query('VACUUM FULL keyed_row');
const size = async (sql: string): Promise<number> =>
  Number((await client.query<{ bytes: string }>(sql)).rows[0]!.bytes);
const ledgerBytes = await size('SELECT ledger_bytes() AS bytes');
const rowBytes = await size("SELECT pg_total_relation_size('keyed_row') AS bytes");
row('ledger, bytes per sample', (ledgerBytes / (SHIFTS.length * total)).toFixed(2), '(aim 3)');
row(
  'keyed row table, bytes per sample',
  (rowBytes / total).toFixed(1),
  `${((rowBytes * SHIFTS.length) / ledgerBytes).toFixed(0)} times as large`,
);

// A month of one tag, for reading: straight into the journal's ledger by the same call.
const month = samplesOf(ids[TAGS]!, 0, 30 * DAY);
for (let i = 0; i < 30; i++) {
  const slice = (column: Float64Array | Uint32Array): never => column.slice(i * DAY, (i + 1) * DAY) as never;
  const frame: Frame = {
    tags: slice(month.tags!),
    times: slice(month.times),
    values: slice(month.values),
    status: slice(month.status),
    origins: null,
    texts: [],
  };
  await fetch(`${base}/entries`, {
    method: 'POST',
    headers: { authorization },
    body: Buffer.from(packEntry({ writer: 'month', sequence: i + 1, origin: 'live' }, frame)),
  });
}
await client.query(
  'CREATE TABLE month_row (tag int NOT NULL, time bigint NOT NULL, value double precision, status bigint, PRIMARY KEY (tag, time))',
);
await pipeline(
  Readable.from([binaryRows([month])]),
  client.query(copyFrom('COPY month_row FROM STDIN (FORMAT binary)')),
);
await client.query('VACUUM ANALYZE month_row');
await untilPosted();
const read = async (from: number, to: number): Promise<Frame[]> => {
  const { rows } = await client.query<{ frame: Buffer }>(
    'SELECT frame FROM every_block WHERE tag_id = $1 AND first_time < $3 AND last_time >= $2 ORDER BY first_time',
    [ids[TAGS], from * SECOND, to * SECOND],
  );
  return rows.map(({ frame }) => decodeFrame(frame));
};
const dayAsBlocks = await fastest(5, () => read(START, START + DAY));
const dayAsRows = await fastest(5, () =>
  client.query('SELECT time, value, status FROM month_row WHERE tag = $1 AND time >= $2 AND time < $3 ORDER BY time', [
    ids[TAGS],
    START * SECOND,
    (START + DAY) * SECOND,
  ]),
);
row('a day of one-second values from blocks', `${(dayAsBlocks * 1000).toFixed(1)} ms`);
row(
  'the same as rows through node-postgres',
  `${(dayAsRows * 1000).toFixed(1)} ms`,
  `blocks are ${(dayAsRows / dayAsBlocks).toFixed(0)} times as fast (aim 10)`,
);

const window = `from=${new Date(START * 1000).toISOString()}&to=${new Date((START + 30 * DAY) * 1000).toISOString()}`;
const overHttp = await fastest(3, async () => {
  const answer = await fetch(`${base}/history/processed?tag=Month&aggregate=TimeAverage&interval=PT1H&${window}`, {
    headers: { authorization },
  });
  const { rows } = (await answer.json()) as { rows: unknown[] };
  if (rows.length !== 720) throw new Error(`${rows.length} rows instead of 720`);
});
const bySql = await fastest(2, () =>
  client.query(
    `SELECT bucket, sum((value + next_value) / 2 * (next_time - time)) / sum(next_time - time) FROM (
       SELECT time / 3600000000 AS bucket, time, value, lead(time) OVER w AS next_time, lead(value) OVER w AS next_value
       FROM month_row WHERE tag = $1 WINDOW w AS (ORDER BY time)) AS pairs
     WHERE next_time IS NOT NULL GROUP BY bucket ORDER BY bucket`,
    [ids[TAGS]],
  ),
);
row('hourly time average of 30 days, the whole HTTP call', `${(overHttp * 1000).toFixed(0)} ms`);
row(
  'the same by SQL window functions over rows',
  `${(bySql * 1000).toFixed(0)} ms`,
  `the call is ${(bySql / overHttp).toFixed(1)} times as fast (aim 10)`,
);

// What the codec and the engine do on one core.
const encoded = encodeFrame({
  ...month,
  tags: null,
  times: month.times.slice(0, 500_000),
  values: month.values.slice(0, 500_000),
  status: month.status.slice(0, 500_000),
});
const decoding = await fastest(5, () => decodeFrame(encoded));
const buckets = cutIntoBuckets(
  START * SECOND,
  (START + 30 * DAY) * SECOND,
  { kind: 'fixed', micros: 3600 * SECOND },
  'UTC',
);
const averaging = await fastest(3, () =>
  computeAggregate(seriesOf(month), buckets, 'TimeAverage', DEFAULT_CONFIGURATION),
);
row('decoding frames, one core', `${(0.5 / decoding).toFixed(1)} M samples/s`);
row('hourly time average in core alone', `${((30 * DAY) / averaging / 1e6).toFixed(1)} M samples/s`);
const sqlDecode = await fastest(3, () =>
  client.query(`SELECT count(*) FROM history.sample('Month', to_timestamp(${START}), to_timestamp(${START + DAY}))`),
);
row('history.sample in SQL', `${thousands(DAY / sqlDecode)} samples/s`);

await measureEngine({
  base,
  authorization,
  url: `${url}/postgres`,
  client,
  month,
  tag: ids[TAGS]!,
  start: START,
  row,
  fastest,
});
const around: Surroundings = {
  base,
  authorization,
  key,
  client,
  serverPid: server.child.pid!,
  devicePort: Number(process.env.SPEED_DEVICE_PORT),
  data: process.env.WIDE_LEDGER_DATA!,
  row,
};
await measureSpool(around, total / ingest);
await measureLinks(around, url);
await measureCrowd(around);
await measureOutages(around);
await measureSustained({ ...around, server: server.child });
await measureConfiguration(around);
await measurePunctuality(around);
await measureOpcUa(around);
await measureDeriving(around);
await measureMessages(around);
await measureRecords(around);
await measureRecovery(around);
await measureSheet(around);
console.log();
await client.end();
await server.stop();
