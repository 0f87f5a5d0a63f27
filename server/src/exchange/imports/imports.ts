/** Files brought in: kept in the data folder until they are done; what runs is a job, so that a restart goes on where it was. */
import type { ImportPlan, ImportReport, ImportedFile, JobState } from '@wide-ledger/contract';
import { FileSurvey } from '@wide-ledger/core';
import { randomUUID } from 'node:crypto';
import { createWriteStream, rmSync } from 'node:fs';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Archive } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import { ProblemError, Turns, badRequest, type Jobs, type Run } from '../../ground/index.ts';
import { Archiving } from './archiving.ts';
import { KeptFiles, type KeptFile } from './keptFiles.ts';
import { CELLS_A_TURN, withinLimit } from './limits.ts';
import { joined, type Brought } from './recovering.ts';
import { kindOf, openRows } from './rows.ts';

/** What is done with a file. */
interface FileJob {
  readonly id: string;
  readonly plan: ImportPlan;
}

/** Batches that are in the journal. */
interface FileCursor {
  readonly batches: number;
  /** What holes were filled with so far; nothing where that is not asked for. */
  readonly brought?: Brought | null;
}

const STATES: Readonly<Record<JobState, ImportedFile['state']>> = {
  waiting: 'running',
  running: 'running',
  stopping: 'running',
  pausing: 'running',
  paused: 'stopped',
  stopped: 'stopped',
  done: 'done',
  failed: 'failed',
};

const emptyReport = (): ImportReport => ({
  rows: 0,
  values: 0,
  accepted: 0,
  replaced: 0,
  unchanged: 0,
  setAside: 0,
  reasons: [],
});

/** Files on their way into the archive: kept, understood, rehearsed, and written as a job that goes on after a restart. */
export class Imports {
  private readonly files: KeptFiles;
  private readonly archiving: Archiving;

  constructor(
    dataFolder: string,
    private readonly catalogue: Catalogue,
    archive: Pick<Archive, 'stores' | 'journal' | 'coverage' | 'reading'>,
    private readonly jobs: Jobs,
  ) {
    this.files = new KeptFiles(dataFolder);
    this.archiving = new Archiving(this.files, catalogue, archive);
    jobs.register<FileJob, FileCursor>('import', { unit: 'rows', tries: 'once', run: (run) => this.bringIn(run) });
  }

  /** A file, and how far it is. */
  async find(id: string): Promise<ImportedFile> {
    const { kind: _kind, by: _by, batchRows: _batchRows, ...file } = this.files.find(id);
    const job = await this.jobs.of('import', id);
    if (!job) return { ...file, state: 'understood', report: null };
    const report = (job.report as ImportReport | null) ?? emptyReport();
    return { ...file, state: STATES[job.state], sentence: job.sentence, report };
  }

  /**
   * Takes a file in and says what it understands of it, from its first row to its last. Nothing is archived.
   * @param sheet of a workbook; null: the only one, all that are alike, or the first.
   */
  async take(name: string, content: Readable, zone: string, sheet: string | null, by: string): Promise<ImportedFile> {
    const id = randomUUID();
    const path = this.files.pathOf(id, 'file');
    try {
      await pipeline(content, withinLimit(), createWriteStream(path));
      const kind = await kindOf(path);
      await this.catalogue.refresh();
      const { names, batches, batchRows, sentence: whole, sheets } = await openRows(path, kind, sheet);
      const survey = new FileSurvey(names, this.tagNamed);
      const turns = new Turns(CELLS_A_TURN);
      for await (const rows of batches)
        for (const row of rows) {
          survey.add([row]);
          await turns.after(names.length);
        }
      const columns = survey.understand(zone);
      const valued = columns.some(({ role }) => role === 'value');
      const sentence = [whole, valued ? '' : 'No column was understood as values of a tag.'].filter(Boolean).join(' ');
      const file: KeptFile = { id, name, kind, by, sentence, zone, sheet, sheets: [...sheets], columns, batchRows };
      this.files.keep(file);
      return await this.find(id);
    } catch (error) {
      rmSync(path, { force: true });
      if (error instanceof ProblemError || (error as NodeJS.ErrnoException).code === 'ENOSPC') throw error;
      throw badRequest(
        `${name} cannot be read as CSV, XLSX, Parquet or JSON: ${(error as Error).message.replace(/\.?$/, '.')}`,
        'NOT_A_TABLE',
      );
    }
  }

  /** A tag by its name, also where words such as "quality" or a unit follow it. */
  private readonly tagNamed = (text: string): string | undefined =>
    [text, text.split(/[\s([]/)[0]!].find((name) => this.catalogue.tagByName(name) !== undefined);

  /** Walks through the whole file and says what would become of every value. */
  async rehearse(id: string, plan: ImportPlan): Promise<ImportReport> {
    const report = emptyReport();
    for await (const batch of this.archiving.batches(this.files.find(id), plan))
      await this.archiving.weigh(batch, report, plan.overlap);
    return report;
  }

  /** Archives a file in the background. One that is at work already is left alone. */
  async run(id: string, plan: ImportPlan): Promise<ImportedFile> {
    const { name, by } = this.files.find(id);
    await this.jobs.start({
      kind: 'import',
      key: id,
      title: `Bringing in ${name}`,
      plan: { id, plan } satisfies FileJob,
      total: 0,
      by,
      again: false,
    });
    return this.find(id);
  }

  /** Stops a file that is being archived; of another one there is nothing to stop. */
  async stop(id: string): Promise<void> {
    const job = await this.jobs.of('import', id);
    if (job) await this.jobs.ask(job.id, 'stop');
  }

  private async bringIn({
    plan: { id, plan },
    cursor,
    report: known,
    step,
  }: Run<FileJob, FileCursor>): Promise<string> {
    const file = this.files.find(id);
    let batches = cursor?.batches ?? 0;
    let brought = cursor?.brought ?? null;
    let report = (known as ImportReport | null) ?? emptyReport();
    for await (const batch of this.archiving.batches(file, plan, batches)) {
      const goesOn = await step(async () => {
        const next = structuredClone(report);
        const weighed = await this.archiving.weigh(batch, next, plan.overlap);
        await this.archiving.append(file, batches, weighed);
        batches++;
        report = next;
        if (plan.overlap === 'fill') for (const frame of weighed.frames) brought = joined(brought, frame);
        return { done: report.rows, cursor: { batches, brought }, report, sentence: `${report.rows} rows so far.` };
      });
      if (!goesOn) return `${report.rows} rows so far.`;
    }
    if (brought) await this.archiving.tellRecovered(file, batches, brought);
    return `${report.rows} rows are done.`;
  }
}
