/** Files of history out of the archive, read back by libraries that know nothing of it. */
import { DEFAULT_CONFIGURATION, packEntry } from '@wide-ledger/core';
import { DuckDBInstance } from '@duckdb/node-api';
import exceljs from 'exceljs';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { parse } from 'csv-parse/sync';
import { ROOT } from '../../../launch/ground.mjs';
import { ReadingPool } from '../../src/archive/reading/pool.ts';
import { TestSite, frameOf } from './testSite.ts';

const site = await TestSite.open();
const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-files-'));
afterAll(async () => {
  await site.close();
  rmSync(folder, { recursive: true, force: true });
});

const START = Date.UTC(2026, 0, 31, 12) * 1000;
const SECOND = 1_000_000;
const N = 50_000;
const iso = (micros: number): string => new Date(micros / 1000).toISOString();
const window = `from=${iso(START)}&to=${iso(START + N * SECOND)}`;
const valueOf = (i: number): number => Math.round(1000 * Math.sin(i / 777)) / 10;

beforeAll(async () => {
  const real = await site.tag({ name: 'Flow', unit: 'm3/h' });
  const text = await site.tag({ name: 'Shift', type: 'text' });
  const entry = (writer: string, ...frame: Parameters<typeof frameOf>): Uint8Array =>
    packEntry({ writer, sequence: 1, origin: 'live' }, frameOf(...frame));
  const rows = Array.from({ length: N }, (_, i) => [START + i * SECOND, valueOf(i), i === 7 ? 0x80310000 : 0] as const);
  await site.call('POST', '/entries', entry('a', real, rows));
  const notes = [
    [START, 0],
    [START + SECOND, 1],
    [START + 2 * SECOND, 0],
  ] as const;
  await site.call('POST', '/entries', entry('b', text, notes, ['plain', 'with "quotes", a comma\r\nand a line']));
  await site.site.posting.postAll();
});

async function file(query: string): Promise<Buffer> {
  const answer = await fetch(`${site.site.url}/api/v1/history/export?${query}`, { headers: { cookie: site.cookie } });
  expect(answer.status).toBe(200);
  expect(answer.headers.get('content-disposition')).toContain('attachment');
  return Buffer.from(await answer.arrayBuffer());
}

test('CSV holds every sample, quoted as RFC 4180 has it', async () => {
  const text = (await file(`kind=raw&tags=Flow,Shift&format=csv&${window}`)).toString('utf8');
  expect(text.startsWith('tag,time,value,status,quality,origin\r\n')).toBe(true);
  const rows = parse<Record<string, string>>(text, { columns: true, record_delimiter: '\r\n' });
  expect(rows).toHaveLength(N + 3);
  expect(rows[8]).toMatchObject({
    tag: 'Flow',
    time: iso(START + 8 * SECOND),
    value: String(valueOf(8)),
    quality: 'Good',
  });
  expect(rows[7]).toMatchObject({ status: String(0x80310000), quality: 'Bad_NoCommunication' });
  expect(rows[N + 1]!.value).toBe('with "quotes", a comma\r\nand a line');
});

test('XLSX has a sheet for each tag, with dates in UTC', async () => {
  const book = new exceljs.Workbook();
  const bytes = await file(`kind=raw&tags=Flow,Shift&layout=sheets&format=xlsx&${window}`);
  await book.xlsx.load(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as never);
  expect(book.worksheets.map(({ name, rowCount }) => [name, rowCount])).toEqual([
    ['Flow', N + 1],
    ['Shift', 4],
  ]);
  const row = book.getWorksheet('Flow')!.getRow(10);
  expect([row.getCell(1).value, row.getCell(2).value]).toEqual([new Date((START + 8 * SECOND) / 1000), valueOf(8)]);
});

test('Parquet is read by DuckDB to the same sum, with times in microseconds', async () => {
  const path = join(folder, 'flow.parquet');
  writeFileSync(path, await file(`kind=raw&tags=Flow&format=parquet&${window}`));
  const duck = await (await DuckDBInstance.create()).connect();
  const reader = await duck.runAndReadAll(
    `SELECT count(*)::int AS n, sum(value) AS total, epoch_us(min(time))::varchar AS first, count(*) FILTER (WHERE status <> 0)::int AS bad
     FROM '${path}'`,
  );
  const [row] = reader.getRowObjects();
  const total = Array.from({ length: N }, (_, i) => valueOf(i)).reduce((sum, value) => sum + value, 0);
  expect(row).toMatchObject({ n: N, first: String(START), bad: 1 });
  expect(row!.total as number).toBeCloseTo(total, 6);
});

test('a table of aggregates stands tag beside tag', async () => {
  const text = (
    await file(`kind=processed&tags=Flow&aggregates=Count,Maximum&interval=PT1H&format=csv&${window}`)
  ).toString('utf8');
  const [head, first] = parse(text);
  expect(head).toEqual(['from', 'to', 'Flow Count', 'Flow Count quality', 'Flow Maximum', 'Flow Maximum quality']);
  expect(first!.slice(0, 3)).toEqual([iso(START), iso(START + 3600 * SECOND), '3599']);
});

test('values at times are a file, too, tag by tag', async () => {
  const times = [START + 0.5 * SECOND, START + 1.5 * SECOND].map(iso).join(',');
  const text = (await file(`kind=at&tags=Flow,Shift&times=${times}&format=csv&${window}`)).toString('utf8');
  expect(parse(text)).toEqual([
    ['tag', 'time', 'value', 'status', 'quality'],
    ['Flow', iso(START + 0.5 * SECOND), String((valueOf(0) + valueOf(1)) / 2), '1026', 'Good, Interpolated'],
    ['Flow', iso(START + 1.5 * SECOND), String((valueOf(1) + valueOf(2)) / 2), '1026', 'Good, Interpolated'],
    ['Shift', iso(START + 0.5 * SECOND), 'plain', '1026', 'Good, Interpolated'],
    ['Shift', iso(START + 1.5 * SECOND), 'with "quotes", a comma\r\nand a line', '1026', 'Good, Interpolated'],
  ]);
  const without = await site.call<{ detail: string }>('GET', `/history/export?kind=at&tags=Flow&${window}`);
  expect([without.status, without.body.detail]).toEqual([400, 'times: give at least one time.']);
});

test('of a long file nothing is held on to that was handed over', async () => {
  setFlagsFromString('--expose-gc');
  const collectGarbage = runInNewContext('gc') as () => void;
  const [{ id }] = (await site.query<{ id: number }>("SELECT id FROM tag WHERE name = 'Flow'")) as [{ id: number }];
  const pool = new ReadingPool(join(ROOT, 'server/dist/readingLoader.cjs'), {
    databaseUrl: site.databaseUrl,
    sealKey: new Uint8Array(32),
    logLevel: 'silent',
  });
  const tag = { id, name: 'Flow', type: 'real', unit: '', states: null, store: 1, watchedUntil: -Infinity } as const;
  const span = { from: START, to: START + N * SECOND, bounds: false, newestFirst: false, limit: null } as const;
  const request = {
    kind: 'raw',
    format: 'xlsx',
    layout: 'table',
    named: true,
    localZone: null,
    echo: {},
    ...span,
  } as const;
  const handed: WeakRef<Uint8Array>[] = [];
  const reading = pool.read(
    { ...request, tags: [{ ...tag, configuration: DEFAULT_CONFIGURATION }] },
    'somebody',
    new AbortController().signal,
  );
  try {
    for (let chunk = await reading.next(); handed.length < 12; chunk = await reading.next()) {
      expect(chunk.done).toBe(false);
      handed.push(new WeakRef(chunk.value as Uint8Array));
    }
    await new Promise((done) => setImmediate(done));
    collectGarbage();
    expect(handed.slice(0, 10).filter((chunk) => chunk.deref() !== undefined)).toEqual([]);
  } finally {
    await reading.return(undefined);
    await pool.close();
  }
});

test.each(['csv', 'xlsx'])('who leaves a file of %s ends the reading', async (format) => {
  const left = new AbortController();
  const answer = await fetch(`${site.site.url}/api/v1/history/export?kind=raw&tags=Flow&format=${format}&${window}`, {
    headers: { cookie: site.cookie },
    signal: left.signal,
  });
  await answer.body!.getReader().read();
  left.abort();
  const busy =
    "SELECT count(*) AS n FROM pg_stat_activity WHERE datname = current_database() AND state = 'idle in transaction'";
  for (;;) {
    const [{ n }] = (await site.query<{ n: number }>(busy)) as [{ n: number }];
    if (n === 0) break;
    await new Promise((done) => setTimeout(done, 20));
  }
});
