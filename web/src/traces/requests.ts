/** What Traces shows as a request: to the server, as an address to copy, as SQL to copy, as a file. */
import type { Format } from '@wide-ledger/contract';
import { parseInterval, type Interval } from '@wide-ledger/core';
import { address } from '../server/calls.ts';
import type { TableRequest } from '../server/queries.ts';
import type { TraceView } from './useTraceView.ts';

export interface Window {
  readonly from: number;
  readonly to: number;
}

const iso = (milliseconds: number): string => new Date(milliseconds).toISOString();

/** Intervals to choose from: value, words, about how many milliseconds. */
export const INTERVALS: readonly (readonly [value: string, words: string, length: number])[] = [
  ['PT1S', 'second', 1000],
  ['PT10S', '10 seconds', 10_000],
  ['PT1M', 'minute', 60_000],
  ['10 minutes', '10 minutes', 600_000],
  ['15 minutes', '15 minutes', 900_000],
  ['PT1H', 'hour', 3_600_000],
  ['shift:three-shift', 'shift 06/14/22', 28_800_000],
  ['P1D', 'day', 86_400_000],
  ['week', 'week', 604_800_000],
  ['month', 'month', 2_629_800_000],
  ['quarter', 'quarter', 7_889_400_000],
  ['year', 'year', 31_557_600_000],
];
/** More rows than this no one reads: the interval grows with the window. */
const MOST_ROWS = 800;

/** Where the chosen interval is longer than the window, the next one gives at least so many rows. */
const FEWEST_ROWS = 6;

/** Intervals that give no more rows than anybody reads, and fit into the window; at least one. */
export function intervalsFor({ from, to }: Window): typeof INTERVALS {
  const few = INTERVALS.filter(([, , length]) => (to - from) / length <= MOST_ROWS);
  const within = few.filter(([, , length]) => length <= to - from);
  return within.length > 0 ? within : few.length > 0 ? few.slice(0, 1) : INTERVALS.slice(-1);
}

/** The interval in force: the chosen one, or one near it that fits the window. */
export function intervalFor(chosen: string, window: Window): readonly [string, string, number] {
  const fitting = intervalsFor(window);
  const found = fitting.find(([value]) => value === chosen);
  if (found) return found;
  const [, , wished = 0] = INTERVALS.find(([value]) => value === chosen) ?? [];
  const length = window.to - window.from;
  const shorter = fitting.filter((interval) => length / interval[2] >= FEWEST_ROWS);
  return (wished > length ? shorter.at(-1) : undefined) ?? fitting[0]!;
}

export const isCalendar = (interval: string): boolean => {
  const parsed: Interval | undefined = parseInterval(interval);
  return parsed !== undefined && parsed.kind !== 'fixed';
};

/** Whole fixed intervals around a window, so that an hour is an hour whatever the window's edges; calendar ones cut themselves. */
export function wholeIntervals(window: Window, interval: string, length: number): Window {
  if (isCalendar(interval)) return window;
  return { from: Math.floor(window.from / length) * length, to: Math.ceil(window.to / length) * length };
}

/** The parameters of the table of aggregates. */
export function tableRequest(
  view: TraceView,
  names: readonly string[],
  aggregates: readonly string[],
  window: Window,
  zone: string,
): TableRequest {
  const [interval, , length] = intervalFor(view.interval, window);
  const { from, to } = wholeIntervals(window, interval, length);
  // One setting for all tags of a request: only where they agree is it sent.
  const drawn = new Set(names.map((name) => view.stepped.get(name)));
  const [only] = drawn;
  const stepped = drawn.size === 1 && only !== undefined ? { stepped: String(only) } : {};
  return {
    tags: names.join(','),
    aggregates: aggregates.join(','),
    from: iso(from),
    to: iso(to),
    interval,
    zone,
    ...stepped,
  };
}

/** The address of a file of what is shown. */
export function exportAddress(
  view: TraceView,
  names: readonly string[],
  window: Window,
  zone: string,
  format: Format,
  layout: 'table' | 'sheets',
): string {
  const common = { kind: view.read, format, layout };
  const parameters = { tags: names.join(','), from: iso(window.from), to: iso(window.to) };
  switch (view.read) {
    case 'processed':
      return address('/history/export', { ...common, ...tableRequest(view, names, view.aggregates, window, zone) });
    case 'at':
      return address('/history/export', { ...common, ...parameters, times: timesOf(view).join(',') });
    default:
      return address('/history/export', { ...common, ...parameters });
  }
}

/** The times that are read, as they were given. */
export const timesOf = ({ times }: TraceView): string[] => times.split(/[\s,]+/).filter(Boolean);

/** A time of SQL: an instant, or one relative to its own present. */
function sqlTime(text: string): string {
  const relative = /^now(?:([+-])(\d+)([smhdw]))?$/.exec(text);
  if (!relative) return `timestamptz ${literal(text)}`;
  const [, sign, count, letter = ''] = relative;
  return sign ? `now() ${sign} interval '${count} ${UNITS[letter]}'` : 'now()';
}

const UNITS: Readonly<Record<string, string>> = { s: 'seconds', m: 'minutes', h: 'hours', d: 'days', w: 'weeks' };

const literal = (text: string): string => `'${text.replaceAll("'", "''")}'`;

/** The same by SQL. Time-weighted figures are the server's own: in SQL the mean is one of samples. */
export function sqlFor(view: TraceView, names: readonly string[], window: Window, zone: string): string {
  const [from, to] = [literal(iso(window.from)), literal(iso(window.to))];
  const samples = names
    .map((name) => `SELECT * FROM history.sample(${literal(name)}, ${from}, ${to})`)
    .join('\nUNION ALL ');
  if (view.read === 'modified') {
    return `SELECT * FROM history.modified WHERE tag IN (${names.map(literal).join(', ')}) AND time >= ${from} AND time < ${to} ORDER BY tag, time;`;
  }
  if (view.read === 'at') {
    const tags = names.map((name) => `(${literal(name)})`).join(', ');
    const times = timesOf(view)
      .map((text) => `(${sqlTime(text)})`)
      .join(', ');
    // Held, not sloped: the last value of the day before each time.
    return `SELECT wanted.tag, at, last.* FROM (VALUES ${tags}) AS wanted(tag), (VALUES ${times}) AS times(at), LATERAL (\n  SELECT time, value, text, quality FROM history.sample(wanted.tag, at - interval '1 day', at + interval '1 microsecond')\n  ORDER BY time DESC LIMIT 1) AS last ORDER BY tag, at;`;
  }
  if (view.read === 'raw') return `${samples}\nORDER BY tag, time;`;
  const [interval, words] = intervalFor(view.interval, window);
  const binned = /^\d+ minutes$/.test(interval) ? interval : interval.startsWith('shift') ? '8 hours' : null;
  const bucket = binned ? `date_bin('${binned}', time, ${from})` : `date_trunc('${words}', time, ${literal(zone)})`;
  return `SELECT tag, ${bucket} AS interval, avg(value) AS mean_of_samples, min(value), max(value), count(*)\nFROM (${samples}) AS samples WHERE quality = 'Good' GROUP BY 1, 2 ORDER BY 1, 2;`;
}
