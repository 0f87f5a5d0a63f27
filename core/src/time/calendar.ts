/** Where calendar units and shifts begin, by the clock of a zone: days of 23 and 25 hours, half-hour changes and all. */
import { DateTime } from 'luxon';
import type { CalendarUnit, Interval } from './durations.ts';

type CalendarInterval = Extract<Interval, { kind: 'calendar' }>;

const MINUTE_MILLISECONDS = 60_000;

/**
 * Edges in ascending microseconds, without end, the first one at or before an instant.
 * @throws RangeError when the zone is not known.
 */
export function* calendarEdges(
  from: number,
  interval: Exclude<Interval, { kind: 'fixed' }>,
  zone: string,
): Generator<number> {
  const start = DateTime.fromMillis(Math.floor(from / 1000), { zone });
  if (!start.isValid) throw new RangeError(`"${zone}" is not a time zone this machine knows.`);
  if (interval.kind === 'shift') yield* startingAt(from, shiftEdges(start, interval.starts));
  else if (interval.unit === 'minute') yield* startingAt(from, clockEdges(start, interval.count));
  else if (interval.unit === 'hour') yield* startingAt(from, clockEdges(start, interval.count * 60));
  else yield* unitEdges(start, interval);
}

/** Leaves out what lies before the last edge at or before an instant. */
function* startingAt(from: number, edges: Generator<number>): Generator<number> {
  let held = NaN;
  for (const edge of edges) {
    if (edge > from) yield held;
    held = edge;
  }
}

const micros = (moment: DateTime): number => moment.toMillis() * 1000;

/** Days, ISO weeks, months, quarters and years: from midnight to midnight. */
function* unitEdges(start: DateTime, { unit, count }: CalendarInterval): Generator<number> {
  const anchor = start.startOf(unit);
  let last = NaN;
  for (let index = 0; ; index++) {
    const edge = micros(anchor.plus({ [`${unit}s`]: index * count }).startOf('day'));
    // A day that the zone skipped begins where the next one does: it is none.
    if (edge !== last) yield edge;
    last = edge;
  }
}

/** Midnights, without the days that a zone has skipped. */
function* daysFrom(first: DateTime): Generator<DateTime> {
  let last = NaN;
  for (let days = 0; ; days++) {
    const day = first.plus({ days }).startOf('day');
    if (day.toMillis() !== last) yield day;
    last = day.toMillis();
  }
}

/** The shifts of each day; the one that runs over midnight began the day before. */
function* shiftEdges(start: DateTime, starts: readonly number[]): Generator<number> {
  let last = -Infinity;
  for (const day of daysFrom(start.startOf('day').minus({ days: 1 }))) {
    for (const minutes of starts) {
      const edge = micros(day.set({ hour: Math.floor(minutes / 60), minute: minutes % 60 }));
      // Two shifts whose starts the clock jumped over begin at one instant: the first of them is none.
      if (edge > last) yield edge;
      last = Math.max(last, edge);
    }
  }
}

/**
 * Wherever the zone's clock shows a multiple of so many minutes after midnight. When the clock is set, each stretch
 * between two settings is cut by itself: an hour that the clock shows twice is two hours.
 */
function* clockEdges(start: DateTime, step: number): Generator<number> {
  for (const day of daysFrom(start.startOf('day'))) {
    const next = day.plus({ days: 1 }).startOf('day');
    let last = NaN;
    for (const { from, to, offset } of stretches(day, next)) {
      const first = Math.ceil((from / MINUTE_MILLISECONDS + offset) / step) * step - offset;
      for (let at = first * MINUTE_MILLISECONDS; at <= to && at < next.toMillis(); at += step * MINUTE_MILLISECONDS) {
        if (at !== last) yield at * 1000;
        last = at;
      }
    }
  }
}

/** The parts of a day with one offset from UTC each, in milliseconds; offsets in minutes. */
function stretches(day: DateTime, next: DateTime): { from: number; to: number; offset: number }[] {
  const [from, to] = [day.toMillis(), next.toMillis()];
  const offsetAt = (time: number): number => DateTime.fromMillis(time, { zone: day.zone }).offset;
  const [before, after] = [offsetAt(from), offsetAt(to - 1)];
  if (before === after) return [{ from, to, offset: before }];
  let [low, high] = [from, to - 1];
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (offsetAt(middle) === before) low = middle;
    else high = middle;
  }
  return [
    { from, to: high, offset: before },
    { from: high, to, offset: after },
  ];
}

/** What a calendar interval is called: `2026-W53`, `2026-03`, `2026-Q1`, `2026`, a date, or date and clock time. */
export function intervalName(begin: number, interval: Interval, zone: string): string {
  const moment = DateTime.fromMillis(Math.floor(begin / 1000), { zone });
  if (interval.kind === 'fixed') return moment.toISO({ suppressMilliseconds: true }) ?? '';
  return moment.toFormat(interval.kind === 'shift' ? "yyyy-MM-dd 'from' HH:mm" : NAMES[interval.unit]);
}

const NAMES: Record<CalendarUnit, string> = {
  minute: 'yyyy-MM-dd HH:mm ZZ',
  hour: 'yyyy-MM-dd HH:mm ZZ',
  day: 'yyyy-MM-dd',
  week: "kkkk-'W'WW",
  month: 'yyyy-MM',
  quarter: "yyyy-'Q'q",
  year: 'yyyy',
};
