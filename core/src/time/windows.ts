/** Relative times such as `now-6h`, resolved once against a given present. */
import { DAY, HOUR, MINUTE, SECOND, parseInstant } from './instants.ts';

const RELATIVE = /^now(?:([+-])(\d+)(s|m|h|d|w))?$/;
const UNITS: Record<string, number> = { s: SECOND, m: MINUTE, h: HOUR, d: DAY, w: 7 * DAY };

/** Reads `now`, `now-6h`, `now+30m` or an RFC 3339 instant; undefined when it is neither. Units: s m h d w. */
export function resolveTime(text: string, now: number): number | undefined {
  const match = RELATIVE.exec(text.trim());
  if (!match) return parseInstant(text);
  const [, sign, count = '0', unit = 's'] = match;
  return now + (sign === '-' ? -1 : 1) * Number(count) * UNITS[unit]!;
}
