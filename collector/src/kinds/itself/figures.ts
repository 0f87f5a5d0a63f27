/** Figures of a collector's account, each by its name. Pure. */
import type { OwnFigure, SourceFigure, SourceState } from '@wide-ledger/contract';
import type { Account } from '../../account/account.ts';

const MEGABYTE = 1e6;
const GIGABYTE = 1e9;

/** What this process takes: `processor` as a share of one core since it was last asked, `memory` in bytes. */
export interface Load {
  readonly processor: number | null;
  readonly memory: number;
}

const scaled = (value: number | null, by: number): number | null => (value === null ? null : value / by);

const STATES: readonly SourceState['state'][] = ['connecting', 'watching', 'away'];

/** The greatest of what is found for each interval of a source; null where it has not read yet. */
function worst(timing: SourceState['timing'], of: (one: SourceState['timing'][string]) => number): number | null {
  const found = Object.values(timing).filter(({ reads }) => reads > 0);
  return found.length === 0 ? null : Math.max(...found.map(of));
}

const isAway = ({ state }: SourceState): boolean => state === 'away';
const lateness = ({ timing }: SourceState): number | null => worst(timing, ({ jitter99 }) => jitter99);

/** Figures of the collector as a whole; null where one is not known. @param now by `performance.now`. */
export const OWN: Readonly<Record<OwnFigure, (account: Account, load: Load, now: number) => number | null>> = {
  state: ({ report }) => (report.trouble !== null ? 0 : report.sources.some(isAway) ? 1 : 2),
  version: ({ report }) => report.version,
  values: ({ report }) => report.valuesPerSecond,
  away: ({ report }) => report.sources.filter(isAway).length,
  late: ({ report }) =>
    report.sources.reduce<number | null>((most, source) => {
      const late = lateness(source);
      return late === null ? most : Math.max(most ?? 0, late);
    }, null),
  waiting: ({ report }) => report.spooledSamples,
  'put-away': ({ report }) => report.putAwayEntries,
  'spool-free': ({ report }) => scaled(report.spoolFreeBytes, GIGABYTE),
  'archive-free': ({ server }) => scaled(server?.archiveFreeBytes ?? null, GIGABYTE),
  contact: ({ server }, _load, now) => (server === null ? null : (now - server.at) / 1000),
  'server-clock': ({ server }) => server?.clock ?? null,
  processor: (_account, { processor }) => scaled(processor, 0.01),
  memory: (_account, { memory }) => memory / MEGABYTE,
};

/** Figures of one source that it reads; null where one is not known. */
export const OF_SOURCE: Readonly<Record<SourceFigure, (source: SourceState) => number | null>> = {
  state: ({ state }) => STATES.indexOf(state),
  values: ({ valuesPerSecond }) => valuesPerSecond,
  late: lateness,
  answer: ({ timing }) => worst(timing, ({ duration99 }) => duration99),
  clock: ({ clockSkewMilliseconds }) => clockSkewMilliseconds,
};
