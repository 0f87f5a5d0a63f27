/** A file's values on their way into the archive, batch by batch: looked at, sorted, written, and what that filled. */
import type { ImportPlan, ImportReport, ImportedFile } from '@wide-ledger/contract';
import type { FileCell, Frame } from '@wide-ledger/core';
import { admitManySamples, type Archive, type RefusedSample } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import { Turns } from '../../ground/index.ts';
import { compare } from './comparing.ts';
import { onlyHoles } from './filling.ts';
import type { KeptFile, KeptFiles } from './keptFiles.ts';
import { CELLS_A_TURN } from './limits.ts';
import { recoveriesBy, type Brought } from './recovering.ts';
import { openRows } from './rows.ts';
import { DoubledHourWalk, RowReader, needsWalk, type FileValue } from './values.ts';

const REASONS_KEPT = 100;
const EARLIER_BATCH_ROWS = 2000;
/** An entry's number within its batch: numbers and text have entries of their own. */
const ENTRIES_PER_BATCH = 4;
const RECOVERIES_PER_ENTRY = 5000;

/** Rows of a file, and the values in them. */
interface Batch {
  readonly rows: number;
  readonly values: readonly FileValue[];
}

/** What of a batch goes into the archive, and what is set aside. */
interface Weighed {
  readonly frames: readonly Frame[];
  readonly refused: readonly RefusedSample[];
}

/** Files on their way from the data folder into the archive. */
export class Archiving {
  constructor(
    private readonly files: KeptFiles,
    private readonly catalogue: Catalogue,
    private readonly archive: Pick<Archive, 'stores' | 'journal' | 'coverage' | 'reading'>,
  ) {}

  /** @param from batches before it are passed over; their rows are read only where the order of rows tells hours apart. */
  async *batches(
    { id, kind, sheet, columns, batchRows = EARLIER_BATCH_ROWS }: KeptFile,
    given: ImportPlan,
    from = 0,
  ): AsyncGenerator<Batch> {
    await this.catalogue.refresh();
    const plan = completed(given, columns);
    const rowsOf = async (): Promise<AsyncGenerator<FileCell[][]>> =>
      (await openRows(this.files.pathOf(id, 'file'), kind, sheet, batchRows)).batches;
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

  /** Sorts a batch's values into new, replaced, unchanged and set aside, and counts them. */
  async weigh({ rows, values }: Batch, report: ImportReport, overlap: ImportPlan['overlap']): Promise<Weighed> {
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
      const kept = overlap === 'fill' ? await onlyHoles(frame, this.archive, this.catalogue) : frame;
      if (overlap === 'fill') report.leftAlone = (report.leftAlone ?? 0) + frame.times.length - kept.times.length;
      if (kept.times.length === 0) continue;
      await compare(this.archive.stores, this.catalogue, kept, report);
      frames.push(kept);
    }
    return { frames, refused };
  }

  /** Writes what was weighed of a batch; done again it adds nothing. */
  async append(file: KeptFile, batch: number, { frames, refused }: Weighed): Promise<void> {
    const common = entryOf(file);
    const parts: readonly (Frame | null)[] = frames.length > 0 ? frames : [null];
    await this.archive.journal.appendAll(
      parts.map((frame, i) => ({
        ...common,
        sequence: batch * ENTRIES_PER_BATCH + i + 1,
        frame,
        refused: i === 0 ? refused : [],
      })),
    );
  }

  /** The gaps that the file filled, told in entries of their own behind the last batch. */
  async tellRecovered(file: KeptFile, batches: number, brought: Brought): Promise<void> {
    const recoveries = await recoveriesBy(file.name, file.id, brought, this.catalogue, this.archive);
    const parts = Array.from({ length: Math.ceil(recoveries.length / RECOVERIES_PER_ENTRY) }, (_, i) =>
      recoveries.slice(i * RECOVERIES_PER_ENTRY, (i + 1) * RECOVERIES_PER_ENTRY),
    );
    await this.archive.journal.appendAll(
      parts.map((told, i) => ({
        ...entryOf(file),
        sequence: batches * ENTRIES_PER_BATCH + i + 1,
        frame: null,
        refused: [],
        recoveries: told,
      })),
    );
  }
}

/** What the entries of a file have in common. */
const entryOf = ({ id, name, by }: KeptFile) =>
  ({
    writer: `import ${id}`,
    origin: 'entered',
    watches: [],
    outages: [],
    reason: `${name}, brought in by ${by}`,
  }) as const;

/** What a plan leaves unsaid of a column is as it was understood. */
const completed = (plan: ImportPlan, understood: ImportedFile['columns']): ImportPlan => ({
  ...plan,
  columns: plan.columns.map((column, i) => {
    const { decimal, quality } = understood[i] ?? column;
    return { ...column, decimal: column.decimal ?? decimal, quality: column.quality ?? quality };
  }),
});
