/** The table of docs/formats.md, row by row: every type and special value, read back by libraries that know nothing of the archive. */
import { DuckDBInstance } from '@duckdb/node-api';
import { parse } from 'csv-parse/sync';
import exceljs from 'exceljs';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { TestSite } from './testSite.ts';

const site = await TestSite.open();
const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-formats-'));
afterAll(async () => {
  await site.close();
  rmSync(folder, { recursive: true, force: true });
});

/** Of each type: what is sent in, as JSON has it. */
const SENT = {
  real: [0.1, 'NaN', 'Infinity', '-Infinity', '-0', 1e-310, 123456789.123456],
  integer: [7, '9007199254740993', '-9223372036854775808', '9223372036854775807'],
  boolean: [true, false],
  text: ['', ' ', 'NaN', '=1+1', 'a "b", c;d', 'two\nlines', '0012', 'µ → 日本'],
  state: ['Running', 'Stopped', 7],
} as const;
type Type = keyof typeof SENT;
const TYPES = Object.keys(SENT) as Type[];
const at = (i: number): string => `2026-03-01T00:00:${String(i).padStart(2, '0')}.000001Z`;
const WINDOW = 'from=2026-03-01T00:00:00Z&to=2026-03-01T00:01:00Z';

beforeAll(async () => {
  for (const type of TYPES) {
    await site.tag({ name: type, type, ...(type === 'state' ? { states: { 0: 'Stopped', 1: 'Running' } } : {}) });
    const samples = [
      ...SENT[type].map((value, i) => ({ tag: type, time: at(i), value })),
      { tag: type, time: at(30), value: null, status: 'Bad_NoCommunication' },
    ];
    const answer = await fetch(`${site.site.url}/api/v1/samples`, {
      method: 'POST',
      headers: { cookie: site.cookie, 'content-type': 'application/json' },
      // JSON has a −0, though its writer here has not.
      body: JSON.stringify({ samples }).replace('"-0"', '-0'),
    });
    expect(await answer.json()).toMatchObject({ accepted: samples.length, setAside: [] });
  }
});

async function exported(type: Type, format: string): Promise<Buffer> {
  const path = `${site.site.url}/api/v1/history/export?kind=raw&tags=${type}&format=${format}&${WINDOW}`;
  const answer = await fetch(path, { headers: { cookie: site.cookie } });
  expect(answer.status).toBe(200);
  return Buffer.from(await answer.arrayBuffer());
}

describe.each(['before posting', 'after posting'])('%s', (when) => {
  beforeAll(async () => {
    if (when === 'after posting') await site.site.posting.postAll();
  });

  test.each<[Type, string, unknown[]]>([
    ['real', 'DOUBLE', [0.1, NaN, Infinity, -Infinity, -0, 1e-310, 123456789.123456, null]],
    ['integer', 'BIGINT', [7n, 9007199254740993n, -9223372036854775808n, 9223372036854775807n, null]],
    ['boolean', 'BOOLEAN', [true, false, null]],
    ['text', 'VARCHAR', [...SENT.text, null]],
    ['state', 'VARCHAR', ['Running', 'Stopped', '7', null]],
  ])('Parquet of %s is %s to DuckDB', async (type, column, values) => {
    const path = join(folder, `${type}.parquet`);
    writeFileSync(path, await exported(type, 'parquet'));
    const connection = await (await DuckDBInstance.create(':memory:')).connect();
    const rows = await connection.runAndReadAll(
      `SELECT value, typeof(value), epoch_us(time), status FROM '${path}' ORDER BY time`,
    );
    const read = rows.getRows();
    expect(read.map(([value]) => value)).toEqual(values);
    expect(read.map(([, name]) => name)).toEqual(values.map(() => column));
    expect(read[0]![2]).toBe(BigInt(Date.parse('2026-03-01T00:00:00Z')) * 1000n + 1n);
    expect(read.map(([, , , status]) => status)).toEqual(values.map((value) => (value === null ? 0x80310000n : 0n)));
  });

  test.each<[Type, string[]]>([
    ['real', ['0.1', 'NaN', 'Infinity', '-Infinity', '-0', '1e-310', '123456789.123456', '']],
    ['integer', ['7', '9007199254740993', '-9223372036854775808', '9223372036854775807', '']],
    ['boolean', ['true', 'false', '']],
    ['text', [...SENT.text, '']],
    ['state', ['Running', 'Stopped', '7', '']],
  ])('CSV of %s', async (type, values) => {
    const rows = parse<Record<string, string>>(await exported(type, 'csv'), { columns: true });
    expect(rows.map(({ value }) => value)).toEqual(values);
    expect(rows.map(({ time }) => time)[1]).toBe(at(1));
  });

  test('CSV tells an empty text from no value', async () => {
    const lines = (await exported('text', 'csv')).toString('utf8').split('\r\n');
    expect(lines[1]).toMatch(/^text,[^,]+,"",0,/);
    expect(lines.find((line) => line.includes(',2150694912,'))).toMatch(/^text,[^,]+,,2150694912,/);
  });

  test.each<[Type, unknown[]]>([
    ['real', [0.1, 'NaN', 'Infinity', '-Infinity', -0, 1e-310, 123456789.123456, null]],
    ['integer', [7, '9007199254740993', '-9223372036854775808', '9223372036854775807', null]],
    ['boolean', [true, false, null]],
    ['text', [...SENT.text, null]],
    ['state', ['Running', 'Stopped', 7, null]],
  ])('JSON of %s', async (type, values) => {
    const { samples } = JSON.parse((await exported(type, 'json')).toString('utf8')) as {
      samples: { value: unknown }[];
    };
    expect(samples.map(({ value }) => value)).toEqual(values);
  });

  test.each<[Type, unknown[]]>([
    ['real', [0.1, 'NaN', 'Infinity', '-Infinity', 0, 1e-310, 123456789.123456, null]],
    ['integer', [7, '9007199254740993', '-9223372036854775808', '9223372036854775807', null]],
    ['boolean', [true, false, null]],
    ['text', [null, ...SENT.text.slice(1), null]],
    ['state', ['Running', 'Stopped', 7, null]],
  ])('XLSX of %s', async (type, values) => {
    const book = new exceljs.Workbook();
    await book.xlsx.load((await exported(type, 'xlsx')) as unknown as ArrayBuffer);
    const sheet = book.worksheets[0]!;
    const column = (sheet.getRow(1).values as string[]).indexOf('value');
    const read = Array.from({ length: sheet.rowCount - 1 }, (_, i) => sheet.getRow(i + 2).getCell(column).value);
    expect(read).toEqual(values);
  });
});
