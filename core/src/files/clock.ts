/** Times by a clock on the wall: which instants a text can mean, by a zone. */
import { DateTime } from 'luxon';
import { SECOND } from '../time/instants.ts';

/** Order of day, month and year; undecided where nothing in the file tells day from month. */
export type DateOrder = 'ymd' | 'dmy' | 'mdy' | 'undecided';

const DATE = String.raw`(\d{1,4})[-./](\d{1,2})[-./](\d{1,4})`;
const TIME = String.raw`(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,9}))?)?\s*([AaPp]\.?[Mm]\.?)?`;
const CLOCK = new RegExp(`^${DATE}(?:[T ]+${TIME})?$`);
const TIME_OF_DAY = new RegExp(`^${TIME}$`);

/** The three numbers of a date as they stand; null where a text is no date, with or without a time of day. */
export function dateNumbers(
  text: string,
): { readonly first: string; readonly second: number; readonly third: string } | null {
  const match = CLOCK.exec(text.trim());
  return match && { first: match[1]!, second: Number(match[2]), third: match[3]! };
}

/** Whether a text is a time of day by itself, such as `14:05:03.5` or `2:05 PM`. */
export const isTimeOfDay = (text: string): boolean => TIME_OF_DAY.test(text.trim());
/** Whether a text is a date with a time of day behind it. */
export const hasTimeOfDay = (text: string): boolean => CLOCK.exec(text.trim())?.[4] !== undefined;

/**
 * The instants that a clock time can mean, ascending: none where the clock does not show it that day, two in an hour that
 * it shows twice. A second `:60` is the first instant of the next minute. Microseconds; finer digits are cut off.
 */
export function clockInstants(text: string, order: DateOrder, zone: string): number[] {
  if (order === 'undecided') {
    // The fifth of May is the same day by either order.
    const [ours, theirs] = [clockInstants(text, 'dmy', zone), clockInstants(text, 'mdy', zone)];
    return ours.join() === theirs.join() ? ours : [];
  }
  const match = CLOCK.exec(text.trim());
  if (!match) return [];
  const [, a, b, c, hour = '0', minute = '0', second = '0', fraction = '', half] = match;
  const [year, month, day] = order === 'ymd' ? [a, b, c] : order === 'dmy' ? [c, b, a] : [c, a, b];
  const clockHour = hourOf(Number(hour), half);
  if (clockHour === null || Number(second) > 60 || year!.length < 4) return [];
  const wanted = {
    year: Number(year),
    month: Number(month),
    day: Number(day),
    hour: clockHour,
    minute: Number(minute),
  };
  const moment = DateTime.fromObject({ ...wanted, second: Math.min(59, Number(second)) }, { zone });
  if (!moment.isValid || moment.hour !== wanted.hour || moment.minute !== wanted.minute) return [];
  const rest = Number(fraction.padEnd(6, '0').slice(0, 6)) + (Number(second) === 60 ? SECOND : 0);
  return instantsOf(moment, rest);
}

function instantsOf(moment: DateTime, rest: number): number[] {
  return moment
    .getPossibleOffsets()
    .map((one) => one.toMillis() * 1000 + rest)
    .sort((x, y) => x - y);
}

/** Twelve hours with AM and PM, or twenty-four. */
function hourOf(hour: number, half: string | undefined): number | null {
  if (half === undefined) return hour < 24 ? hour : null;
  if (hour < 1 || hour > 12) return null;
  return (hour % 12) + (/^p/i.test(half) ? 12 : 0);
}

/** Days from 30 December 1899 to 1 January 1970: ECMA-376 part 1, 18.17.4.1, dates in the 1900 system. */
const SERIAL_OF_1970 = 25_569;
const DAY_MILLISECONDS = 86_400_000;

/** The instants that a spreadsheet's serial day can mean by a zone's clock, to the millisecond, ascending. */
export function serialInstants(serial: number, zone: string): number[] {
  const shown = DateTime.fromMillis(Math.round((serial - SERIAL_OF_1970) * DAY_MILLISECONDS), { zone: 'UTC' });
  const moment = shown.setZone(zone, { keepLocalTime: true });
  if (!moment.isValid || moment.hour !== shown.hour || moment.minute !== shown.minute) return [];
  return instantsOf(moment, 0);
}
