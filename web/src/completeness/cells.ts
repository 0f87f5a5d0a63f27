/** How a window is cut for completeness, and how cells and their shares are written. Pure. */
import { DateTime } from 'luxon';

export type CellUnit = 'hour' | 'day' | 'month';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** Cells that a row of the table can show beside each other. */
export function unitOf(length: number): CellUnit {
  if (length <= 36 * HOUR) return 'hour';
  return length <= 62 * DAY ? 'day' : 'month';
}

const FORMATS: Record<CellUnit, readonly [head: string, whole: string]> = {
  hour: ['HH', 'd LLL HH:mm'],
  day: ['d', 'EEE d LLL yyyy'],
  month: ['LLL', 'LLLL yyyy'],
};

/** What stands at the head of a cell's column, and what it is called in full. */
export function cellHead(
  from: string,
  unit: CellUnit,
  zone: string,
): { readonly head: string; readonly whole: string } {
  const moment = DateTime.fromISO(from, { zone }).setLocale('en');
  const [head, whole] = FORMATS[unit];
  return { head: moment.toFormat(head), whole: moment.toFormat(whole) };
}

/** Rounded down to a tenth: what is not whole is never said to be. */
export function shareWords(percent: number | null): string {
  if (percent === null) return '';
  if (percent >= 100) return '•';
  return (Math.floor(percent * 10) / 10).toFixed(1);
}

/** The calendar month that lies so many before a moment, by the clock of a zone. Milliseconds since 1970. */
export function monthBefore(
  moment: number,
  months: number,
  zone: string,
): { readonly from: number; readonly to: number } {
  const start = DateTime.fromMillis(moment, { zone }).startOf('month').minus({ months });
  return { from: start.toMillis(), to: start.plus({ months: 1 }).toMillis() };
}
