/** Reading a tag as often as can be for a short while: a job, while which its collector goes on as it does. */
import type { Burst, BurstPace } from '@wide-ledger/contract';
import type { Catalogue, TagRow } from '../../configuration/index.ts';
import type { Jobs, Run } from '../../ground/index.ts';
import { toldOf } from '../collectors/told.ts';
import type { Questions } from '../questions/questions.ts';
import { asSource } from '../sources/asked.ts';

interface BurstPlan extends BurstPace {
  readonly tag: number;
}

/** So often the job says how far it is. Milliseconds. */
const STEP = 1000;

export class Bursts {
  constructor(
    private readonly catalogue: Catalogue,
    private readonly questions: Questions,
    private readonly jobs: Jobs,
  ) {
    // What was read is gone with whoever asked: after a restart it is read from the start.
    jobs.register<BurstPlan, never>('burst', { unit: 's', tries: 'once', run: (run) => this.run(run) });
  }

  /** Starts one. @returns the job's number. */
  async start(tag: TagRow, pace: BurstPace, by: string): Promise<number> {
    const { id } = await this.jobs.start({
      kind: 'burst',
      // One of a tag at a time, and its last one kept: a device is not asked twice at once.
      key: String(tag.id),
      title: `Reading ${tag.name} every ${pace.everyMilliseconds} ms`,
      plan: { ...pace, tag: tag.id } satisfies BurstPlan,
      total: pace.seconds,
      by,
      again: false,
    });
    return id;
  }

  private async run(run: Run<BurstPlan, never>): Promise<string | null> {
    const { tag: id, everyMilliseconds, seconds } = run.plan;
    await this.catalogue.refresh();
    const row = this.catalogue.tagById(id);
    const told = row && toldOf(row);
    const source = told && this.catalogue.sourceById(told.source);
    if (!told || !source || source.paused) return 'Nobody reads it any more.';
    const question = {
      ask: 'burst',
      source: asSource(source),
      tag: told.tag,
      everyMilliseconds,
      seconds,
      secrets: {},
    } as const;
    const reading = this.questions.answer(question);
    let isOver = false;
    const over = reading.then(
      () => (isOver = true),
      () => (isOver = true),
    );
    for (let done = 0; !isOver; done = Math.min(done + 1, seconds)) {
      const goesOn = await run.step(() =>
        Promise.resolve({ done, sentence: `Reading every ${everyMilliseconds} ms.` }),
      );
      // What it goes on reading nobody waits for.
      if (!goesOn) return null;
      await Promise.race([over, new Promise((resolve) => setTimeout(resolve, STEP))]);
    }
    const report: Burst = await reading;
    const goesOn = await run.step(() => Promise.resolve({ done: seconds, report }));
    return goesOn ? `${report.values.length} values in ${seconds} s.` : null;
  }
}
