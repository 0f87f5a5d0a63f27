/** What was gathered or fetched, as entries on the spool: small enough for a server, with the notes that belong to them. */
import { packEntry, type Frame, type Origin } from '@wide-ledger/core';
import { piecesOf } from '../delivery/parts.ts';
import type { Gathered } from '../gathering/gathering.ts';
import type { Notes } from '../source/notebook.ts';
import type { Spool } from './spool.ts';

type Said = Omit<Gathered, 'frames'>;

/** What goes with a frame that goes alone. */
const NOTHING_SAID: Said = { watches: [], outages: [], recoveries: [] };

export class EntryWriter {
  /** @param collector its name: entries are numbered under it and the spool's own. */
  constructor(
    private readonly spool: Spool,
    private readonly collector: string,
  ) {}

  /**
   * Writes what was gathered: an entry for each frame. What was watched is said when all of it is written: a kill before
   * that leaves a gap, and no hole in what counts as watched.
   * @param notes what a restart needs to know. @throws Error as the spool does.
   */
  async write({ frames, ...said }: Gathered, notes: Notes): Promise<void> {
    const [first = null, ...others] = frames;
    for (const frame of others) await this.entry('live', frame, NOTHING_SAID, null);
    await this.entry('live', first, said, notes);
  }

  /**
   * Writes what was fetched of a source's past. How far it got is noted with the last of it: a kill before that has it
   * fetched again, and the same value twice is one.
   * @param commit from here on it has got that far; it gives back how to take that back.
   * @param notes as they are then. @throws Error as the spool does.
   */
  async writeFetched({ frames, ...said }: Gathered, commit: () => () => void, notes: () => Notes): Promise<void> {
    const last = frames.at(-1) ?? null;
    for (const frame of frames.slice(0, -1)) await this.entry('backfilled', frame, NOTHING_SAID, null);
    const undo = commit();
    if (last === null && said.recoveries.length === 0) return;
    try {
      await this.entry('backfilled', last, said, notes());
    } catch (error) {
      undo();
      throw error;
    }
  }

  /** One entry; as several where there is too much for one. */
  private async entry(
    origin: Origin,
    frame: Frame | null,
    { recoveries, ...spans }: Said,
    notes: Notes | null,
  ): Promise<void> {
    const description = {
      writer: `${this.collector}/${this.spool.name}`,
      origin,
      watches: [...spans.watches],
      outages: [...spans.outages],
      // Older servers know of none.
      ...(recoveries.length > 0 && { recoveries: [...recoveries] }),
    };
    const pieces = piecesOf(frame, description);
    for (const [i, piece] of pieces.entries()) {
      const pack = (sequence: number): Uint8Array => packEntry({ ...piece.description, sequence }, piece.frame);
      await this.spool.add(pack, i === pieces.length - 1 ? notes : null, piece.frame?.times.length ?? 0);
    }
  }
}
