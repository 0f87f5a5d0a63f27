/**
 * What is known of a source, cut into days: as such it goes to another site, a day at a time, and again when the day
 * has changed. Times in microseconds, days of UTC.
 */
import type { Outage } from '../coverage/gaps.ts';
import type { Recovery } from '../coverage/lives.ts';
import type { SourceWatch } from '../coverage/rows.ts';
import type { Span } from '../coverage/spans.ts';
import { DAY } from '../time/instants.ts';

/** An outage of a source (tag 0) or of one of its tags; open where it has no end yet. */
export interface KnownOutage extends Omit<Outage, 'to'> {
  readonly to: number | null;
  readonly tag: number;
  /** Found afterwards, within a watch. */
  readonly within: boolean;
}

/** What is known of a source. */
export interface SourceFacts {
  readonly watches: readonly SourceWatch[];
  readonly outages: readonly KnownOutage[];
  readonly recoveries: readonly Recovery[];
}

interface DayFacts {
  readonly watches: SourceWatch[];
  /** By tag and beginning. */
  readonly outages: Map<string, KnownOutage>;
  readonly recoveries: Recovery[];
}

/**
 * The facts of a source by the beginnings of days, each cut to its day; days of which nothing is known are left out.
 * @param window whole days; what is open stays open on the last of them alone.
 */
export function coverageDays({ watches, outages, recoveries }: SourceFacts, window: Span): Map<number, SourceFacts> {
  const days = new Map<number, DayFacts>();
  const each = ({ from, to }: Span, add: (day: DayFacts, part: Span) => void): void => {
    const [start, end] = [Math.max(from, window.from), Math.min(to, window.to)];
    for (let day = Math.floor(start / DAY) * DAY; day < end; day += DAY) {
      const part = { from: Math.max(start, day), to: Math.min(end, day + DAY) };
      const known = days.get(day) ?? { watches: [], outages: new Map(), recoveries: [] };
      days.set(day, known);
      add(known, part);
    }
  };
  for (const watch of watches) each(watch, (day, part) => day.watches.push({ ...watch, ...part }));
  for (const outage of outages) {
    const whole = { from: outage.from, to: outage.to ?? Infinity };
    each(whole, (day, { from, to }) => {
      const open = outage.to === null && to === window.to;
      // One that was cut at midnight may meet another one there: the longer of them says why.
      const key = `${outage.tag} ${from}`;
      const rival = day.outages.get(key);
      const part = { ...outage, from, to: open ? null : to };
      if (!rival || endOf(part) > endOf(rival)) day.outages.set(key, part);
    });
  }
  for (const recovery of recoveries) each(recovery, (day, part) => day.recoveries.push({ ...recovery, ...part }));
  return new Map([...days].map(([day, { outages: told, ...rest }]) => [day, { ...rest, outages: [...told.values()] }]));
}

const endOf = ({ to }: KnownOutage): number => to ?? Infinity;
