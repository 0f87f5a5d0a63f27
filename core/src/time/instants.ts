/** Instants: microseconds since 1970-01-01T00:00Z as whole numbers, and their RFC 3339 spelling. */

export const SECOND = 1_000_000;
export const MINUTE = 60 * SECOND;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;

const RFC_3339 =
  /^(\d{4})-(\d{2})-(\d{2})[Tt ](\d{2}):(\d{2}):(\d{2})(?:\.(\d{1,9}))?(?:([Zz])|([+-])(\d{2}):(\d{2}))$/;

/**
 * Reads an RFC 3339 date-time with its offset. Digits beyond microseconds are cut off; a leap second (`:60`)
 * is the first instant of the next minute, as the archive's time scale has none.
 * @returns microseconds since 1970, or undefined when the text is no such date-time.
 */
export function parseInstant(text: string): number | undefined {
  const match = RFC_3339.exec(text.trim());
  if (!match) return undefined;
  const [, year, month, day, hour, minute, second, fraction = '', , sign, offsetHour = '0', offsetMinute = '0'] = match;
  const local = Date.UTC(+year!, +month! - 1, +day!, +hour!, +minute!, 0);
  const check = new Date(local);
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
  return local * 1000 - offset * MINUTE + +second! * SECOND + +fraction.padEnd(6, '0').slice(0, 6);
}

/** Writes an instant in UTC; six decimals only where there are microseconds, else milliseconds. */
export function formatInstant(micros: number): string {
  const milliseconds = Math.floor(micros / 1000);
  const rest = micros - milliseconds * 1000;
  const text = new Date(milliseconds).toISOString();
  return rest === 0 ? text : `${text.slice(0, -1)}${String(rest).padStart(3, '0')}Z`;
}
