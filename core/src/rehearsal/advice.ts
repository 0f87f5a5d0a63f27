/** Which settings would have saved what a rehearsal lost: each is tried, and told with what would still be lost. */
import { rehearse } from './rehearse.ts';
import type { Rehearsed, RehearsedOutcome, RehearsedSource, Scenario } from './scenario.ts';

export interface Advice {
  /** Position of the source; null: of the collector. */
  readonly source: number | null;
  readonly change: 'recover by itself' | 'remember' | 'calls a second' | 'standby' | 'spool';
  /** Values that the device would have to remember, calls a second, bytes of the spool. */
  readonly value: number | null;
  /** Seconds of that source, or of all of them, that would be lost all the same. */
  readonly lost: number;
}

/** Seconds of a source that are lost. */
export const lostOf = ({ fates }: RehearsedOutcome): number =>
  fates.reduce((sum, { fate, from, to }) => (fate === 'lost' ? sum + to - from : sum), 0);

/** More calls a second are asked of no device. */
const MOST_CALLS = 1000;
/** Less is no difference. Seconds. */
const LEAST = 1;

/** @param played the scenario as it was played. */
export function adviceFor(scenario: Scenario, played: Rehearsed): Advice[] {
  const bySource = scenario.sources.flatMap((source, place) =>
    lostOf(played.outcomes[place]!) < LEAST ? [] : adviceForSource(scenario, source, place, played.outcomes[place]!),
  );
  const isShort = played.outcomes.some(({ fates }) => fates.some(({ why }) => why === 'no room'));
  if (!isShort) return bySource;
  const ample = rehearse({ ...scenario, collector: { ...scenario.collector, spoolBytes: null } });
  const lostBy = ({ outcomes }: Rehearsed): number => outcomes.reduce((sum, outcome) => sum + lostOf(outcome), 0);
  const lost = lostBy(ample);
  if (lost > lostBy(played) - LEAST) return bySource;
  return [...bySource, { source: null, change: 'spool', value: Math.ceil(ample.spoolPeak), lost }];
}

function adviceForSource(
  scenario: Scenario,
  source: RehearsedSource,
  place: number,
  outcome: RehearsedOutcome,
): Advice[] {
  const reasons = new Set(outcome.fates.filter(({ fate }) => fate === 'lost').map(({ why }) => why));
  const before = lostOf(outcome);
  /** How much is lost of it with other settings: alone, where the spool has room, for no other source changes anything of it. */
  const lostWith = (changed: Partial<RehearsedSource>): number => {
    if (reasons.has('no room')) {
      const sources = scenario.sources.map((one, i) => (i === place ? { ...source, ...changed } : one));
      return lostOf(rehearse({ ...scenario, sources }).outcomes[place]!);
    }
    const faults = scenario.faults
      .filter((fault) => fault.source === null || fault.source === place)
      .map((fault) => ({ ...fault, source: fault.source === null ? null : 0 }));
    const alone = { ...scenario, sources: [{ ...source, ...changed }], faults };
    return lostOf(rehearse(alone).outcomes[0]!);
  };
  const found: Advice[] = [];
  const add = (change: Advice['change'], value: number | null, changed: Partial<RehearsedSource>): void => {
    const lost = lostWith(changed);
    if (lost <= before - LEAST) found.push({ source: place, change, value, lost });
  };
  const asked = { mode: 'by itself' } as const;
  if (reasons.has('not asked for')) add('recover by itself', null, asked);
  if (!source.standby) add('standby', null, { standby: true });
  if (reasons.has('overwritten')) {
    const callsPerSecond = leastOf(source.callsPerSecond, MOST_CALLS, (calls) => lostWith({ callsPerSecond: calls }));
    if (callsPerSecond > source.callsPerSecond) add('calls a second', callsPerSecond, { callsPerSecond });
  }
  if (reasons.has('overwritten') || reasons.has('no memory')) {
    const perSecond = source.remembersPerSecond || source.valuesPerSecond;
    const remembering = { ...asked, remembersPerSecond: perSecond };
    const most = Math.ceil(perSecond * (lastOf(scenario) + 1) * 2);
    const remembers = leastOf(source.remembers ?? 0, most, (values) => lostWith({ ...remembering, remembers: values }));
    add('remember', remembers, { ...remembering, remembers });
  }
  return found;
}

const lastOf = ({ faults }: Scenario): number => Math.max(...faults.map(({ at, lasts }) => at + lasts));

/** The least whole number in (low, high] with which as little is lost as with the highest. */
function leastOf(low: number, high: number, lostWith: (value: number) => number): number {
  if (high <= low) return low;
  const best = lostWith(high);
  let [under, over] = [Math.floor(low), high];
  while (over - under > 1) {
    const middle = (under + over) >> 1;
    if (lostWith(middle) <= best + 1e-6) over = middle;
    else under = middle;
  }
  return over;
}
