/** Where the axis of time has its ticks: at times that people count in, by the zone's clock. Pure. */
import { DateTime, type DurationLikeObject } from 'luxon';

const SECOND = 1000;
const MINUTE = 60 * SECOND;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;
/** Most ticks of an axis. */
const MOST = 13;

interface Step {
  readonly unit: 'second' | 'minute' | 'hour' | 'day' | 'week' | 'month' | 'year';
  readonly count: number;
  /** At least. */
  readonly length: number;
  readonly format: string;
}

const steps = (unit: Step['unit'], length: number, format: string, ...counts: number[]): Step[] =>
  counts.map((count) => ({ unit, count, length: count * length, format }));

const STEPS: readonly Step[] = [
  ...steps('second', SECOND, 'HH:mm:ss', 1, 2, 5, 10, 15, 30),
  ...steps('minute', MINUTE, 'HH:mm', 1, 2, 5, 10, 15, 30),
  ...steps('hour', HOUR, 'HH:mm', 1, 2, 3, 6, 12),
  ...steps('day', DAY, 'd LLL', 1, 2),
  ...steps('week', 7 * DAY, 'd LLL', 1, 2),
  ...steps('month', 31 * DAY, 'LLL yyyy', 1, 2, 3, 6),
  ...steps('year', 365 * DAY, 'yyyy', 1, 2, 5, 10, 20, 50, 100, 200, 500),
];

export interface Ticks {
  /** Milliseconds since 1970, ascending. */
  readonly times: readonly number[];
  /** How they are written, in luxon's letters. */
  readonly format: string;
}

/** @param zone by whose clock they are round. @param most ticks. */
export function ticksOf(from: number, to: number, zone: string, most = MOST): Ticks {
  const step = STEPS.find(({ length }) => (to - from) / length <= most - 1) ?? STEPS.at(-1)!;
  const times: number[] = [];
  for (let at = firstOf(DateTime.fromMillis(from, { zone }), step); at.toMillis() <= to; at = nextOf(at, step)) {
    if (at.toMillis() >= from) times.push(at.toMillis());
    if (times.length > most) break;
  }
  return { times, format: step.format };
}

/** The last tick at or before a time, counted from where its next larger unit begins. */
function firstOf(from: DateTime, { unit, count }: Step): DateTime {
  switch (unit) {
    case 'second':
    case 'minute':
    case 'hour': {
      // Counted by the clock: a day of 23 hours has its ticks where the clock shows them.
      const shown = from[unit];
      return from.startOf(unit).set({ [unit]: shown - (shown % count) });
    }
    case 'day':
      return from.startOf('day').minus({ days: (from.ordinal - 1) % count });
    case 'week':
      return from.startOf('week').minus({ weeks: (from.weekNumber - 1) % count });
    case 'month':
      return from.startOf('month').minus({ months: (from.month - 1) % count });
    case 'year':
      return from.startOf('year').minus({ years: from.year % count });
  }
}

function nextOf(at: DateTime, { unit, count }: Step): DateTime {
  const by: DurationLikeObject = { [`${unit}s`]: count };
  const next = at.plus(by);
  if (unit !== 'hour') return next;
  // Over a change of the clock a step of hours goes on at its own round hours, the earlier one where there is one.
  const beyond = next.hour % count;
  const earlier = next.minus({ hours: beyond });
  return earlier.hour % count === 0 && earlier > at ? earlier : next.plus({ hours: count - beyond });
}
