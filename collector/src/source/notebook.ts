/** What is remembered of the sources across a restart: never further than what is written. */
import type { SourceWatcher, WatcherNotes } from './sourceWatcher.ts';

/** By the number of the source. */
export type Notes = Readonly<Record<string, WatcherNotes>>;

/** What is noted of a source: its watch as it was handed over, its recovery as far as it is written. */
type Noted = Pick<SourceWatcher, 'notes' | 'recoveryNotes'>;

const NOTHING_KNOWN: WatcherNotes = { watchedUntil: null, outage: null, tagOutages: [] };

/**
 * Two streams go to the spool: what is live, and what is fetched of a source's past. Notes that go with the second must
 * not know more of the first than is written: after a kill in between nobody would miss what was live.
 */
export class Notebook {
  /** @param handedOver the notes that were found, or those that went with what was live last. */
  constructor(
    private handedOver: Notes,
    private readonly sources: () => Iterable<readonly [id: number, source: Noted]>,
  ) {}

  /** What was last known of a source; undefined for one that was not known. */
  of(source: number): WatcherNotes | undefined {
    return this.handedOver[source];
  }

  /**
   * The notes that go with what was live until this moment, as it is handed over.
   * @returns them, and how to take that back where they are not written.
   */
  handOver(): { readonly notes: Notes; readonly takeBack: () => void } {
    const before = this.handedOver;
    this.handedOver = this.each(({ notes }) => notes);
    return {
      notes: this.handedOver,
      takeBack: () => {
        this.handedOver = before;
      },
    };
  }

  /** The notes that go with what was fetched. */
  withFetched(): Notes {
    return this.each(({ recoveryNotes }, id) => ({ ...(this.handedOver[id] ?? NOTHING_KNOWN), ...recoveryNotes }));
  }

  private each(note: (source: Noted, id: number) => WatcherNotes): Notes {
    return Object.fromEntries([...this.sources()].map(([id, source]) => [id, note(source, id)]));
  }
}
