/** Files as people and programs write them: times, numbers, qualities, columns. */
import fc from 'fast-check';
import {
  DoubledHours,
  Status,
  decimalMarkOf,
  formatInstant,
  isAmbiguousNumber,
  possibleTimes,
  readNumber,
  readQuality,
  timeFormatOf,
  understandColumns,
  type FileCell,
} from '../../src/index.ts';

const BERLIN = 'Europe/Berlin';

/** Every cell's instant, as a file of these rows has it. @param keys whose row each is. */
function read(cells: readonly FileCell[], zone = BERLIN, keys: readonly string[] = []): (string | null)[] {
  const format = timeFormatOf(cells, true)!;
  const times = cells.map((cell) => possibleTimes(cell, format, zone));
  const hours = new DoubledHours();
  times.forEach((possible, i) => hours.add(keys[i] ?? '', possible));
  const reader = hours.reader();
  return times.map((possible, i) => {
    const time = reader.choose(keys[i] ?? '', possible);
    return time === null ? null : formatInstant(time);
  });
}

describe('times', () => {
  test.each([
    // RFC 3339, section 5.8.
    [['1996-12-19T16:39:57-08:00'], '1996-12-20T00:39:57.000Z'],
    [['2026-07-01 12:00:00'], '2026-07-01T10:00:00.000Z'],
    [['01.07.2026 12:00', '13.07.2026 12:00'], '2026-07-01T10:00:00.000Z'],
    [['7/1/2026 12:00', '7/13/2026 12:00'], '2026-07-01T10:00:00.000Z'],
    [['7/1/2026 12:00 PM', '7/13/2026 1:00 am'], '2026-07-01T10:00:00.000Z'],
    [['7/1/2026 12:00:00 a.m.', '7/13/2026 1:00 p.m.'], '2026-06-30T22:00:00.000Z'],
    [[1_782_900_000], '2026-07-01T10:00:00.000Z'],
    [['1782900000000'], '2026-07-01T10:00:00.000Z'],
    [[1_782_900_000_000_001n], '2026-07-01T10:00:00.000001Z'],
    [['2026-07-01 12:00:00,25'], '2026-07-01T10:00:00.250Z'],
    [['2026-07-01 11:59:60'], '2026-07-01T10:00:00.000Z'],
    // ECMA-376 part 1, 18.17.4.1: serial 46204.5 is noon of 1 July 2026.
    [[46_204.5], '2026-07-01T10:00:00.000Z'],
    [['46204.5'], '2026-07-01T10:00:00.000Z'],
  ] as [FileCell[], string][])('%j', (cells, instant) => {
    expect(read(cells)[0]).toBe(instant);
  });

  test('nothing is guessed: neither the month of 01/02, nor a clock that the day does not have', () => {
    expect(timeFormatOf(['01/02/2026 00:00', '03/04/2026 00:00'])).toEqual({ kind: 'clock', order: 'undecided' });
    expect(read(['01/02/2026 00:00'])).toEqual([null]);
    // The file decides by all its rows.
    expect(timeFormatOf(['01/02/2026', '28/02/2026'])).toEqual({ kind: 'clock', order: 'dmy' });
    expect(timeFormatOf(['28/02/2026', '02/28/2026'])).toBeUndefined();
    expect(read(['29.03.2026 01:59', '29.03.2026 02:30'])[1]).toBeNull();
    expect(read(['13.07.2026 25:00'])).toEqual([null]);
  });

  test('what is no time has no format', () => {
    expect(timeFormatOf(['high', 'low'])).toBeUndefined();
    expect(timeFormatOf(['12.5', '13'])).toBeUndefined();
    expect(timeFormatOf([46_204, 46_205])).toBeUndefined();
    expect(timeFormatOf([])).toBeUndefined();
  });
});

describe('an hour that the clock shows twice', () => {
  const night = (clocks: readonly string[]): string[] => clocks.map((clock) => `25.10.2026 ${clock}`);
  const minutes = (instants: readonly (string | null)[]): (string | null)[] =>
    instants.map((instant) => instant?.slice(11, 16) ?? null);

  test('is told apart by the order of the rows', () => {
    expect(minutes(read(night(['01:45', '02:15', '02:45', '02:15', '02:45', '03:15'])))).toEqual([
      '23:45',
      '00:15',
      '00:45',
      '01:15',
      '01:45',
      '02:15',
    ]);
  });
  test('also where the newest rows come first', () => {
    expect(minutes(read(night(['03:15', '02:45', '02:15', '02:45', '02:15', '01:45'])))).toEqual([
      '02:15',
      '01:45',
      '01:15',
      '00:45',
      '00:15',
      '23:45',
    ]);
  });
  test('also where the rows of tags take turns', () => {
    const clocks = ['02:00', '02:00', '02:30', '02:30', '02:00', '02:00', '02:30', '02:30'];
    const keys = clocks.map((_, i) => (i % 2 === 0 ? 'A' : 'B'));
    expect(minutes(read(night(clocks), BERLIN, keys))).toEqual([
      '00:00',
      '00:00',
      '00:30',
      '00:30',
      '01:00',
      '01:00',
      '01:30',
      '01:30',
    ]);
  });
  test('is asked for where the rows run through it once, or more than twice', () => {
    expect(read(night(['01:00', '02:30', '04:00']))[1]).toBeNull();
    expect(read(night(['02:30', '02:15', '02:10']))).toEqual([null, null, null]);
  });
  test('comes back from any file that writes every quarter of an hour of that day, from either end', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(BERLIN, 'America/New_York', 'Australia/Lord_Howe'),
        fc.boolean(),
        fc.integer({ min: 1, max: 3 }),
        (zone, newestFirst, tags) => {
          const night = {
            [BERLIN]: '2026-10-24T22:00',
            'America/New_York': '2026-11-01T03:00',
            'Australia/Lord_Howe': '2026-04-04T10:00',
          }[zone];
          const start = Date.parse(`${night}:00Z`);
          const instants = Array.from({ length: 40 }, (_, i) => start + i * 900_000);
          if (newestFirst) instants.reverse();
          const rows = instants.flatMap((instant) =>
            Array.from({ length: tags }, (_, tag) => ({ instant, key: `T${tag}` })),
          );
          const clock = new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short', timeStyle: 'medium' });
          const cells = rows.map(({ instant }) => clock.format(instant));
          expect(
            read(
              cells,
              zone,
              rows.map(({ key }) => key),
            ),
          ).toEqual(rows.map(({ instant }) => formatInstant(instant * 1000)));
        },
      ),
      { numRuns: 30 },
    );
  });
});

describe('qualities', () => {
  test.each([
    ['Good', 'status', Status.Good],
    ['Bad, Calculated', 'status', Status.Bad],
    ['0x80000000', 'status', Status.Bad],
    ['2147483648', 'status', Status.Bad],
    [0x40000000, 'status', Status.Uncertain],
    // OPC Data Access 3.0, 6.8.
    [192, 'byte', Status.Good],
    ['64', 'byte', Status.Uncertain],
    [0, 'byte', Status.Bad],
    [24, 'byte', Status.Bad],
    ['0xC0', 'byte', Status.Good],
    [300, 'byte', undefined],
    [0, 'undecided', undefined],
    ['Splendid', 'status', undefined],
  ] as [FileCell, 'status' | 'byte' | 'undecided', number | undefined][])('%j as %s', (cell, format, status) => {
    expect(readQuality(cell, format)).toBe(status);
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
    // Beside 0,345 the comma of 50,125 is no mark between thousands.
    [['50,125', '0,345'], 'comma', 50.125],
    [['50,125', '1,234.5'], 'point', 50125],
    [['1 234,5'], 'comma', 1234.5],
  ] as [string[], 'point' | 'comma', number | string][])('%j', (cells, mark, first) => {
    expect(decimalMarkOf(cells)).toBe(mark);
    expect(readNumber(cells[0]!, mark)).toBe(first);
  });

  test('that can be read in two ways are decided by nobody but the file or a person', () => {
    expect(decimalMarkOf(['50,125', '60,250'])).toBe('undecided');
    expect(decimalMarkOf(['50', '60'])).toBe('point');
    expect(['50,125', '0,345', '50.125', '1.234,5', '12'].map(isAmbiguousNumber)).toEqual([
      true,
      false,
      true,
      false,
      false,
    ]);
    expect(decimalMarkOf(['1.5', '1,5'])).toBeUndefined();
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
      'Time: a date of which nothing tells day from month, by the clock of UTC. Say which comes first.',
    ]);
  });

  test('a comma that may be either mark is said to be doubtful, and so is a quality of noughts', () => {
    const columns = understandColumns(
      ['time', 'TW-FT-101', 'TW-FT-101 quality'],
      [['2026-07-01T10:00:00Z', '50,125', '0']],
      named,
      'UTC',
    );
    expect(columns.map(({ doubtful, decimal, quality }) => [doubtful, decimal, quality])).toEqual([
      [false, undefined, undefined],
      [true, 'undecided', undefined],
      [true, undefined, 'undecided'],
    ]);
  });

  test('date and time of day in two columns, a quality that names no tag, days of a spreadsheet', () => {
    expect(
      roles(
        ['Datum', 'Uhrzeit', 'TW-FT-101', 'Status'],
        [
          ['13.07.2026', '12:00:00', '1', '192'],
          ['13.07.2026', '12:00:10', '2', '0'],
        ],
      ),
    ).toEqual([
      ['time', undefined, 'Time: day, month, year, by the clock of Europe/Berlin.'],
      ['timeOfDay', undefined, 'Time of day, with the date beside it.'],
      ['value', 'TW-FT-101', 'Values of TW-FT-101: numbers.'],
      ['quality', 'TW-FT-101', 'Quality of TW-FT-101: a byte, 192 for Good, 64 for Uncertain, 0 for Bad.'],
    ]);
    expect(roles(['Date', 'TW-FT-101'], [[46_204.5, 12]])[0]).toEqual([
      'time',
      undefined,
      'Time: days of a spreadsheet, by the clock of Europe/Berlin.',
    ]);
  });

  test('a computed figure is no value of the tag', () => {
    expect(
      roles(
        ['from', 'to', 'TW-FT-101 Average', 'TW-FT-101 Average quality'],
        [['2026-07-01T10:00:00Z', '2026-07-01T11:00:00Z', '1', 'Good']],
      )[2],
    ).toEqual(['ignored', undefined, 'Average of TW-FT-101: computed, no values of the tag itself.']);
  });
});
