/** Times as files write them: with an offset, by the clock of a zone, or counted since 1970. */
import { DateTime } from 'luxon';
import { SECOND, parseInstant } from '../time/instants.ts';

/** A cell of a file as its reader hands it over. */
export type FileCell = string | number | bigint | boolean | Date | null;

export type TimeFormat =
  /** RFC 3339 with its offset, or a date cell that is an instant. */
  | { readonly kind: 'instant' }
  /** Clock time of a zone that the file does not name: the order of day, month and year. */
  | { readonly kind: 'clock'; readonly order: 'ymd' | 'dmy' | 'mdy' }
  | { readonly kind: 'epoch'; readonly micros: number };

const CLOCK = /^(\d{1,4})[-./](\d{1,2})[-./](\d{1,4})(?:[T ]+(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,9}))?)?)?$/;

/** Units of times counted since 1970, by how many digits the present has in them. */
const EPOCHS: readonly (readonly [digits: number, micros: number])[] = [
  [10, SECOND],
  [13, 1000],
  [16, 1],
];

const isNumber = (cell: FileCell): boolean =>
  typeof cell === 'number' || typeof cell === 'bigint' || (typeof cell === 'string' && /^\d+(\.\d+)?$/.test(cell));

/** The one format that all the cells share; undefined when they are no times. */
export function timeFormatOf(cells: readonly FileCell[]): TimeFormat | undefined {
  const given = cells.filter((cell) => cell !== null && cell !== '');
  if (given.length === 0) return undefined;
  if (given.every((cell) => cell instanceof Date)) return { kind: 'instant' };
  if (given.every((cell) => typeof cell === 'string' && parseInstant(cell) !== undefined)) return { kind: 'instant' };
  if (given.every(isNumber)) {
    const digits = String(given[0]).split('.')[0]!.length;
    const [, micros] = EPOCHS.find(([length]) => length === digits) ?? [];
    return micros === undefined ? undefined : { kind: 'epoch', micros };
  }
  const parts = given.map((cell) => CLOCK.exec(String(cell).trim()));
  if (parts.some((match) => match === null)) return undefined;
  if (parts.every((match) => match![1]!.length === 4)) return { kind: 'clock', order: 'ymd' };
  if (parts.some((match) => Number(match![1]) > 12)) return { kind: 'clock', order: 'dmy' };
  if (parts.some((match) => Number(match![2]) > 12)) return { kind: 'clock', order: 'mdy' };
  return { kind: 'clock', order: 'dmy' };
}

/**
 * Whether day and month could be read the other way round: nothing in the cells decides it.
 */
export const isAmbiguous = (format: TimeFormat, cells: readonly FileCell[]): boolean =>
  format.kind === 'clock' &&
  format.order !== 'ymd' &&
  cells.every((cell) => {
    const match = CLOCK.exec(String(cell).trim());
    return match === null || (Number(match[1]) <= 12 && Number(match[2]) <= 12);
  });

/**
 * Reads one cell. Of an hour that the clock shows twice the first is meant, unless that would go back behind the time
 * before; a clock time that a day does not have is none.
 * @param zone whose clock a time without an offset is by. @param before microseconds of the row before.
 */
export function readTime(cell: FileCell, format: TimeFormat, zone: string, before = -Infinity): number | undefined {
  if (cell instanceof Date) return Number.isNaN(cell.getTime()) ? undefined : cell.getTime() * 1000;
  if (cell === null) return undefined;
  const text = String(cell).trim();
  switch (format.kind) {
    case 'instant':
      return parseInstant(text);
    case 'epoch': {
      if (!/^-?\d+(\.\d+)?$/.test(text)) return undefined;
      const [whole, fraction = ''] = text.split('.');
      return Number(whole) * format.micros + Math.round(Number(`0.${fraction || 0}`) * format.micros);
    }
    case 'clock':
      return readClock(text, format.order, zone, before);
  }
}

function readClock(text: string, order: 'ymd' | 'dmy' | 'mdy', zone: string, before: number): number | undefined {
  const match = CLOCK.exec(text);
  if (!match) return undefined;
  const [, a, b, c, hour = '0', minute = '0', second = '0', fraction = ''] = match;
  const [year, month, day] = order === 'ymd' ? [a, b, c] : order === 'dmy' ? [c, b, a] : [c, a, b];
  const wanted = { year: Number(year), month: Number(month), day: Number(day), hour: +hour, minute: +minute };
  // A second :60 is the first instant of the next minute, as in parseInstant.
  const moment = DateTime.fromObject({ ...wanted, second: Math.min(59, +second) }, { zone });
  const exists = moment.isValid && moment.hour === wanted.hour && moment.minute === wanted.minute;
  if (!exists) return undefined;
  if (+second > 60) return undefined;
  const rest = Number(fraction.padEnd(6, '0').slice(0, 6)) + (+second === 60 ? SECOND : 0);
  const shown = moment.getPossibleOffsets().map((one) => one.toMillis() * 1000 + rest);
  const first = Math.min(...shown);
  return first <= before ? Math.max(...shown) : first;
}

/** A format in words, for the one who has to say whether it was understood. */
export function describeTimeFormat(format: TimeFormat, zone: string): string {
  if (format.kind === 'instant') return 'time with its offset';
  if (format.kind === 'clock') {
    const order = { ymd: 'year, month, day', dmy: 'day, month, year', mdy: 'month, day, year' }[format.order];
    return `${order}, by the clock of ${zone}`;
  }
  const unit = { [SECOND]: 'seconds', 1000: 'milliseconds', 1: 'microseconds' }[format.micros];
  return `${unit} since 1970`;
}
