/** Times for people: in the chosen zone, with the offset where it could be doubted. */
import { describeLength } from '@wide-ledger/core';
import { DateTime } from 'luxon';

const at = (milliseconds: number, zone: string): DateTime => DateTime.fromMillis(milliseconds, { zone });

/** `UTC+01:00` */
export const offsetOf = (milliseconds: number, zone: string): string => `UTC${at(milliseconds, zone).toFormat('ZZ')}`;

export const clock = (milliseconds: number, zone: string, format = 'HH:mm:ss'): string =>
  at(milliseconds, zone).toFormat(format);

/** `22 Nov 06:00 – 18:00` or with the second date where it differs. */
export function windowWords(from: number, to: number, zone: string): string {
  const [start, end] = [at(from, zone), at(to, zone)];
  const fine = to - from < 10 * 60_000 ? 'HH:mm:ss' : 'HH:mm';
  const sameYear = start.year === end.year;
  const day = start.hasSame(end, 'day') ? '' : end.toFormat(sameYear ? 'd LLL ' : 'd LLL yyyy ');
  return `${start.toFormat(sameYear ? 'd LLL ' : 'd LLL yyyy ')}${start.toFormat(fine)} – ${day}${end.toFormat(fine)}`;
}

export const lengthWords = (milliseconds: number): string => describeLength(milliseconds * 1000);

/** `23 Nov 14:05:03.250` in the zone; milliseconds only where there are any. */
export function stamp(milliseconds: number, zone: string): string {
  return at(milliseconds, zone).toFormat(milliseconds % 1000 === 0 ? 'd LLL yyyy HH:mm:ss' : 'd LLL yyyy HH:mm:ss.SSS');
}

/** The same of an instant of an answer, to the second: what is finer is in a leaf. */
export const stampAt = (time: string, zone: string): string => stamp(Math.floor(Date.parse(time) / 1000) * 1000, zone);

/** Both zones, for hovering: nobody has to guess which. */
export function bothZones(milliseconds: number, siteZone: string): string {
  return `${stamp(milliseconds, 'UTC')} UTC · ${stamp(milliseconds, siteZone)} ${siteZone} (${offsetOf(milliseconds, siteZone)})`;
}

/** What a clock in a zone shows, such as `2026-11-26T14:05`, as an instant in UTC; null where it is no time. */
export function instantAt(shown: string, zone: string): string | null {
  const time = DateTime.fromISO(shown, { zone });
  return shown !== '' && time.isValid ? time.toUTC().toISO() : null;
}
