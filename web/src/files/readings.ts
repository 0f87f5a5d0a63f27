/** The ways in which a column of a file can be read, each with its words. */
import type { DecimalMark, QualityFormat, TimeFormat } from '@wide-ledger/core';

/** A way of reading with the key that stands for it in a list. */
export type Reading<Way> = readonly [key: string, words: string, way: Way];

export const TIME_READINGS: readonly Reading<TimeFormat>[] = [
  ['instant', 'with its offset', { kind: 'instant' }],
  ['ymd', 'year, month, day', { kind: 'clock', order: 'ymd' }],
  ['dmy', 'day, month, year', { kind: 'clock', order: 'dmy' }],
  ['mdy', 'month, day, year', { kind: 'clock', order: 'mdy' }],
  ['undecided', 'day or month first: not said', { kind: 'clock', order: 'undecided' }],
  ['serial', 'days of a spreadsheet', { kind: 'serial' }],
  ['1000000', 'seconds since 1970', { kind: 'epoch', micros: 1_000_000 }],
  ['1000', 'milliseconds since 1970', { kind: 'epoch', micros: 1000 }],
  ['1', 'microseconds since 1970', { kind: 'epoch', micros: 1 }],
];

/** The key of a time's reading, whatever is said of the hours that the clock shows twice. */
export function timeKey(time: TimeFormat | undefined): string {
  switch (time?.kind) {
    case 'clock':
      return time.order;
    case 'epoch':
      return String(time.micros);
    default:
      return time?.kind ?? 'instant';
  }
}

export const DOUBLED_READINGS: readonly Reading<'first' | 'second' | undefined>[] = [
  ['rows', 'hour twice: by the rows', undefined],
  ['first', 'hour twice: the first', 'first'],
  ['second', 'hour twice: the second', 'second'],
];

export const DECIMAL_READINGS: readonly Reading<DecimalMark | 'undecided'>[] = [
  ['point', '1.5', 'point'],
  ['comma', '1,5', 'comma'],
  ['undecided', 'mark not said', 'undecided'],
];

export const QUALITY_READINGS: readonly Reading<QualityFormat>[] = [
  ['status', 'status or word', 'status'],
  ['byte', 'byte, 192 is Good', 'byte'],
  ['undecided', 'not said', 'undecided'],
];
