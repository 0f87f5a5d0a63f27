/**
 * Summaries that a link carries instead of every value, or beside them: aggregates over whole intervals, each under a name
 * of its own at the far end. An interval is sent when it is over, and again when what was it made of has changed.
 */
import { AGGREGATE_NAMES, OWN_VALUE_AGGREGATES, TEXT_AGGREGATES, type AggregateName } from '../aggregates/compute.ts';
import type { Span } from '../coverage/spans.ts';
import { MAXIMUM_BUCKETS, type Bucket } from '../time/buckets.ts';
import { calendarEdges } from '../time/calendar.ts';
import { parseInterval, type Interval } from '../time/durations.ts';

/** An aggregate over intervals, as people write these. */
export interface CarriedSummary {
  readonly aggregate: AggregateName;
  readonly interval: string;
}

/** Aggregates of which one figure for each interval says all: without those that differ by the stamp alone, or count remarks. */
export const SUMMARY_AGGREGATES: readonly AggregateName[] = AGGREGATE_NAMES.filter(
  (name) => !name.includes('ActualTime') && name !== 'AnnotationCount',
);

/** Those that text has: figures about it, since a summary is a number. */
export const TEXT_SUMMARIES: ReadonlySet<AggregateName> = new Set(
  SUMMARY_AGGREGATES.filter((name) => TEXT_AGGREGATES.has(name) && !OWN_VALUE_AGGREGATES.has(name)),
);

/** The unit of a summary. @param unit of the tag. */
export function summaryUnit(aggregate: AggregateName, unit: string): string {
  if (aggregate.startsWith('Percent')) return '%';
  if (aggregate.startsWith('Duration')) return 'ms';
  if (/^(Count|NumberOf|WorstQuality)/.test(aggregate)) return '';
  if (/^(Total|Variance)/.test(aggregate)) return unit && (aggregate.startsWith('Total') ? `${unit}·s` : `(${unit})²`);
  return unit;
}

/** Microseconds. */
const SHORTEST = 1_000_000;

/**
 * Reads the interval of a summary: any that begins and ends at the same instants wherever one begins to count, such as
 * `PT1H`, `15 minutes`, `day`, `month`, `shift:06:00/18:00`; not two days, or three months.
 */
export function summaryInterval(text: string): Interval | undefined {
  const interval = parseInterval(text);
  if (interval?.kind === 'fixed') return interval.micros >= SHORTEST ? interval : undefined;
  const anchored = interval?.kind !== 'calendar' || interval.count === 1 || ['minute', 'hour'].includes(interval.unit);
  return anchored ? interval : undefined;
}

const MINUTE = 60_000_000;
const HOUR = 60 * MINUTE;

/** What an interval lasts at least, also where the clock changes. Microseconds. */
export function shortestOf(interval: Interval): number {
  if (interval.kind === 'fixed') return interval.micros;
  if (interval.kind === 'shift' || interval.unit === 'minute') return MINUTE;
  return interval.unit === 'hour' ? HOUR / 2 : 23 * HOUR;
}

/** What a summary is called after the name of its tag: `TimeAverage.PT1H`, `Maximum.shift-06-00-18-00`. */
export const summaryName = ({ aggregate, interval }: CarriedSummary): string =>
  `${aggregate}.${interval.trim().replace(/[^A-Za-z0-9]+/g, '-')}`;

/**
 * The whole intervals that meet [from, to) and are over by an instant, in ascending time. Fixed ones begin at multiples of
 * their length since 1970-01-01 in UTC, calendar ones by the zone's clock. All times in microseconds.
 * @throws RangeError where there would be more than {@link MAXIMUM_BUCKETS}.
 */
export function wholeIntervals({ from, to }: Span, over: number, interval: Interval, zone: string): Bucket[] {
  const found: Bucket[] = [];
  let begin = NaN;
  for (const finish of edges(from, interval, zone)) {
    if (!Number.isNaN(begin)) {
      if (begin >= to || finish > over) break;
      if (found.length === MAXIMUM_BUCKETS)
        throw new RangeError(
          `Those would be more than ${MAXIMUM_BUCKETS} intervals: choose longer ones, or a shorter window.`,
        );
      found.push({ begin, finish, truncated: false });
    }
    begin = finish;
  }
  return found;
}

/** The whole intervals that have ended since an instant and by another: the first excluded, the second included. */
export const endedBetween = (since: number, by: number, interval: Interval, zone: string): Bucket[] =>
  since >= by ? [] : wholeIntervals({ from: since, to: by }, by, interval, zone).filter(({ finish }) => finish > since);

/** When an interval ended last, by an instant. Microseconds. */
export const lastEdge = (instant: number, interval: Interval, zone: string): number =>
  edges(instant, interval, zone).next().value as number;

/** Edges in ascending microseconds, the first one at or before an instant. */
function* edges(from: number, interval: Interval, zone: string): Generator<number> {
  if (interval.kind !== 'fixed') yield* calendarEdges(from, interval, zone);
  else for (let edge = Math.floor(from / interval.micros) * interval.micros; ; edge += interval.micros) yield edge;
}
