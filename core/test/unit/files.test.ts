import fc from 'fast-check';
import {
  decimalMarkOf,
  formatInstant,
  readNumber,
  readTime,
  timeFormatOf,
  understandColumns,
  type FileCell,
} from '../../src/index.ts';

const read = (cells: readonly FileCell[], zone = 'Europe/Berlin'): (string | undefined)[] => {
  const format = timeFormatOf(cells)!;
  let before = -Infinity;
  return cells.map((cell) => {
    const time = readTime(cell, format, zone, before);
    before = time ?? before;
    return time === undefined ? undefined : formatInstant(time);
  });
};

describe('times', () => {
  test.each([
    // RFC 3339, section 5.8.
    [['1996-12-19T16:39:57-08:00'], '1996-12-20T00:39:57.000Z'],
    [['2026-07-01 12:00:00'], '2026-07-01T10:00:00.000Z'],
    [['01.07.2026 12:00', '13.07.2026 12:00'], '2026-07-01T10:00:00.000Z'],
    [['7/1/2026 12:00', '7/13/2026 12:00'], '2026-07-01T10:00:00.000Z'],
    [[1_782_900_000], '2026-07-01T10:00:00.000Z'],
    [['1782900000000'], '2026-07-01T10:00:00.000Z'],
    [[1_782_900_000_000_001n], '2026-07-01T10:00:00.000001Z'],
    [[new Date('2026-07-01T10:00:00Z')], '2026-07-01T10:00:00.000Z'],
    [['2026-07-01 12:00:00,25'], '2026-07-01T10:00:00.250Z'],
  ] as [FileCell[], string][])('%j', (cells, instant) => {
    expect(read(cells)[0]).toBe(instant);
  });

  test('an hour that the clock shows twice is read in the order of the rows; one that it skips is none', () => {
    const night = ['02:30', '02:45', '02:15', '02:45'].map((clock) => `25.10.2026 ${clock}`);
    expect(read(night)).toEqual([
      '2026-10-25T00:30:00.000Z',
      '2026-10-25T00:45:00.000Z',
      '2026-10-25T01:15:00.000Z',
      '2026-10-25T01:45:00.000Z',
    ]);
    expect(read(['29.03.2026 01:59', '29.03.2026 02:30'])[1]).toBeUndefined();
  });

  test('what is no time has no format', () => {
    expect(timeFormatOf(['high', 'low'])).toBeUndefined();
    expect(timeFormatOf(['12.5', '13'])).toBeUndefined();
    expect(timeFormatOf([])).toBeUndefined();
  });
});

describe('numbers', () => {
  test.each([
    [['1.5', '2'], 'point', 1.5],
    [['1,5', '2,25'], 'comma', 1.5],
    [['1.234,5', '2'], 'comma', 1234.5],
    [['1,234.5', '2'], 'point', 1234.5],
    [['-1e-3'], 'point', -0.001],
    [['9223372036854775807'], 'point', '9223372036854775807'],
  ] as [string[], 'point' | 'comma', number | string][])('%j', (cells, mark, first) => {
    expect(decimalMarkOf(cells)).toBe(mark);
    expect(readNumber(cells[0]!, mark)).toBe(first);
  });

  test('every double comes back, with a point or a comma', () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e15, max: 1e15 }), (value) => {
        expect(Number(readNumber(String(value), 'point'))).toBe(value === 0 ? 0 : value);
        const fixed = value.toFixed(6);
        expect(Number(readNumber(fixed.replace('.', ','), 'comma'))).toBe(Number(fixed));
      }),
    );
  });
});

describe('columns', () => {
  const tags = ['TW-FT-101', 'TW-TT-203'];
  const named = (text: string): string | undefined => tags.find((tag) => text === tag || text.startsWith(`${tag} `));
  const roles = (names: string[], rows: FileCell[][]) =>
    understandColumns(names, rows, named, 'Europe/Berlin').map(({ role, tag, sentence }) => [role, tag, sentence]);

  test('a tag beside a tag, with a quality and something nobody knows', () => {
    expect(
      roles(
        ['Zeit', 'TW-FT-101', 'TW-FT-101 quality', 'TW-TT-203', 'Remark'],
        [
          ['01.07.2026 12:00', '170,25', 'Good', '116,5', 'x'],
          ['13.07.2026 12:00', '171', 'Good', '', ''],
        ],
      ),
    ).toEqual([
      ['time', undefined, 'Time: day, month, year, by the clock of Europe/Berlin.'],
      ['value', 'TW-FT-101', 'Values of TW-FT-101: numbers with a decimal comma.'],
      ['quality', 'TW-FT-101', 'Quality of TW-FT-101.'],
      ['value', 'TW-TT-203', 'Values of TW-TT-203: numbers with a decimal comma.'],
      ['ignored', undefined, 'No tag is named Remark.'],
    ]);
  });

  test('a row a value, as the archive writes its own files', () => {
    expect(
      roles(
        ['tag', 'time', 'value', 'status', 'quality', 'origin'],
        [['TW-FT-101', '2026-07-01T10:00:00Z', '1.5', '0', 'Good', 'live']],
      ).map(([role]) => role),
    ).toEqual(['tag', 'time', 'value', 'quality', 'quality', 'ignored']);
  });

  test('a date that could be read both ways is said to be doubtful', () => {
    const [time] = understandColumns(['t', 'TW-FT-101'], [['01/02/2026 00:00', '1']], named, 'UTC');
    expect([time!.doubtful, time!.sentence]).toEqual([
      true,
      'Time: day, month, year, by the clock of UTC. Day and month could also be the other way round.',
    ]);
  });
});
