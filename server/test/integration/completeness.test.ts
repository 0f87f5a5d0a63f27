/** How complete the record is, by places and days over duty: as figures, as a table, as a workbook, as a report. */
import type { CompletenessAnswer } from '@wide-ledger/contract';
import { HOUR, formatInstant } from '@wide-ledger/core';
import exceljs from 'exceljs';
import { TestSite } from './testSite.ts';

/** Berlin's clocks go back in this night: the day has 25 hours. */
const START = Date.UTC(2026, 9, 23, 22) * 1000;
const at = (hour: number): number => START + hour * HOUR;

let site: TestSite;
beforeAll(async () => {
  site = await TestSite.open({ WIDE_LEDGER_ZONE: 'Europe/Berlin', WIDE_LEDGER_SITE: 'Thornmere' });
  const connection = { host: '127.0.0.1', port: 1, unit: 1, timeoutMilliseconds: 1000 };
  const { body } = await site.call<{ id: number }>('PUT', '/sources', { name: 'D', kind: 'modbus-tcp', connection });
  const make = (name: string, place: string, address: number) =>
    site.tag({
      name,
      type: 'real',
      place,
      inForceSince: formatInstant(START),
      collection: { source: 'D', address: { area: 'holding', address } },
    });
  await make('A', 'Wells / Well 1', 1);
  const own = await make('B', 'Wells / Well 2', 2);
  await make('C', 'Plant', 3);
  await site.tag({ name: 'SENT', type: 'real', place: 'Plant' });
  const source = body.id;
  const gone = { cause: 'source', sentence: 'It was off.', code: 'OFF', recoverable: false, source } as const;
  const entry = {
    writer: 'w/1',
    sequence: 1,
    origin: 'live',
    watches: [
      { source, version: 1, from: at(0), to: at(30) },
      { source, version: 1, from: at(36), to: at(73) },
    ],
    outages: [
      { ...gone, tag: null, from: at(30), to: at(36) },
      // A tag alone, on the third day.
      { ...gone, cause: 'tag', tag: own, from: at(60), to: at(61), within: true },
    ],
  };
  expect((await site.entry(entry, null)).status).toBe(200);
  const said = { source: 'D', from: formatInstant(at(30)), to: formatInstant(at(32)), reason: 'A fuse was replaced.' };
  expect((await site.call('POST', '/gaps/explanations', said)).status).toBe(201);
}, 60_000);
afterAll(() => site.close());

// Three days by Berlin's clock: 24, 25 and 24 hours.
const window = `from=${formatInstant(at(0))}&to=${formatInstant(at(73))}`;
const ask = async (more = '') => (await site.call<CompletenessAnswer>('GET', `/completeness?${window}${more}`)).body;

test('places by days: hours of all their tags, what is missing of them, what of that was explained', async () => {
  const { rows, edges, zone } = await ask();
  expect(zone).toBe('Europe/Berlin');
  expect(edges.map((edge) => (Date.parse(edge) * 1000 - START) / HOUR)).toEqual([0, 24, 49, 73]);
  const told = rows.map(({ place, tags, cells }) => [
    place,
    tags,
    cells.map(({ dueSeconds, missingSeconds, explainedSeconds }) =>
      [dueSeconds, missingSeconds, explainedSeconds].map((seconds) => seconds / 3600),
    ),
  ]);
  expect(told).toEqual([
    [
      '',
      3,
      [
        [72, 0, 0],
        [75, 18, 6],
        [72, 1, 0],
      ],
    ],
    [
      'Plant',
      1,
      [
        [24, 0, 0],
        [25, 6, 2],
        [24, 0, 0],
      ],
    ],
    [
      'Wells',
      2,
      [
        [48, 0, 0],
        [50, 12, 4],
        [48, 1, 0],
      ],
    ],
    [
      'Wells / Well 1',
      1,
      [
        [24, 0, 0],
        [25, 6, 2],
        [24, 0, 0],
      ],
    ],
    [
      'Wells / Well 2',
      1,
      [
        [24, 0, 0],
        [25, 6, 2],
        [24, 1, 0],
      ],
    ],
  ]);
  expect(rows[0]!.percent).toBeCloseTo(100 * (1 - 19 / 219), 9);
  expect(rows[0]!.cells[1]!.percent).toBeCloseTo(76, 9);
});

test('places and tags that are numbered stand in the order of their numbers', async () => {
  const collection = { source: 'D', address: { area: 'holding', address: 9 } };
  for (const n of [10, 9]) await site.tag({ name: `N-${n}`, type: 'real', place: `Numbered / Row ${n}`, collection });
  const ahead = async (rows: string) =>
    (await site.call<CompletenessAnswer>('GET', `/completeness?from=now-1d&to=now&place=Numbered&rows=${rows}`)).body
      .rows;
  expect((await ahead('place')).map(({ place }) => place)).toEqual([
    '',
    'Numbered',
    'Numbered / Row 9',
    'Numbered / Row 10',
  ]);
  expect((await ahead('tag')).map(({ tag }) => tag)).toEqual(['N-9', 'N-10']);
});

test('by tag, of one place, by month, in another zone', async () => {
  const { rows } = await ask('&rows=tag&place=Wells&by=month&zone=UTC');
  expect(rows.map(({ place, tag, cells }) => [place, tag, cells.map(({ percent }) => percent)])).toEqual([
    ['Wells / Well 1', 'A', [100 * (1 - 6 / 73)]],
    ['Wells / Well 2', 'B', [100 * (1 - 7 / 73)]],
  ]);
});

test('what is not due yet is not missing: time to come, and before a tag was in force', async () => {
  const later = await site.call<CompletenessAnswer>(
    'GET',
    `/completeness?from=${formatInstant(at(-48))}&to=${formatInstant(at(0))}`,
  );
  expect(later.body.rows).toEqual([expect.objectContaining({ place: '', tags: 0, percent: null })]);
  const ahead = await site.call<CompletenessAnswer>('GET', '/completeness?from=now-1h&to=now%2B3d');
  for (const { dueSeconds } of ahead.body.rows[0]!.cells.slice(2)) expect(dueSeconds).toBe(0);
});

test('as CSV a line for each place and day; as XLSX with the gaps and what was said of them', async () => {
  const csv = await site.call<string>('GET', `/completeness?${window}&format=csv`);
  expect(csv.body.split('\r\n')[0]).toBe('place,tag,from,to,due seconds,missing seconds,explained seconds,complete %');
  expect(csv.body).toContain('Plant,,2026-10-24T22:00:00.000Z,2026-10-25T23:00:00.000Z,90000,21600,7200,76');
  const answer = await fetch(`${site.site.url}/api/v1/completeness?${window}&format=xlsx`, {
    headers: { cookie: site.cookie },
  });
  expect(answer.headers.get('content-disposition')).toContain('completeness-2026-10-24.xlsx');
  const book = new exceljs.Workbook();
  await book.xlsx.load(await answer.arrayBuffer());
  const rowsOf = (name: string): unknown[][] =>
    book
      .getWorksheet(name)!
      .getSheetValues()
      .slice(1)
      .map((row) => (row as unknown[]).slice(1));
  expect(rowsOf('Completeness')[0]).toEqual([
    'place',
    'tags',
    'due hours',
    'missing hours',
    'explained hours',
    'complete %',
    '2026-10-24 %',
    '2026-10-25 %',
    '2026-10-26 %',
  ]);
  expect(rowsOf('Completeness')[1]).toEqual([
    'Thornmere',
    3,
    219,
    19,
    6,
    expect.closeTo(91.324, 3),
    100,
    76,
    expect.closeTo(98.61, 2),
  ]);
  expect(rowsOf('Gaps').map((row) => [row[3], row[6], row[8] ?? null])).toEqual(
    expect.arrayContaining([
      ['3 tags', 'open', 'A fuse was replaced.'],
      ['B', 'open', null],
    ]),
  );
});

test('as PDF it is a report of pages', async () => {
  const answer = await fetch(`${site.site.url}/api/v1/completeness?${window}&format=pdf`, {
    headers: { cookie: site.cookie },
  });
  const bytes = Buffer.from(await answer.arrayBuffer());
  expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'application/pdf']);
  expect(bytes.subarray(0, 5).toString()).toBe('%PDF-');
  expect(bytes.subarray(-6).toString()).toContain('%%EOF');
  expect(bytes.length).toBeGreaterThan(5000);
});

test.each([
  ['&by=hour&from=now-100d&to=now', 'cells are too many'],
  ['&zone=Mars/Base', 'time zone'],
  ['&by=week', 'by'],
])('%s is refused with a sentence', async (more, words) => {
  const base = more.includes('from=') ? '' : window;
  const { status, body } = await site.call<{ detail: string }>('GET', `/completeness?${base}${more}`);
  expect([status, body.detail]).toEqual([400, expect.stringContaining(words)]);
});
