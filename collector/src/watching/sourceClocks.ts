/**
 * The clocks by which a source stamps, tag by tag, since a broker's meters have one each: how far ahead of the collector's
 * they usually are, and whether one has jumped. What is dated back says nothing: it may come late, or not have changed.
 */

/** What is dated so much further ahead than usual comes of a clock that jumped. Milliseconds. */
const JUMP = 10_000;
/** A clock that goes on being wrong for so long has been set: that is its usual. Milliseconds. */
const SET = 600_000;

/** How far ahead the clocks of tags are that are ahead: tag, and milliseconds. */
export type ClockNotes = readonly (readonly [tag: number, ahead: number])[];

interface Known {
  /** Milliseconds; never below zero. */
  usual: number;
  /** Since when it has differed from that, by the collector's clock; null while it does not. */
  differsSince: number | null;
}

export class SourceClocks {
  private readonly byTag = new Map<number, Known>();

  /** @param notes of an earlier run: of tags that it does not name nothing was ahead; null where there was none */
  constructor(private readonly notes: ClockNotes | null) {
    for (const [tag, usual] of notes ?? []) this.byTag.set(tag, { usual, differsSince: null });
  }

  /**
   * Takes the time of a sample. @param time and @param now are milliseconds.
   * @returns by how much it is further ahead than usual; null while that is no jump
   */
  jumpOf(tag: number, time: number, now: number): number | null {
    const ahead = Math.max(0, time - now);
    const known = this.byTag.get(tag) ?? { usual: this.notes === null ? ahead : 0, differsSince: null };
    this.byTag.set(tag, known);
    const further = ahead - known.usual;
    if (Math.abs(further) <= JUMP) {
      known.differsSince = null;
      return null;
    }
    known.differsSince ??= now;
    if (now - known.differsSince < SET) return further > 0 ? further : null;
    known.usual = ahead;
    known.differsSince = null;
    return null;
  }

  /** What a restart needs to know. */
  get ahead(): ClockNotes {
    return [...this.byTag].flatMap(([tag, { usual }]) => (usual > JUMP ? [[tag, usual] as const] : []));
  }
}
