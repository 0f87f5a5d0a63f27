/** What the collectors said about themselves last. */
import type { CollectorReport, CollectorState, LinkAccount, SourceState } from '@wide-ledger/contract';

/** After this long without a report a collector counts as absent. */
const PRESENT_MILLISECONDS = 5000;

/** After this long it is no longer shown as absent: it was taken down, or has another name. */
const FORGOTTEN_MILLISECONDS = 24 * 3_600_000;

interface Kept {
  readonly report: CollectorReport;
  readonly at: number;
}

/** What a collector last said of a source that it reads. */
export interface Reading {
  readonly collector: string;
  readonly present: boolean;
  readonly state: SourceState['state'];
  readonly sentence: string;
  readonly faultyTags: number;
}

/** What collectors last said of themselves and their sources. In memory only. */
export class Collectors {
  private readonly reports = new Map<string, Kept>();
  /** By the number of the source: the collector whose turn it is, where several read it. */
  readonly holders = new Map<number, string>();
  /** How the links of the site stand, for collectors that keep that as tags. */
  links: () => Promise<readonly LinkAccount[]> = () => Promise.resolve([]);

  constructor(private readonly now: () => number = Date.now) {}

  take(report: CollectorReport): void {
    const at = this.now();
    this.reports.set(report.name, { report, at });
    for (const [name, known] of this.reports) if (at - known.at > FORGOTTEN_MILLISECONDS) this.reports.delete(name);
  }

  get states(): CollectorState[] {
    return [...this.reports.values()].map(({ report: { sources: _sources, ...report }, at }) => ({
      ...report,
      reportedAt: new Date(at).toISOString(),
      present: this.isPresent({ at }),
    }));
  }

  private isPresent({ at }: Pick<Kept, 'at'>): boolean {
    return this.now() - at < PRESENT_MILLISECONDS;
  }

  /** What every collector last said of a source, in the order in which they were first heard. */
  readingsOf(sourceId: number): Reading[] {
    return [...this.reports].flatMap(([collector, kept]) => {
      const state = kept.report.sources.find((one) => one.source === sourceId);
      if (!state) return [];
      const { sentence, faultyTags } = state;
      return [{ collector, present: this.isPresent(kept), state: state.state, sentence, faultyTags }];
    });
  }

  /**
   * How a source stands, and when that was said; nulls where nobody has said anything since the server started. Of one whose
   * collector is gone nobody knows anything.
   */
  stateOf(sourceId: number): { state: SourceState | null; reportedAt: string | null; runs: number | null } {
    let newest: { state: SourceState; at: number; runs: number | null; by: Kept } | null = null;
    const holder = this.reports.get(this.holders.get(sourceId) ?? '');
    // What was said last counts: a collector that is gone does not hide the one that took its place.
    for (const by of holder && this.isPresent(holder) ? [holder] : this.reports.values()) {
      const { report, at } = by;
      const state = report.sources.find((one) => one.source === sourceId);
      if (state && (newest === null || at > newest.at)) newest = { state, at, runs: report.version, by };
    }
    if (newest === null) return { state: null, reportedAt: null, runs: null };
    const { state, at, runs, by } = newest;
    const known = this.isPresent(by) ? state : unattended(state, by);
    return { state: known, reportedAt: new Date(at).toISOString(), runs };
  }

  /** The sources of which a collector has just said that it is watching them. */
  get arriving(): number[] {
    const present = [...this.reports.values()].filter((kept) => this.isPresent(kept));
    return present.flatMap(({ report }) =>
      report.sources.filter(({ state }) => state === 'watching').map(({ source }) => source),
    );
  }
}

/** How a source stands whose collector says nothing any more. */
const unattended = (state: SourceState, { report, at }: Kept): SourceState => ({
  ...state,
  state: 'away',
  since: state.state === 'away' ? state.since : at,
  sentence: `Collector ${report.name}, which reads this source, has not reported since ${new Date(at).toISOString()}. Check that it runs and can reach this server.`,
  code: 'COLLECTOR_ABSENT',
  valuesPerSecond: 0,
  keptPerSecond: 0,
});
