/** What the collectors said about themselves last, and what is asked of them. */
import type { CollectorReport, CollectorState, NewSource, PathCheck, SourceState } from '@wide-ledger/contract';

/** After this long without a report a collector counts as absent. */
const PRESENT_MILLISECONDS = 5000;
const CHECK_TIMEOUT_MILLISECONDS = 15_000;

interface Kept {
  readonly report: CollectorReport;
  readonly at: number;
}

/** What collectors last said of themselves and their sources, and path checks on their way to them. In memory only. */
export class Collectors {
  private readonly reports = new Map<string, Kept>();
  private readonly waiting = new Map<
    number,
    { source: NewSource; resolve: (check: PathCheck | null) => void; handedOut: boolean }
  >();
  private lastRequest = 0;

  constructor(private readonly now: () => number = Date.now) {}

  /** Takes a report; returns the path checks that this collector should make. */
  take(report: CollectorReport): { request: number; source: NewSource }[] {
    this.reports.set(report.name, { report, at: this.now() });
    for (const { request, check } of report.answers) this.waiting.get(request)?.resolve(check);
    const checks: { request: number; source: NewSource }[] = [];
    for (const [request, waiting] of this.waiting) {
      if (waiting.handedOut) continue;
      waiting.handedOut = true;
      checks.push({ request, source: waiting.source });
    }
    return checks;
  }

  get states(): CollectorState[] {
    return [...this.reports.values()].map(({ report: { answers: _answers, sources: _sources, ...report }, at }) => ({
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

  /** Waits for a collector to walk the path; null when none does in time. */
  askForCheck(source: NewSource): Promise<PathCheck | null> {
    const request = ++this.lastRequest;
    return new Promise((resolve) => {
      const finish = (check: PathCheck | null): void => {
        clearTimeout(timer);
        this.waiting.delete(request);
        resolve(check);
      };
      const timer = setTimeout(() => finish(null), CHECK_TIMEOUT_MILLISECONDS);
      this.waiting.set(request, { source, resolve: finish, handedOut: false });
    });
  }
}
