/** Intervals as the interface takes them: ISO 8601 durations, calendar units by name, shifts. */
import { DAY, HOUR, MINUTE, SECOND } from './instants.ts';

export const CALENDAR_UNITS = ['minute', 'hour', 'day', 'week', 'month', 'quarter', 'year'] as const;
export type CalendarUnit = (typeof CALENDAR_UNITS)[number];

/**
 * A fixed length in microseconds; a count of calendar units, to which a zone gives their lengths; or shifts that start
 * at these minutes after the zone's midnight.
 */
export type Interval =
  | { readonly kind: 'fixed'; readonly micros: number }
  | { readonly kind: 'calendar'; readonly unit: CalendarUnit; readonly count: number }
  | { readonly kind: 'shift'; readonly starts: readonly number[] };

/** Shift patterns by name, as the starts of their shifts. */
export const SHIFT_PATTERNS: Readonly<Record<string, string>> = {
  'three-shift': '06:00/14:00/22:00',
  'two-shift': '06:00/18:00',
};

const DURATION =
  /^P(?:(\d+)Y)?(?:(\d+)M)?(?:(\d+)W)?(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+(?:[.,]\d{1,6})?)S)?)?$/;

const CALENDAR = /^(?:(\d{1,4}) ?)?(minute|hour|day|week|month|quarter|year)s?$/;
const SHIFTS = /^shift[: ](.+)$/;

/**
 * Reads an interval. `P1D`, `P1W`, `P1M`, `P1Y` are calendar units; `PT24H` is fixed; `PT0S` is zero. Units by name
 * (`hour`, `15 minutes`, `quarter`) are calendar units too, of the zone's clock. `shift:06:00/14:00/22:00`, or a name
 * of {@link SHIFT_PATTERNS} instead of the times, are shifts.
 * @returns undefined when the text is none of these, mixes date with time parts or several date parts, or asks for
 * minutes or hours that do not divide a day.
 */
export function parseInterval(text: string): Interval | undefined {
  const named = CALENDAR.exec(text.trim());
  if (named) return calendarInterval(named[2] as CalendarUnit, Number(named[1] ?? 1));
  const shifts = SHIFTS.exec(text.trim());
  if (shifts) return shiftInterval(SHIFT_PATTERNS[shifts[1]!] ?? shifts[1]!);
  return isoInterval(text);
}

function calendarInterval(unit: CalendarUnit, count: number): Interval | undefined {
  const divides = unit === 'minute' ? 1440 % count === 0 : unit === 'hour' ? 24 % count === 0 : true;
  return count >= 1 && count <= 1440 && divides ? { kind: 'calendar', unit, count } : undefined;
}

function shiftInterval(pattern: string): Interval | undefined {
  const starts = pattern.split('/').map((start) => {
    const [, hour, minute] = /^(\d{2}):(\d{2})$/.exec(start) ?? [];
    return hour !== undefined && +hour < 24 && +minute! < 60 ? +hour * 60 + +minute! : NaN;
  });
  const ascending = starts.every((start, i) => start >= 0 && (i === 0 || start > starts[i - 1]!));
  return ascending ? { kind: 'shift', starts } : undefined;
}

function isoInterval(text: string): Interval | undefined {
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
