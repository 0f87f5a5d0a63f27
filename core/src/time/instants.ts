/** Instants: microseconds since 1970-01-01T00:00Z as whole numbers, and their RFC 3339 spelling. */

export const SECOND = 1_000_000;
export const MINUTE = 60 * SECOND;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;

const RFC_3339 =
  /^(\d{4})-(\d{2})-(\d{2})[Tt ](\d{2}):(\d{2}):(\d{2})(?:\.(\d{1,9}))?(?:([Zz])|([+-])(\d{2}):(\d{2}))$/;

/** Midnight of a day in UTC, in milliseconds; of every year as it is written: Date.UTC takes 0 to 99 for 1900 to 1999. */
function midnight(year: number, month: number, day: number): number {
  const date = new Date(0);
  date.setUTCFullYear(year, month - 1, day);
  return date.getTime();
}

/**
 * Reads an RFC 3339 date-time with its offset. Digits beyond microseconds are cut off. A second `:60` is read wherever
 * it stands, and is the first instant of the next minute: the archive's time scale has no leap seconds.
 * @returns microseconds since 1970, or undefined when the text is no such date-time.
 */
export function parseInstant(text: string): number | undefined {
  const match = RFC_3339.exec(text.trim());
  if (!match) return undefined;
  const [, year, month, day, hour, minute, second, fraction = '', , sign, offsetHour = '0', offsetMinute = '0'] = match;
  const start = midnight(+year!, +month!, +day!);
  const check = new Date(start);
  const exists =
    check.getUTCMonth() === +month! - 1 &&
    check.getUTCDate() === +day! &&
    +hour! < 24 &&
    +minute! < 60 &&
    +second! <= 60 &&
    +offsetHour < 24 &&
    +offsetMinute < 60;
  if (!exists) return undefined;
  const offset = (sign === '-' ? -1 : 1) * (+offsetHour * 60 + +offsetMinute);
  const clock = +hour! * HOUR + +minute! * MINUTE + +second! * SECOND;
  return start * 1000 - offset * MINUTE + clock + +fraction.padEnd(6, '0').slice(0, 6);
}

const TWO_DIGITS = Array.from({ length: 100 }, (_, n) => String(n).padStart(2, '0'));
const THREE_DIGITS = Array.from({ length: 1000 }, (_, n) => String(n).padStart(3, '0'));

/** The day that was written last, as its number since 1970 and its text up to the "T": mostly it comes again. */
let lastDay = { day: NaN, text: '' };

function textOfDay(day: number): string {
  if (lastDay.day !== day) lastDay = { day, text: new Date((day * DAY) / 1000).toISOString().slice(0, -13) };
  return lastDay.text;
}

/**
 * Writes an instant in UTC; six decimals only where there are microseconds, else milliseconds. As Date.toISOString does,
 * which is too slow to write a month of one-second values with.
 */
export function formatInstant(micros: number): string {
  const day = Math.floor(micros / DAY);
  const rest = micros - day * DAY;
  const seconds = Math.floor(rest / SECOND);
  const fraction = rest - seconds * SECOND;
  const milliseconds = Math.floor(fraction / 1000);
  const beyond = fraction - milliseconds * 1000;
  const hour = TWO_DIGITS[Math.floor(seconds / 3600)]!;
  const minute = TWO_DIGITS[Math.floor(seconds / 60) % 60]!;
  const text = `${textOfDay(day)}${hour}:${minute}:${TWO_DIGITS[seconds % 60]!}.${THREE_DIGITS[milliseconds]!}`;
  return beyond === 0 ? `${text}Z` : `${text}${THREE_DIGITS[beyond]!}Z`;
}
