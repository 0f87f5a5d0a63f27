/** Rows that somebody else wrote down: layouts, times, numbers and qualities, and what cannot be a value. */
import fc from 'fast-check';
import {
  HOUR,
  RecordReader,
  SECOND,
  Status,
  chosenInstant,
  parseInstant,
  possibleTimes,
  type RecordTerms,
} from '../../src/index.ts';

const TERMS: RecordTerms = {
  time: 'time',
  series: '',
  value: 'value',
  status: '',
  statusIs: 'status',
  zone: 'UTC',
  dates: 'ymd',
  decimal: 'point',
};
const at = (text: string): number => parseInstant(text)!;
const taken = (...series: string[]) => series.map((one) => ({ tag: one, series: one, isText: false }));

describe('a column for each value', () => {
  const names = ['time', 'flow', 'level', 'note'];
  const reader = () =>
    new RecordReader(names, TERMS, [...taken('flow', 'level'), { tag: 'note', series: 'note', isText: true }]);

  test('gives a value for each cell that holds something', () => {
    const { values, time } = reader().read(['2026-11-27T12:00:00Z', '1.5', null, '007']);
    expect(time).toBe(at('2026-11-27T12:00:00Z'));
    expect(values.map(({ tag, value, status }) => [tag, value, status])).toEqual([
      ['flow', 1.5, Status.Good],
      ['note', '007', Status.Good],
    ]);
  });

  test('what is no number goes on as it is written, with the reason, and the others beside it', () => {
    const { values } = reader().read(['2026-11-27T12:00:00Z', 'n/a', '2', null]);
    expect(values).toMatchObject([
      { tag: 'flow', value: 'n/a', trouble: '"n/a" is no number: it is set aside.' },
      { tag: 'level', value: 2, trouble: null },
    ]);
  });

  test('a number by either decimal mark is not guessed', () => {
    expect(reader().read(['2026-11-27T12:00:00Z', '1,234', null, null]).values[0]).toMatchObject({ value: '1,234' });
    const comma = new RecordReader(names, { ...TERMS, decimal: 'comma' }, taken('flow'));
    expect(comma.read(['2026-11-27T12:00:00Z', '1,234', null, null]).values[0]).toMatchObject({ value: 1.234 });
  });

  test('a row without a time says so, if there is anything in it', () => {
    expect(reader().read([null, '1', null, null])).toEqual({ values: [], time: null, trouble: 'A row says no time.' });
    expect(reader().read(['soon', '1', null, null]).trouble).toBe(
      '"soon" is no time by the order and the zone that are set (UTC).',
    );
    expect(reader().read([null, null, null, null]).trouble).toBeNull();
  });

  test.each([
    ['1985-04-12T23:20:50.52Z', '1985-04-12T23:20:50.52Z'],
    ['1996-12-19T16:39:57-08:00', '1996-12-20T00:39:57Z'],
    ['1990-12-31T23:59:60Z', '1991-01-01T00:00:00Z'],
    ['1937-01-01T12:00:27.87+00:20', '1937-01-01T11:40:27.87Z'],
  ])('reads the examples of RFC 3339, 5.8: %s', (written, meant) => {
    expect(reader().read([written, '1', null, null]).time).toBe(at(meant));
  });

  test('counts since 1970 are told by their size; other times are by the clock of the zone', () => {
    const times = [1795780800, '1795780800000', '1795780800000000', '2026-11-27 13:00:00'];
    const berlin = new RecordReader(names, { ...TERMS, zone: 'Europe/Berlin' }, taken('flow'));
    for (const time of times.slice(0, 3)) expect(berlin.read([time, '1', null, null]).time).toBe(1795780800 * SECOND);
    expect(berlin.read([times[3]!, '1', null, null]).time).toBe(at('2026-11-27T12:00:00Z'));
    const dayFirst = new RecordReader(names, { ...TERMS, dates: 'dmy' }, taken('flow'));
    expect(dayFirst.read(['03.04.2026 05:06', '1', null, null]).time).toBe(at('2026-04-03T05:06:00Z'));
  });
});

describe('a row for each value', () => {
  const names = ['t', 'point', 'v', 'q'];
  const terms = { ...TERMS, time: 't', series: 'point', value: 'v', status: 'q' };
  const read = (cells: (string | number | null)[], statusIs: 'status' | 'byte' = 'status') =>
    new RecordReader(names, { ...terms, statusIs }, taken('A')).read(cells).values;

  test('takes what its name says, with its status', () => {
    expect(read(['2026-11-27T12:00:00Z', 'A', '3', 'Uncertain'])).toMatchObject([
      { value: 3, status: Status.Uncertain },
    ]);
    expect(read(['2026-11-27T12:00:00Z', 'B', '3', null])).toEqual([]);
    expect(read(['2026-11-27T12:00:00Z', 'A', '3', 'fault'])).toMatchObject([{ status: Status.BadDeviceFailure }]);
    expect(read(['2026-11-27T12:00:00Z', 'A', '3', 'odd'])).toMatchObject([
      { status: Status.Uncertain, trouble: '"odd" is no status: the value is taken for uncertain.' },
    ]);
  });

  test('0 is Good as a status, and Bad as a byte', () => {
    expect(read(['2026-11-27T12:00:00Z', 'A', '3', '0'])).toMatchObject([{ status: Status.Good }]);
    expect(read(['2026-11-27T12:00:00Z', 'A', '3', '0'], 'byte')).toMatchObject([{ status: Status.Bad }]);
    expect(read(['2026-11-27T12:00:00Z', 'A', '3', '192'], 'byte')).toMatchObject([{ status: Status.Good }]);
  });

  test('no value with a status that says why is one that is missing; without one it is nothing', () => {
    expect(read(['2026-11-27T12:00:00Z', 'A', null, 'Bad'])).toMatchObject([{ value: null, status: Status.Bad }]);
    expect(read(['2026-11-27T12:00:00Z', 'A', null, null])).toEqual([]);
  });
});

test('columns that are not there are named', () => {
  expect(RecordReader.problemOf(['time', 'a'], TERMS)).toBeNull();
  expect(RecordReader.problemOf(['Zeit', 'a'], TERMS)).toBe('There is no column time. There are: Zeit, a.');
  expect(RecordReader.problemOf(['time', 'n'], { ...TERMS, series: 'n', value: 'v' })).toContain(
    'There is no column v.',
  );
});

describe('an hour that the clock shows twice', () => {
  // Europe/Berlin, 2026-10-25: 02:00 to 03:00 is shown twice, from 00:00Z and from 01:00Z (references.md, 4.7).
  const clock = { kind: 'clock', order: 'ymd' } as const;
  const shown = (instant: number): string => {
    const local = new Date(instant / 1000 + (instant < at('2026-10-25T01:00:00Z') ? 2 : 1) * 3_600_000);
    return local.toISOString().slice(0, 23).replace('T', ' ');
  };

  test('law: a record that grows is read as it was written, whatever its steps within the hour', () => {
    const steps = fc.array(fc.integer({ min: 1, max: 59 * 60 }), { minLength: 1, maxLength: 60 });
    fc.assert(
      fc.property(steps, (seconds) => {
        let time = at('2026-10-24T23:30:00Z');
        let last: number | null = null;
        for (const step of seconds) {
          time += step * SECOND;
          last = chosenInstant(possibleTimes(shown(time), clock, 'Europe/Berlin'), last, true);
          expect(last).toBe(time);
        }
      }),
    );
  });

  test('rows of several series, a little out of order, are told apart by what is near', () => {
    const written = [0, 1800, 3590, 3585, 3600, 3599, 3660, 7199, 7210].map(
      (seconds) => at('2026-10-25T00:00:00Z') + seconds * SECOND,
    );
    let last: number | null = null;
    for (const time of written) {
      last = chosenInstant(possibleTimes(shown(time), clock, 'Europe/Berlin'), last, false);
      expect(last).toBe(time);
    }
  });

  test('without a row before it the first is meant; a time that is not shown is none', () => {
    const times = possibleTimes('2026-10-25 02:30:00', clock, 'Europe/Berlin');
    expect(chosenInstant(times, null, true)).toBe(at('2026-10-25T00:30:00Z'));
    expect(times[1]! - times[0]!).toBe(HOUR);
    expect(chosenInstant(possibleTimes('2026-03-29 02:30:00', clock, 'Europe/Berlin'), null, true)).toBeNull();
  });
});
