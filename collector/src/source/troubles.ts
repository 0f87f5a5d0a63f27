/** What went wrong with a source since the collector was started, by kinds. */
import type { SourceState } from '@wide-ledger/contract';

/** So many kinds are told of, those that came last. */
const MOST_KINDS = 8;

export class Troubles {
  private readonly byCode = new Map<string, { code: string; sentence: string; count: number; last: number }>();

  /** @param at milliseconds since 1970. */
  note(code: string, sentence: string, at: number): void {
    const count = (this.byCode.get(code)?.count ?? 0) + 1;
    // What came last stands last.
    this.byCode.delete(code);
    this.byCode.set(code, { code, sentence: sentence.slice(0, 1000), count, last: at });
  }

  get list(): SourceState['troubles'] {
    return [...this.byCode.values()].slice(-MOST_KINDS).reverse();
  }
}
