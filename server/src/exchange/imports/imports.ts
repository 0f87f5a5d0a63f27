/** Files brought in: kept in the data folder until they are done; what runs is a job, so that a restart goes on where it was. */
import type { ImportPlan, ImportReport, ImportedFile, JobState } from '@wide-ledger/contract';
import { FileSurvey, type FileCell, type Frame } from '@wide-ledger/core';
import { randomUUID } from 'node:crypto';
import { createWriteStream, existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { admitManySamples, type Coverage, type Journal, type RefusedSample, type Stores } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import { ProblemError, Turns, badRequest, notFound, type Jobs, type Run } from '../../ground/index.ts';
import { compare } from './comparing.ts';
import { onlyHoles } from './filling.ts';
import { CELLS_A_TURN, withinLimit } from './limits.ts';
import { kindOf, openRows, type FileKind } from './rows.ts';
import { DoubledHourWalk, RowReader, needsWalk, type FileValue } from './values.ts';

const REASONS_KEPT = 100;
const EARLIER_BATCH_ROWS = 2000;
/** An entry's number within its batch: numbers and text have entries of their own. */
const ENTRIES_PER_BATCH = 4;

/** A file as it is kept: how it stands is its job's to say. */
interface Kept extends Omit<ImportedFile, 'state' | 'report'> {
  readonly kind: FileKind;
  readonly by: string;
  /** Rows in a batch; files that an earlier version took have none. */
  readonly batchRows?: number;
}

/** What is done with a file. */
interface FileJob {
  readonly id: string;
  readonly plan: ImportPlan;
}

/** Batches that are in the journal. */
interface FileCursor {
  readonly batches: number;
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
  private readonly folder: string;

  constructor(
    dataFolder: string,
    private readonly catalogue: Catalogue,
    private readonly stores: Stores,
    private readonly journal: Journal,
    private readonly coverage: Coverage,
    private readonly jobs: Jobs,
  ) {
    this.folder = join(dataFolder, 'imports');
    mkdirSync(this.folder, { recursive: true });
    jobs.register<FileJob, FileCursor>('import', { unit: 'rows', tries: 'once', run: (run) => this.archive(run) });
  }

  private pathOf(id: string, end: 'file' | 'json'): string {
    if (!/^[0-9a-f-]{36}$/.test(id)) throw notFound('There is no such file.');
    return join(this.folder, `${id}.${end}`);
  }

  private kept(id: string): Kept {
    const path = this.pathOf(id, 'json');
    if (!existsSync(path)) throw notFound('There is no such file.');
    try {
      return JSON.parse(readFileSync(path, 'utf8')) as Kept;
    } catch {
      throw notFound('What was understood of this file cannot be read any more. Bring it in again.');
    }
  }

  /** A file, and how far it is. */
  async find(id: string): Promise<ImportedFile> {
    const { kind: _kind, by: _by, batchRows: _batchRows, ...file } = this.kept(id);
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
    const path = this.pathOf(id, 'file');
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
      const file: Kept = { id, name, kind, by, sentence, zone, sheet, sheets: [...sheets], columns, batchRows };
      keep(this.pathOf(id, 'json'), file);
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
    for await (const batch of this.batches(this.kept(id), plan)) await this.weigh(batch, report, plan.overlap);
    return report;
  }

  /** Archives a file in the background. One that is at work already is left alone. */
  async run(id: string, plan: ImportPlan): Promise<ImportedFile> {
    const { name, by } = this.kept(id);
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

  /** @param from batches before it are passed over; their rows are read only where the order of rows tells hours apart. */
  private async *batches(
    { id, kind, sheet, columns, batchRows = EARLIER_BATCH_ROWS }: Kept,
    given: ImportPlan,
    from = 0,
  ): AsyncGenerator<{ rows: number; values: FileValue[] }> {
    await this.catalogue.refresh();
    const plan = completed(given, columns);
    const rowsOf = async (): Promise<AsyncGenerator<FileCell[][]>> =>
      (await openRows(this.pathOf(id, 'file'), kind, sheet, batchRows)).batches;
    const walk = needsWalk(plan) ? new DoubledHourWalk(plan) : null;
    const turns = new Turns(CELLS_A_TURN);
    const width = columns.length;
    if (walk)
      for await (const rows of await rowsOf())
        for (const row of rows) {
          walk.add([row]);
          await turns.after(1);
        }
    const reader = new RowReader(plan, this.catalogue.tagByName, walk?.reader() ?? null);
    let at = 0;
    for await (const rows of await rowsOf()) {
      const wanted = at++ >= from;
      const values: FileValue[] = [];
      for (const row of rows) {
        if (wanted || walk) values.push(...reader.read(row));
        else reader.pass();
        await turns.after(wanted || walk ? width : 1);
      }
      if (wanted) yield { rows: rows.length, values };
    }
  }

  private async archive({
    plan: { id, plan },
    cursor,
    report: known,
    step,
  }: Run<FileJob, FileCursor>): Promise<string> {
    const file = this.kept(id);
    let { batches } = cursor ?? { batches: 0 };
    let report = (known as ImportReport | null) ?? emptyReport();
    for await (const batch of this.batches(file, plan, batches)) {
      const goesOn = await step(async () => {
        const next = structuredClone(report);
        await this.append(file, batches, await this.weigh(batch, next, plan.overlap));
        batches++;
        report = next;
        return { done: report.rows, cursor: { batches }, report, sentence: `${report.rows} rows so far.` };
      });
      if (!goesOn) return `${report.rows} rows so far.`;
    }
    return `${report.rows} rows are done.`;
  }

  /** Sorts a batch's values into new, replaced, unchanged and set aside, and counts them. */
  private async weigh(
    { rows, values }: { rows: number; values: readonly FileValue[] },
    report: ImportReport,
    overlap: ImportPlan['overlap'],
  ): Promise<{ frames: readonly Frame[]; refused: readonly RefusedSample[] }> {
    const readable = values.filter(({ sample }) => sample !== null);
    const samples = readable.map(({ sample }) => sample!);
    const admission = await admitManySamples(
      samples,
      this.catalogue.tagByName,
      this.catalogue.keepsSince,
      Date.now() * 1000,
    );
    const setAside = [
      ...values
        .filter(({ reason }) => reason !== null)
        .map(({ row, tag, shown, reason }) => ({ row, tag, value: shown, reason: reason! })),
      ...admission.refused.map(({ index, tag, value, reason }) => ({ row: readable[index]!.row, tag, value, reason })),
    ];
    report.reasons.push(...setAside.slice(0, REASONS_KEPT - report.reasons.length));
    const refused = setAside.map(({ row, tag, value, reason }): RefusedSample => ({
      index: row,
      tag,
      time: null,
      value,
      status: null,
      reason: `Row ${row}: ${reason}`,
    }));
    report.rows += rows;
    report.values += values.length;
    report.setAside += refused.length;
    const frames: Frame[] = [];
    for (const frame of admission.frames) {
      const kept = overlap === 'fill' ? await onlyHoles(frame, this.stores, this.coverage, this.catalogue) : frame;
      if (overlap === 'fill') report.leftAlone = (report.leftAlone ?? 0) + frame.times.length - kept.times.length;
      if (kept.times.length === 0) continue;
      await compare(this.stores, this.catalogue, kept, report);
      frames.push(kept);
    }
    return { frames, refused };
  }

  private async append(
    file: Kept,
    batch: number,
    { frames, refused }: { frames: readonly Frame[]; refused: readonly RefusedSample[] },
  ): Promise<void> {
    const common = {
      writer: `import ${file.id}`,
      origin: 'entered',
      watches: [],
      outages: [],
      reason: `${file.name}, brought in by ${file.by}`,
    } as const;
    const parts: readonly (Frame | null)[] = frames.length > 0 ? frames : [null];
    await this.journal.appendAll(
      parts.map((frame, i) => ({
        ...common,
        sequence: batch * ENTRIES_PER_BATCH + i + 1,
        frame,
        refused: i === 0 ? refused : [],
      })),
    );
  }
}

/** Written beside and put in its place: a file that is there is whole. */
function keep(path: string, file: Kept): void {
  writeFileSync(`${path}.part`, JSON.stringify(file));
  renameSync(`${path}.part`, path);
}

/** What a plan leaves unsaid of a column is as it was understood. */
const completed = (plan: ImportPlan, understood: ImportedFile['columns']): ImportPlan => ({
  ...plan,
  columns: plan.columns.map((column, i) => {
    const { decimal, quality } = understood[i] ?? column;
    return { ...column, decimal: column.decimal ?? decimal, quality: column.quality ?? quality };
  }),
});
