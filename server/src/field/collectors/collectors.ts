/** What the collectors said about themselves last. */
import type { CollectorReport, CollectorState, SourceState } from '@wide-ledger/contract';

/** After this long without a report a collector counts as absent. */
const PRESENT_MILLISECONDS = 5000;

interface Kept {
  readonly report: CollectorReport;
  readonly at: number;
}

/** What collectors last said of themselves and their sources. In memory only. */
export class Collectors {
  private readonly reports = new Map<string, Kept>();

  constructor(private readonly now: () => number = Date.now) {}

  take(report: CollectorReport): void {
    this.reports.set(report.name, { report, at: this.now() });
  }

  get states(): CollectorState[] {
    return [...this.reports.values()].map(({ report: { sources: _sources, ...report }, at }) => ({
      ...report,
      reportedAt: new Date(at).toISOString(),
      present: this.now() - at < PRESENT_MILLISECONDS,
    }));
  }

  /** What was last said of a source, and when; nulls where nobody has said anything since the server started. */
  stateOf(sourceId: number): { state: SourceState | null; reportedAt: string | null; runs: number | null } {
    for (const { report, at } of this.reports.values()) {
      const state = report.sources.find((one) => one.source === sourceId);
      if (state) return { state, reportedAt: new Date(at).toISOString(), runs: report.version };
    }
    return { state: null, reportedAt: null, runs: null };
  }

  /** Whether a collector has just said that it is watching this source. */
  isArriving(sourceId: number): boolean {
    const { state, reportedAt } = this.stateOf(sourceId);
    return state?.state === 'watching' && this.now() - Date.parse(reportedAt!) < PRESENT_MILLISECONDS;
  }
}
