/** Computing the past of derived tags: jobs that go through it piece by piece, and write what their formulas give there now. */
import { formatInstant, type Span } from '@wide-ledger/core';
import { randomUUID } from 'node:crypto';
import type { Pool } from 'pg';
import type { Catalogue, TagRow } from '../../configuration/index.ts';
import type { Jobs, Run } from '../../ground/index.ts';
import type { Journal } from '../journal/journal.ts';
import type { Deriving } from './deriving.ts';
import { FIRST_PIECE, nextLength } from './past.ts';

interface ComputationPlan {
  readonly tag: number;
  readonly window: Span;
}

interface Cursor {
  /** Up to here it is done. Microseconds. */
  readonly until: number;
  readonly length: number;
  readonly written: number;
}

/** A tag that is not derived any more, or not yet known to the thread, is asked for again so often. */
const TRIES = 40;
const PAUSE_MILLISECONDS = 250;

export class Computations {
  constructor(
    private readonly home: Pool,
    private readonly catalogue: Catalogue,
    private readonly deriving: Deriving,
    private readonly journal: Journal,
    private readonly jobs: Jobs,
  ) {
    jobs.register<ComputationPlan, Cursor>('computation', {
      unit: 's',
      tries: 'again and again',
      run: (run) => this.run(run),
    });
  }

  /** Starts one. @returns the job's number. */
  async start(tag: TagRow, window: Span, by: string): Promise<number> {
    // From now on what comes late there is computed again, too.
    await this.home.query(
      `INSERT INTO derived_past (tag_id, since) VALUES ($1, $2)
       ON CONFLICT (tag_id) DO UPDATE SET since = least(derived_past.since, excluded.since)`,
      [tag.id, window.from],
    );
    const { id } = await this.jobs.start({
      kind: 'computation',
      key: randomUUID(),
      title: `Computing ${tag.name}, ${formatInstant(window.from)} to ${formatInstant(window.to)}`,
      plan: { tag: tag.id, window },
      total: Math.round((window.to - window.from) / 1e6),
      by,
      again: false,
    });
    return id;
  }

  private async run(run: Run<ComputationPlan, Cursor>): Promise<string | null> {
    const { tag, window } = run.plan;
    let { until, length, written } = run.cursor ?? { until: window.from, length: FIRST_PIECE, written: 0 };
    while (until < window.to) {
      if (!(await this.isDerived(tag))) return `It is not computed any more; ${written} values were written before.`;
      const piece: Span = { from: until, to: Math.min(until + length, window.to) };
      const { frame, samples } = await this.piece(tag, piece);
      // Written before the step: a restart between the two finds it there, and nothing differs any more.
      if (frame) await this.journal.appendAll(this.deriving.pastEntries(frame));
      until = piece.to;
      length = nextLength(length, samples);
      written += frame?.times.length ?? 0;
      const cursor: Cursor = { until, length, written };
      const goesOn = await run.step(() =>
        Promise.resolve({
          cursor,
          done: Math.round((until - window.from) / 1e6),
          sentence: `${formatInstant(until)}: ${written} values written.`,
        }),
      );
      if (!goesOn) return null;
    }
    return written === 0 ? 'Everything stood as the formula gives it.' : `${written} values written.`;
  }

  private async isDerived(id: number): Promise<boolean> {
    await this.catalogue.refresh();
    const tag = this.catalogue.tagById(id);
    return tag !== undefined && tag.inputs !== null && tag.retiredAt === null && !tag.paused;
  }

  private async piece(tag: number, window: Span): ReturnType<Deriving['past']> {
    for (let tries = 1; ; tries++) {
      try {
        return await this.deriving.past(tag, window);
      } catch (error) {
        // The thread may not have begun, or not know of it yet.
        if (tries >= TRIES) throw error;
        await new Promise((resolve) => setTimeout(resolve, PAUSE_MILLISECONDS));
      }
    }
  }
}
