/** ISO 8601 durations as the interface takes them for intervals: one calendar part, or a fixed length. */
import { DAY, HOUR, MINUTE, SECOND } from './instants.ts';

export type CalendarUnit = 'year' | 'month' | 'week' | 'day';

/** A fixed length in microseconds, or a count of calendar units that a zone gives their length. */
export type Interval =
  | { readonly kind: 'fixed'; readonly micros: number }
  | { readonly kind: 'calendar'; readonly unit: CalendarUnit; readonly count: number };

const DURATION =
  /^P(?:(\d+)Y)?(?:(\d+)M)?(?:(\d+)W)?(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+(?:[.,]\d{1,6})?)S)?)?$/;

/**
 * Reads an interval. `P1D`, `P1W`, `P1M`, `P1Y` are calendar units; `PT24H` is fixed; `PT0S` is zero.
 * @returns undefined when the text is no duration, or mixes date with time parts or several date parts.
 */
export function parseInterval(text: string): Interval | undefined {
  const match = DURATION.exec(text.trim());
  if (!match || text.endsWith('T') || text === 'P') return undefined;
  const dateParts = (['year', 'month', 'week', 'day'] as const)
    .map((unit, index) => ({ unit, count: match[index + 1] }))
    .filter((part) => part.count !== undefined);
  const timeParts = match.slice(5, 8);
  const hasTime = timeParts.some((part) => part !== undefined);
  if (dateParts.length > 0) {
    const [first] = dateParts;
    const count = Number(first!.count);
    if (hasTime || dateParts.length > 1 || count < 1 || count > 1000) return undefined;
    return { kind: 'calendar', unit: first!.unit, count };
  }
  const [hours = '0', minutes = '0', seconds = '0'] = timeParts;
  const micros = Math.round(+hours * HOUR + +minutes * MINUTE + Number(seconds.replace(',', '.')) * SECOND);
  return micros <= 1000 * 366 * DAY ? { kind: 'fixed', micros } : undefined;
}

/** A length for people, in its two largest parts: `2 h 14 min`, `3 d 4 h`, `12 s`, `250 ms`. */
export function describeLength(micros: number): string {
  if (micros < SECOND) return `${Math.round(micros / 1000)} ms`;
  const parts: [number, string][] = [
    [DAY, 'd'],
    [HOUR, 'h'],
    [MINUTE, 'min'],
    [SECOND, 's'],
  ];
  const seconds = Math.round(micros / SECOND) * SECOND;
  const first = parts.findIndex(([size]) => seconds >= size);
  const [size, word] = parts[first]!;
  const whole = Math.floor(seconds / size);
  const next = parts[first + 1];
  const rest = next ? Math.floor((seconds - whole * size) / next[0]) : 0;
  return rest > 0 ? `${whole} ${word} ${rest} ${next![1]}` : `${whole} ${word}`;
}
