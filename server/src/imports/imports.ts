/** Files brought in: kept in the data folder until they are done, so that a restart goes on where it was. */
import type { ImportPlan, ImportReport, ImportedFile } from '@wide-ledger/contract';
import { firstAtOrAfter, understandColumns, type Frame } from '@wide-ledger/core';
import { randomUUID } from 'node:crypto';
import { createWriteStream, existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { badRequest, notFound } from '../http/problem.ts';
import { admitSamples, type Refused } from '../journal/admission.ts';
import type { Journal } from '../journal/journal.ts';
import { EVERY_SAMPLE, openTagLedger } from '../reading/tagLedger.ts';
import type { Stores } from '../stores/stores.ts';
import type { Catalogue, TagRow } from '../tags/store.ts';
import { kindOf, openRows, type FileKind } from './rows.ts';
import { RowReader, type FileValue } from './values.ts';

const REASONS_KEPT = 100;
/** An entry's number within its batch: numbers, wide integers and text have entries of their own. */
const ENTRIES_PER_BATCH = 4;

interface Kept extends ImportedFile {
  readonly kind: FileKind;
  readonly by: string;
  readonly plan: ImportPlan | null;
  /** Batches that are in the journal. */
  readonly batches: number;
}

const emptyReport = (): ImportReport => ({
  rows: 0,
  values: 0,
  accepted: 0,
  replaced: 0,
  unchanged: 0,
  setAside: 0,
  reasons: [],
});

export class Imports {
  private readonly folder: string;
  private readonly stopping = new Set<string>();
  private readonly running = new Map<string, Promise<void>>();
  private closing = false;

  constructor(
    dataFolder: string,
    private readonly catalogue: Catalogue,
    private readonly stores: Stores,
    private readonly journal: Journal,
  ) {
    this.folder = join(dataFolder, 'imports');
    mkdirSync(this.folder, { recursive: true });
  }

  private pathOf(id: string, end: 'file' | 'json'): string {
    if (!/^[0-9a-f-]{36}$/.test(id)) throw notFound('There is no such file.');
    return join(this.folder, `${id}.${end}`);
  }

  private keep(file: Kept): Kept {
    writeFileSync(this.pathOf(file.id, 'json'), JSON.stringify(file));
    return file;
  }

  find(id: string): Kept {
    const path = this.pathOf(id, 'json');
    if (!existsSync(path)) throw notFound('There is no such file.');
    return JSON.parse(readFileSync(path, 'utf8')) as Kept;
  }

  /** Takes a file in and says what it understands of it. Nothing is archived. */
  async take(name: string, content: Readable, zone: string, by: string): Promise<ImportedFile> {
    const id = randomUUID();
    const path = this.pathOf(id, 'file');
    await pipeline(content, createWriteStream(path));
    const kind = await kindOf(path);
    await this.catalogue.refresh();
    try {
      const { names, batches } = await openRows(path, kind);
      const first = await batches.next();
      await batches.return(undefined);
      const columns = understandColumns(names, first.done ? [] : first.value, this.tagNamed, zone);
      const sentence = columns.some(({ role }) => role === 'value')
        ? ''
        : 'No column was understood as values of a tag.';
      return this.keep({
        id,
        name,
        kind,
        by,
        state: 'understood',
        sentence,
        zone,
        columns,
        report: null,
        plan: null,
        batches: 0,
      });
    } catch (error) {
      throw badRequest(`${name} cannot be read as CSV, XLSX or Parquet: ${(error as Error).message}`, 'NOT_A_TABLE');
    }
  }

  /** A tag by its name, also where words such as "quality" or a unit follow it. */
  private readonly tagNamed = (text: string): string | undefined =>
    [text, text.split(/[\s([]/)[0]!].find((name) => this.catalogue.tagByName(name) !== undefined);

  /** Walks through the whole file and says what would become of every value. */
  async rehearse(id: string, plan: ImportPlan): Promise<ImportReport> {
    const report = emptyReport();
    for await (const batch of this.batches(this.find(id), plan)) await this.weigh(batch, report);
    return report;
  }

  /** Archives a file in the background, or goes on with it. */
  run(id: string, plan: ImportPlan): ImportedFile {
    const file = this.find(id);
    if (this.running.has(id)) return file;
    const started = this.keep({ ...file, plan, state: 'running', sentence: '', report: file.report ?? emptyReport() });
    this.running.set(
      id,
      this.archive(started)
        .catch((error: unknown) => {
          this.keep({ ...this.find(id), state: 'failed', sentence: (error as Error).message });
        })
        .finally(() => this.running.delete(id)),
    );
    return started;
  }

  /** Stops a file that is being archived; of another one there is nothing to stop. */
  stop(id: string): void {
    if (this.running.has(id)) this.stopping.add(id);
  }

  /** Takes up what was cut off by the end of the server. */
  resume(): void {
    for (const entry of readdirSync(this.folder).filter((name) => name.endsWith('.json'))) {
      const { id, state, plan } = this.find(entry.slice(0, -'.json'.length));
      if (state === 'running' && plan) this.run(id, plan);
    }
  }

  async close(): Promise<void> {
    // What runs keeps the state "running", and goes on with the next start.
    this.closing = true;
    await Promise.all(this.running.values());
  }

  private async *batches({ id, kind }: Kept, plan: ImportPlan): AsyncGenerator<{ rows: number; values: FileValue[] }> {
    await this.catalogue.refresh();
    const { batches } = await openRows(this.pathOf(id, 'file'), kind);
    const reader = new RowReader(plan, this.catalogue.tagByName);
    for await (const rows of batches) yield { rows: rows.length, values: rows.flatMap((row) => reader.read(row)) };
  }

  private async archive(file: Kept): Promise<void> {
    let { batches, report } = { batches: file.batches, report: file.report ?? emptyReport() };
    let at = 0;
    for await (const batch of this.batches(file, file.plan!)) {
      if (at++ < batches) continue;
      const next = structuredClone(report);
      const admission = await this.weigh(batch, next);
      await this.append(file, batches, admission);
      batches++;
      report = next;
      const stopped = this.stopping.has(file.id);
      this.keep({
        ...file,
        batches,
        report,
        state: stopped ? 'stopped' : 'running',
        sentence: `${report.rows} rows so far.`,
      });
      this.stopping.delete(file.id);
      if (stopped || this.closing) return;
    }
    this.keep({ ...file, batches, report, state: 'done', sentence: `${report.rows} rows are done.` });
  }

  /** Sorts a batch's values into new, replaced, unchanged and set aside, and counts them. */
  private async weigh(
    { rows, values }: { rows: number; values: readonly FileValue[] },
    report: ImportReport,
  ): Promise<{ frames: readonly Frame[]; refused: readonly Refused[] }> {
    const keepsSince = (tag: TagRow): number | null => this.catalogue.storeById(tag.storeId)?.keepsSince ?? null;
    const readable = values.filter(({ sample }) => sample !== null);
    const samples = readable.map(({ sample }) => sample!);
    const admission = admitSamples(samples, this.catalogue.tagByName, keepsSince, Date.now() * 1000);
    const unreadable = values
      .filter(({ reason }) => reason !== null)
      .map(({ row, tag, shown, reason }): Refused => ({
        index: row,
        tag,
        time: null,
        value: shown,
        status: null,
        reason: reason!,
      }));
    const refused = [...unreadable, ...admission.refused];
    for (const { index, tag, value, reason } of refused) {
      if (report.reasons.length >= REASONS_KEPT) break;
      const row = unreadable.some((one) => one.index === index && one.reason === reason)
        ? index
        : (readable[index]?.row ?? index);
      report.reasons.push({ row, tag, value, reason });
    }
    report.rows += rows;
    report.values += values.length;
    report.setAside += refused.length;
    for (const frame of admission.frames) await this.compare(frame, report);
    return { frames: admission.frames, refused };
  }

  /** Counts what is new, what takes another value's place, and what is there already. */
  private async compare(frame: Frame, report: ImportReport): Promise<void> {
    for (const tag of new Set(frame.tags)) {
      const row = this.catalogue.tagById(tag)!;
      const mine = [...frame.tags!.keys()].filter((i) => frame.tags![i] === tag);
      const times = mine.map((i) => frame.times[i]!);
      const ledger = await openTagLedger(this.stores, { id: tag, store: row.storeId });
      let broken = true;
      const known = new Map<number, string>();
      try {
        const reader = { ...EVERY_SAMPLE, neighbours: false, usesUncertain: true };
        const [from, to] = [Math.min(...times), Math.max(...times) + 1];
        for await (const piece of ledger.pieces(from, to, reader)) {
          if (piece.kind !== 'samples') continue;
          const end = firstAtOrAfter(piece.frame.times, to);
          for (let i = firstAtOrAfter(piece.frame.times, from); i < end; i++)
            known.set(piece.frame.times[i]!, printOf(piece.frame, i));
        }
        broken = false;
      } finally {
        await ledger.close(broken);
      }
      for (const i of mine) {
        const before = known.get(frame.times[i]!);
        const now = printOf(frame, i);
        known.set(frame.times[i]!, now);
        if (before === now) report.unchanged++;
        else {
          report.accepted++;
          if (before !== undefined) report.replaced++;
        }
      }
    }
  }

  private async append(
    file: Kept,
    batch: number,
    { frames, refused }: { frames: readonly Frame[]; refused: readonly Refused[] },
  ): Promise<void> {
    const common = {
      writer: `import ${file.id}`,
      origin: 'entered',
      watches: [],
      outages: [],
      reason: `${file.name}, brought in by ${file.by}`,
    } as const;
    const parts = frames.length > 0 ? frames : [null];
    for (const [i, frame] of parts.entries()) {
      const sequence = batch * ENTRIES_PER_BATCH + i + 1;
      await this.journal.append({ ...common, sequence, frame, refused: i === 0 ? refused : [] });
    }
  }
}

/** Value and status as one text: equal when nothing would change. */
function printOf({ values, texts, wholes, status }: Frame, i: number): string {
  const value = texts.length > 0 ? `"${texts[values[i]!] ?? ''}"` : (wholes?.[i] ?? values[i]!).toString();
  return `${value} ${status[i]!}`;
}
