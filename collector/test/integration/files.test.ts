/** Files on a real disk: logs that grow, are named anew, copied and emptied, written anew and broken; a laboratory's workbook. */
import type { RecordAddress } from '@wide-ledger/contract';
import { filesConnection } from '@wide-ledger/contract';
import { Status, formatInstant, parseInstant } from '@wide-ledger/core';
import exceljs from 'exceljs';
import {
  appendFileSync,
  copyFileSync,
  mkdirSync,
  mkdtempSync,
  renameSync,
  rmSync,
  symlinkSync,
  truncateSync,
  unlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { SourceAway, files, type SourceOf, type Surroundings } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { RecordReader, type ConnectionOf } from '../recordReader.ts';
import { tagAt } from '../tags.ts';

type Connection = ConnectionOf<'files'>;

let folder: string;
let around: Surroundings;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'wide-ledger-files-'));
  around = { ...ALONE, readable: [folder] };
});
afterEach(() => {
  for (const { session } of opened.splice(0)) session.close();
  rmSync(folder, { recursive: true, force: true });
});

const source = (over: Partial<Connection> = {}): SourceOf<'files'> => ({
  name: 'Logs',
  kind: 'files',
  connection: filesConnection.parse({ folder, ...over }),
});
const tag = (id: number, series: string, type = 'real') => tagAt<RecordAddress>(id, { series }, { type });
const TAGS = [tag(1, 'flow'), tag(2, 'level')];

const opened: RecordReader<'files'>[] = [];
const open = async (over: Partial<Connection> = {}, tags = TAGS): Promise<RecordReader<'files'>> => {
  const reader = new RecordReader(await files.open(source(over), around), tags);
  opened.push(reader);
  return reader;
};
const path = (name: string): string => join(folder, name);
const line = (n: number, ...cells: (number | string)[]): string =>
  `${formatInstant(parseInstant('2026-11-27T12:00:00Z')! + n * 1e6)},${cells.join(',')}\n`;
/** The time of day of a sample, in UTC. */
const clock = (sourceTime: number | null): string => formatInstant(sourceTime!).slice(11, 19);
const HEADER = 'time,flow,level\n';

test('a log that grows is read on, line by line; a line is read when it is whole', async () => {
  writeFileSync(path('log.csv'), HEADER + line(1, 10, 1) + line(2, 20, 2) + '2026-11-27T12:00:0');
  const reader = await open();
  const samples = await reader.rest();
  expect(samples.map(({ tag: id, value, sourceTime }) => [id, value, clock(sourceTime)])).toEqual([
    [1, 10, '12:00:01'],
    [2, 1, '12:00:01'],
    [1, 20, '12:00:02'],
    [2, 2, '12:00:02'],
  ]);
  appendFileSync(path('log.csv'), '3Z,30,3\n');
  expect(await reader.values()).toEqual([30]);
  expect(await reader.values()).toEqual([]);
});

test('a line without its end is half a value, however long it rests; but for files that are written in one go', async () => {
  writeFileSync(path('log.csv'), HEADER + line(1, '12').trimEnd());
  const [reader, inOneGo] = [await open(), await open({ unended: true })];
  expect([await reader.values(), await inOneGo.values()]).toEqual([[], []]);
  const before = Date.now() / 1000 - 60;
  utimesSync(path('log.csv'), before, before);
  expect([await reader.values(), await inOneGo.values()]).toEqual([[], [12]]);
  appendFileSync(path('log.csv'), '34.5,7\n');
  expect(await reader.values()).toEqual([1234.5]);
});

test('a log that is rotated away between two looks, or between looking and opening, is read to its end', async () => {
  writeFileSync(path('log.csv'), HEADER + line(1, 10, 1));
  const reader = await open();
  expect(await reader.values()).toEqual([10]);
  // Out of the folder, and another one in its place: nothing of it is found by looking any more.
  const away = mkdtempSync(join(tmpdir(), 'wide-ledger-rotated-'));
  appendFileSync(path('log.csv'), line(2, 20, 2));
  renameSync(path('log.csv'), join(away, 'log.csv'));
  writeFileSync(path('log.csv'), HEADER + line(3, 30, 3));
  expect((await reader.values()).toSorted()).toEqual([20, 30]);
  // Whoever writes it may not have heard of that yet.
  appendFileSync(join(away, 'log.csv'), line(4, 40, 4));
  expect(await reader.values()).toEqual([40]);
  // Taken away for good.
  appendFileSync(path('log.csv'), line(5, 50, 5));
  unlinkSync(path('log.csv'));
  expect(await reader.values()).toEqual([50]);
  // While the folder is looked through names change: under the name that was found lies another file by then.
  const racing = await open({ names: 'log*' });
  const read = new Set<unknown>();
  let isRotating = true;
  const rotating = (async () => {
    for (let n = 6; n < 206; n++) {
      writeFileSync(path('next'), HEADER + line(n, n, n));
      if (n > 6) renameSync(path('log.csv'), path(`log.${n}.old`));
      renameSync(path('next'), path('log.csv'));
      await new Promise((done) => setImmediate(done));
    }
    isRotating = false;
  })();
  while (isRotating) for (const value of await racing.values()) read.add(value);
  await rotating;
  for (const value of await racing.values()) read.add(value);
  expect([...read].toSorted((one, other) => Number(one) - Number(other))).toEqual(
    Array.from({ length: 200 }, (_, i) => 6 + i),
  );
  expect(racing.troubles).toEqual([]);
  rmSync(away, { recursive: true });
});

test('a quote that nothing ends costs its own line, which is told, and none behind it', async () => {
  const more = Array.from({ length: 40 }, (_, i) => line(2 + i, 10 * (2 + i), i)).join('');
  writeFileSync(path('log.csv'), HEADER + line(1, 10, 1) + `2026-11-27T12:00:01.5Z,"15,1\n` + more);
  const reader = await open();
  expect(await reader.values()).toEqual([10, ...Array.from({ length: 40 }, (_, i) => 10 * (2 + i))]);
  expect(reader.troubles).toHaveLength(1);
  expect(reader.troubles[0]).toContain(
    'log.csv: the line that begins at byte 46 has an opening quote without a closing one',
  );
  expect(reader.troubles[0]).toContain('It is skipped: 2026-11-27T12:00:01.5Z,"15,1');
});

test('Windows-1252 has letters where Latin-1 has none', async () => {
  // 0x80 is the euro sign (WHATWG Encoding Standard, index windows-1252).
  writeFileSync(
    path('log.csv'),
    Buffer.from('time,\u0080 a day,\u00f6l\n2026-11-27T12:00:01Z,7,\u0093x\u0094\n', 'latin1'),
  );
  const reader = await open({}, [tag(1, '€ a day'), tag(2, 'öl', 'text')]);
  expect((await reader.rest()).map(({ value }) => value)).toEqual([7, '“x”']);
});

test('rotation: given another name, also one that is not looked for, or copied and emptied', async () => {
  writeFileSync(path('log.csv'), HEADER + line(1, 10, 1));
  const reader = await open();
  expect(await reader.values()).toEqual([10]);
  appendFileSync(path('log.csv'), line(2, 20, 2));
  renameSync(path('log.csv'), path('log.csv.1'));
  writeFileSync(path('log.csv'), HEADER + line(3, 30, 3));
  expect((await reader.values()).sort()).toEqual([20, 30]);

  appendFileSync(path('log.csv'), line(4, 40, 4));
  copyFileSync(path('log.csv'), path('old.csv'));
  truncateSync(path('log.csv'));
  appendFileSync(path('log.csv'), HEADER + line(5, 50, 5));
  expect((await reader.values()).sort()).toEqual([40, 50]);
});

test('a file written anew in place is read again; one that comes late and one that goes are no trouble', async () => {
  writeFileSync(path('a.csv'), HEADER + line(1, 10, 1) + line(2, 20, 2));
  const reader = await open();
  expect(await reader.values()).toEqual([10, 20]);
  writeFileSync(path('a.csv'), HEADER + line(1, 10, 1) + line(2, 21, 2) + line(3, 30, 3));
  expect(await reader.values()).toEqual([10, 21, 30]);
  writeFileSync(path('late.csv'), HEADER + line(0, 5, 0));
  expect(await reader.values()).toEqual([5]);
  unlinkSync(path('a.csv'));
  expect(await reader.values()).toEqual([]);
  expect(reader.troubles).toEqual([]);
});

test('at its end: what lies there is left alone, what is added is read', async () => {
  writeFileSync(path('log.csv'), HEADER + line(1, 10, 1));
  const reader = await open({ begin: 'at its end' });
  expect(await reader.values()).toEqual([]);
  appendFileSync(path('log.csv'), line(2, 20, 2));
  writeFileSync(path('new.csv'), HEADER + line(3, 30, 3));
  expect((await reader.values()).sort()).toEqual([20, 30]);
});

test('a row for each value, in another dialect, with lines before and names that change on the way', async () => {
  const over = {
    series: 'Punkt',
    value: 'Wert',
    time: 'Zeit',
    status: 'Güte',
    statusIs: 'byte',
    decimal: 'comma',
    dates: 'dmy',
    zone: 'Europe/Berlin',
    linesBefore: 2,
  } as const;
  const text = [
    'Anlage 7',
    '',
    'Zeit;Punkt;Wert;Güte',
    '27.11.2026 13:00:00;flow;1,5;192',
    '27.11.2026 13:00:00;other;9;192',
    '27.11.2026 13:00:01;flow;;0',
    'Punkt;Zeit;Wert;Güte',
    'flow;27.11.2026 13:00:02;2,5;64',
    '',
  ].join('\r\n');
  writeFileSync(path('log.csv'), Buffer.from(text, 'latin1'));
  const reader = await open(over);
  expect((await reader.rest()).map(({ value, status, sourceTime }) => [value, status, clock(sourceTime)])).toEqual([
    [1.5, Status.Good, '12:00:00'],
    [null, Status.Bad, '12:00:01'],
    [2.5, Status.Uncertain, '12:00:02'],
  ]);
});

test('a log that names its columns anew goes on under the new names, also in what is written later', async () => {
  writeFileSync(path('log.csv'), HEADER + line(1, 10, 1) + 'time,level,flow\n' + line(2, 2, 20));
  const reader = await open();
  expect(await reader.values()).toEqual([10, 20]);
  appendFileSync(path('log.csv'), line(3, 3, 30));
  expect(await reader.values()).toEqual([30]);
});

test.each([
  ['little end first', (bytes: Buffer) => bytes],
  ['big end first', (bytes: Buffer) => bytes.swap16()],
])('a log in UTF-16, %s, is read as it grows, also where a piece ends within a letter', async (_, turned) => {
  const bytes = (text: string): Buffer => turned(Buffer.from(text, 'utf16le'));
  // Letters that hold the bytes of a line end and of a quote.
  const head = 'time,Grö\u0a0aße,\u2222\n';
  writeFileSync(path('log.csv'), bytes(`\ufeff${head}${line(1, 10, 'a')}`));
  const reader = await open({}, [tag(1, 'Grö\u0a0aße'), tag(2, '\u2222', 'text')]);
  const shown = async () => (await reader.rest()).map(({ tag, value }) => [tag, value]);
  expect(await shown()).toEqual([
    [1, 10],
    [2, 'a'],
  ]);
  const more = bytes(line(2, 20, '"b\n\u0a0a"') + line(3, 30, 'c'));
  appendFileSync(path('log.csv'), more.subarray(0, more.length - 3));
  expect(await shown()).toEqual([
    [1, 20],
    [2, 'b\n\u0a0a'],
  ]);
  appendFileSync(path('log.csv'), more.subarray(more.length - 3));
  expect(await shown()).toEqual([
    [1, 30],
    [2, 'c'],
  ]);
});

test('what cannot be read is told once, and the others are read', async () => {
  writeFileSync(path('b.csv'), 'when,flow\n' + line(1, 10));
  writeFileSync(path('c.csv'), HEADER + line(1, 10, 1) + 'never,11,1\n' + line(2, 'n/a', 2) + line(3, 30, 3));
  writeFileSync(path('d.csv'), `${HEADER}"${'x'.repeat(1_100_000)}`);
  writeFileSync(path('e.csv'), '');
  const reader = await open();
  // What is no number goes on as it is written: the archive sets it aside.
  expect(await reader.values()).toEqual([10, 'n/a', 30]);
  expect(reader.troubles).toEqual([
    'b.csv: There is no column time. There are: when, flow.',
    'c.csv: "never" is no time by the order and the zone that are set (UTC).',
    expect.stringMatching(
      /^d\.csv: the line that begins at byte 16 has an opening quote without a closing one, or is longer than 1000000 bytes/,
    ),
  ]);
  expect([await reader.values(), reader.troubles.length]).toEqual([[], 3]);
});

test('more than is read at a time comes part by part, each row once', async () => {
  const rows = 60_000;
  writeFileSync(path('log.csv'), HEADER + Array.from({ length: rows }, (_, i) => line(i, i, -i)).join(''));
  const reader = await open();
  expect(await reader.values(2)).toEqual(Array.from({ length: rows }, (_, i) => (i === 0 ? 0 : -i)));
});

test('a folder that the collector may not read is refused, by links, too', async () => {
  const inside = join(folder, 'inside');
  mkdirSync(inside);
  around = { ...ALONE, readable: [inside] };
  symlinkSync(folder, join(inside, 'out'));
  symlinkSync('/etc/passwd', join(inside, 'passwd.csv'));
  const opened = (where: string) => files.open(source({ folder: where }), around);
  await expect(opened(folder)).rejects.toThrow('is not among the folders that this collector may read');
  await expect(opened(join(inside, 'out'))).rejects.toThrow('is not among the folders');
  await expect(opened(join(inside, '..'))).rejects.toThrow('is not among the folders');
  await expect(opened(join(inside, 'none'))).rejects.toThrow(SourceAway);
  await expect(open({ folder: inside }).then((reader) => reader.values())).resolves.toEqual([]);
});

test('a workbook: dates by the clock of the zone, formulas by their stored value; saved again, only what is new is told', async () => {
  const save = async (rows: unknown[][]): Promise<void> => {
    const book = new exceljs.Workbook();
    book.addWorksheet('Notes').addRow(['nothing']);
    const sheet = book.addWorksheet('Results');
    sheet.addRow(['time', 'flow', 'level']);
    for (const row of rows) sheet.addRow(row);
    await book.xlsx.writeFile(path('lab.xlsx'));
  };
  const day = (hour: number): Date => new Date(Date.UTC(2026, 10, 27, hour));
  await save([
    [day(8), 7.1, { formula: 'B2*2', result: 14.2 }],
    [day(9), 7.2, null],
  ]);
  const reader = await open({ names: '*.xlsx', sheet: 'Results', zone: 'Europe/Berlin' });
  expect((await reader.rest()).map(({ tag: id, value, sourceTime }) => [id, value, clock(sourceTime)])).toEqual([
    [1, 7.1, '07:00:00'],
    [2, 14.2, '07:00:00'],
    [1, 7.2, '08:00:00'],
  ]);
  await save([
    [day(8), 7.1, { formula: 'B2*2', result: 14.2 }],
    [day(9), 7.25, null],
    [day(10), 7.3, null],
  ]);
  expect(await reader.values()).toEqual([7.25, 7.3]);
  // A tag that comes later catches up, by a cursor of its own, in the same session.
  const late = new RecordReader<'files'>(reader.session, [tag(9, 'flow')]);
  late.cursor = {};
  expect(await late.values(9)).toEqual([7.1, 7.25, 7.3]);
  expect(await reader.values()).toEqual([]);
});

test('the path check, the tree and a look at the rows', async () => {
  const check = () => files.check(source(), around, () => undefined);
  expect((await check()).rungs.map(({ outcome }) => outcome)).toEqual(['passed', 'failed', 'not reached']);
  writeFileSync(path('log.csv'), HEADER + line(1, 10, 1) + line(2, 'n/a', 2));
  const { passed, rungs } = await check();
  expect(passed).toBe(true);
  expect(rungs[1]!.sentence).toBe('log.csv has the columns time, flow, level.');
  expect(
    (await files.browse!(source(), null, around)).nodes.map(({ name, type, value }) => [name, type, value]),
  ).toEqual([
    ['flow', 'text', 'n/a'],
    ['level', 'real', '2'],
  ]);
  expect(await files.rows!(source(), around)).toMatchObject({
    read: 2,
    series: ['flow', 'level'],
    troubles: [{ sentence: '"n/a" is no number: it is set aside.', times: 1 }],
    said: 'Of log.csv, which was written last.',
  });
});

test('a workbook whose cells have names: each name is a column, wherever it lies; what has one cell holds for every row', async () => {
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet('Report of today');
  sheet.getCell('H2').value = new Date(Date.UTC(2026, 10, 27, 8));
  sheet.getCell('B7').value = { formula: 'B8*2', result: 12.5 };
  ['a', 'b'].forEach((letter, i) => (sheet.getCell(20, 3 + i).value = letter));
  sheet.getCell('D4').value = 99;
  const { definedNames } = book;
  definedNames.add("'Report of today'!$H$2", 'time');
  definedNames.add("'Report of today'!$B$7", 'flow');
  definedNames.add("'Report of today'!$C$20:$D$20", 'note');
  definedNames.add("'Report of today'!$A$1:$B$2", 'block');
  await book.xlsx.writeFile(path('report.xlsx'));
  const of = { names: '*.xlsx', named: true };
  const reader = await open(of, [tag(1, 'flow'), tag(2, 'note', 'text'), tag(3, 'block')]);
  const told = (await reader.rest()).map(({ tag: id, value, sourceTime }) => [id, value, clock(sourceTime)]);
  expect(told).toEqual(
    expect.arrayContaining([
      [1, 12.5, '08:00:00'],
      [2, 'a', '08:00:00'],
    ]),
  );
  expect(told.filter(([id]) => id === 3)).toEqual([]);
  const without = new exceljs.Workbook();
  without.addWorksheet('Sheet').addRow(['time']);
  await without.xlsx.writeFile(path('plain.xlsx'));
  await reader.rest();
  expect(reader.troubles).toContain('plain.xlsx has no cells with names.');
});
