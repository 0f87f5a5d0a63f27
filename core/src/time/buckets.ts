/** The intervals of a processed read: fixed as in OPC 10000-13, or calendar units in a zone (decision D15). */
import { calendarEdges } from './calendar.ts';
import type { CalendarUnit, Interval } from './durations.ts';
import { DAY, HOUR, MINUTE } from './instants.ts';

/**
 * One interval of a processed read, in microseconds. `begin` is where the request starts walking it: the
 * earlier edge forwards, the later one in reverse. The begin edge belongs to it, the finish edge does not.
 */
export interface Bucket {
  readonly begin: number;
  readonly finish: number;
  /** The last interval of a request whose range is no multiple of it. */
  readonly truncated: boolean;
}

export const MAXIMUM_BUCKETS = 200_000;

/**
 * Cuts [from, to) into intervals. `from > to` walks backwards with the short interval at the early end.
 * A zero interval, or one longer than the range, gives one interval. Calendar units and shifts cut by the zone's clock.
 * @throws RangeError when from equals to, or there would be more than {@link MAXIMUM_BUCKETS}.
 */
export function cutIntoBuckets(from: number, to: number, interval: Interval, zone: string): Bucket[] {
  if (from === to) throw new RangeError('The window is empty: start and end are the same.');
  if (interval.kind !== 'fixed') {
    const forward = calendarBuckets(Math.min(from, to), Math.max(from, to), interval, zone);
    if (from < to) return forward;
    return forward.reverse().map(({ begin, finish, truncated }) => ({ begin: finish, finish: begin, truncated }));
  }
  const range = Math.abs(to - from);
  const length = interval.micros;
  if (length === 0 || length >= range) return [{ begin: from, finish: to, truncated: length > range }];
  const count = Math.ceil(range / length);
  guardCount(count);
  const direction = from < to ? 1 : -1;
  return Array.from({ length: count }, (_, index) => {
    const last = index === count - 1;
    const begin = from + direction * index * length;
    return { begin, finish: last ? to : begin + direction * length, truncated: last && range % length !== 0 };
  });
}

/** The longest that calendar units get. */
const LONGEST: Readonly<Record<CalendarUnit, number>> = {
  minute: MINUTE,
  hour: HOUR,
  day: 25 * HOUR,
  week: 169 * HOUR,
  month: 745 * HOUR,
  quarter: 92 * DAY + HOUR,
  year: 366 * DAY,
};

/**
 * Whether a window can be cut so at all, without cutting it: a few hundred thousand intervals by a zone's clock take
 * seconds. Close to the limit only the cutting itself can tell.
 * @throws RangeError as {@link cutIntoBuckets} does, where the window is empty, the zone unknown, or there are surely too many.
 */
export function checkCut(from: number, to: number, interval: Interval, zone: string): void {
  if (from === to) throw new RangeError('The window is empty: start and end are the same.');
  const range = Math.abs(to - from);
  if (interval.kind === 'fixed') {
    if (interval.micros > 0) guardCount(Math.ceil(range / interval.micros));
    return;
  }
  const first = calendarEdges(Math.min(from, to), interval, zone).next();
  if (first.done || !Number.isFinite(first.value)) throw new RangeError('The window begins where no calendar counts.');
  const longest =
    interval.kind === 'shift' ? (25 * HOUR) / interval.starts.length : interval.count * LONGEST[interval.unit];
  guardCount(Math.floor(range / longest));
}

function calendarBuckets(
  from: number,
  to: number,
  interval: Exclude<Interval, { kind: 'fixed' }>,
  zone: string,
): Bucket[] {
  const buckets: Bucket[] = [];
  let begin = NaN;
  for (const finish of calendarEdges(from, interval, zone)) {
    if (finish > from) {
      buckets.push({
        begin: Math.max(begin, from),
        finish: Math.min(finish, to),
        truncated: begin < from || finish > to,
      });
      guardCount(buckets.length);
    }
    if (finish >= to) break;
    begin = finish;
  }
  return buckets;
}

function guardCount(count: number): void {
  if (count > MAXIMUM_BUCKETS) {
    throw new RangeError(`That would be ${count} or more intervals; at most ${MAXIMUM_BUCKETS} are answered at once.`);
  }
}
