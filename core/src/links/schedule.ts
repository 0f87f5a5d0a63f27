/** When something that is done every day at a time of day was due last. */
import { DateTime } from 'luxon';

/**
 * @param now microseconds. @param at `HH:MM` in the zone; an hour that clocks leave out comes after it.
 * @returns the last such moment that is not after now, microseconds.
 */
export function lastDue(now: number, at: string, zone: string): number {
  const [hour = 0, minute = 0] = at.split(':').map(Number);
  const moment = DateTime.fromMillis(Math.floor(now / 1000), { zone });
  const today = moment.startOf('day').set({ hour, minute });
  const due = today <= moment ? today : moment.startOf('day').minus({ days: 1 }).set({ hour, minute });
  return due.toMillis() * 1000;
}
