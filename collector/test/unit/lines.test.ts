/** Lines of files that grow, and by what files are known again. */
import fc from 'fast-check';
import { cellsOf, firstLines, lettersOf, separatorOf, wholeLines } from '../../src/kinds/files/lines.ts';
import { marked, type FileMark } from '../../src/kinds/files/marks.ts';
import { fits, type Found } from '../../src/kinds/files/folder.ts';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const quoted = (cell: string): string => `"${cell.replaceAll('"', '""')}"`;

test('law: a text is cut only behind a whole line, and what is read in pieces is what is read at once (RFC 4180)', () => {
  const cell = fc.string({ unit: fc.constantFrom('a', '"', '\n', '\r\n', ',', 'ö', ' ') });
  const lines = fc.array(fc.array(cell, { minLength: 2, maxLength: 3 }), { minLength: 1, maxLength: 8 });
  fc.assert(
    fc.property(lines, fc.array(fc.integer({ min: 1, max: 40 })), (rows, cuts) => {
      const written = rows
        .map((row) => row.map((one, i) => quoted(i === 0 ? `x${one}` : one)).join(',') + '\r\n')
        .join('');
      const all = bytes(written);
      const read: unknown[] = [];
      let begin = 0;
      let end = 0;
      for (const cut of [...cuts, all.length]) {
        end = Math.min(all.length, end + cut);
        const whole = wholeLines(all.subarray(begin, end), ',');
        read.push(...cellsOf(new TextDecoder().decode(all.subarray(begin, begin + whole)), ','));
        begin += whole;
      }
      expect(begin).toBe(all.length);
      expect(read).toEqual(rows.map((row) => row.map((one, i) => (i === 0 ? `x${one}` : one || null))));
    }),
  );
});

test('a quote within a cell is a letter, and holds nothing up', () => {
  expect(wholeLines(bytes('1,5" pipe\n2,"a\n'), ',')).toBe(10);
  expect(cellsOf('1,5" pipe\n', ',')).toEqual([['1', '5" pipe']]);
});

test('lines are counted, letters and separators are found', () => {
  expect(firstLines(bytes('a\nb\nc'), 2)).toBe(4);
  expect(firstLines(bytes('a\nb'), 2)).toBeNull();
  expect(lettersOf(bytes('größe'))).toBe('utf-8');
  expect(lettersOf(Uint8Array.of(0x67, 0x72, 0xf6, 0xdf, 0x65))).toBe('windows-1252');
  expect(separatorOf('"a,b";c;d', { separator: 'by itself' })).toBe(';');
  expect(separatorOf('a;b', { separator: 'tab' })).toBe('\t');
});

test('names are patterns, and nothing else in them is', () => {
  expect(fits('log*.csv', 'log-2026.CSV')).toBe(true);
  expect(fits('log*.csv', 'log-2026xcsv')).toBe(false);
  expect(fits('a(1)?.csv', 'a(1)b.csv')).toBe(true);
  expect(fits('*a*b', 'xaxbxab')).toBe(true);
  expect(fits('*', '')).toBe(true);
  // It comes to an end, however many stars there are.
  expect(fits(`${'*a'.repeat(100)}b`, 'a'.repeat(255))).toBe(false);
});

test('law: a pattern means what the regular expression of it would', () => {
  const letters = fc.string({ unit: fc.constantFrom('a', 'b', '.'), maxLength: 8 });
  const patterns = fc.string({ unit: fc.constantFrom('a', 'b', '.', '*', '?'), maxLength: 6 });
  fc.assert(
    fc.property(patterns, letters, (pattern, name) => {
      const expression = pattern.replace(/\./g, '\\.').replace(/\*/g, '.*').replace(/\?/g, '.');
      expect(fits(pattern, name)).toBe(new RegExp(`^${expression}$`).test(name));
    }),
  );
});

describe('a file is known', () => {
  const HEADER = 'time,a\n';
  const file = (name: string, inode: number, text: string): Found & { readonly text: string } => ({
    name,
    path: name,
    inode,
    size: text.length,
    isMeant: true,
    modified: 1,
    text,
  });
  const printOf = (one: Found, length: number): Promise<string> =>
    Promise.resolve((one as ReturnType<typeof file>).text.slice(0, length));
  const mark = (inode: number, text: string, over: Partial<FileMark> = {}): FileMark => ({
    inode,
    offset: text.length,
    head: HEADER.length,
    printed: text.length,
    print: text,
    tail: '',
    letters: 'utf-8',
    separator: ',',
    names: [],
    time: null,
    modified: 0,
    size: 0,
    ...over,
  });
  const known = async (files: Found[], marks: FileMark[]): Promise<[string, number][]> =>
    [...(await marked(files, marks, printOf))].map(([{ name }, { inode }]) => [name, inode]);

  test('under its number, as it grows', async () => {
    expect(await known([file('log.csv', 5, `${HEADER}1,2\n3,4\n`)], [mark(5, `${HEADER}1,2\n`)])).toEqual([
      ['log.csv', 5],
    ]);
  });

  test('under another name, and where a log was copied and emptied', async () => {
    const old = `${HEADER}1,2\n`;
    expect(await known([file('log.1.csv', 5, old), file('log.csv', 6, HEADER)], [mark(5, old)])).toEqual([
      ['log.1.csv', 5],
    ]);
    expect(await known([file('log.csv', 5, `${HEADER}9,9\n`), file('log.1.csv', 6, old)], [mark(5, old)])).toEqual([
      ['log.1.csv', 5],
    ]);
  });

  test('not by a header that all files of its kind have, nor where it was written anew', async () => {
    expect(await known([file('b.csv', 6, `${HEADER}1,2\n`)], [mark(5, HEADER)])).toEqual([]);
    expect(await known([file('log.csv', 5, `${HEADER}7,7\n`)], [mark(5, `${HEADER}1,2\n`)])).toEqual([]);
  });
});
