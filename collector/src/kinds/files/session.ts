/** Reading files on: those that grow, those that come, those that are named anew or written anew, each row once. */
import type { FilesConnection } from '@wide-ledger/contract';
import { RecordReader, type FileCell } from '@wide-ledger/core';
import { createHash } from 'node:crypto';
import {
  SourceAway,
  type Cursor,
  type RecordPart,
  type RecordSession,
  type Sample,
  type Surroundings,
  type TagOf,
} from '../kind.ts';
import { RowTroubles, sampleOfRecord, takenBy } from '../recordSamples.ts';
import { filesIn, openFolder, type Found } from './folder.ts';
import { cellsOf } from './lines.ts';
import { isTouched, marked, type FileMark } from './marks.ts';
import { OpenFiles } from './openFiles.ts';
import { Replaced, Unreadable, markAtEnd, newMark, printOf, readOn } from './reading.ts';
import { isWorkbook, rowsOfWorkbook } from './workbook.ts';

type Tag = TagOf<'files'>;

/** A file that was not written for so long is whole, where it is written in one go. Milliseconds. */
const SETTLED = 10_000;

/** How far the files of a folder are read. */
interface Place {
  readonly files: readonly FileMark[];
}

/** What came of looking at one file. */
interface Taken {
  readonly samples: readonly Sample[];
  readonly mark: FileMark | null;
  readonly moved: boolean;
}

export class FilesSession implements RecordSession<'files'> {
  readonly acquires = 'record';
  private readonly counts = { requests: 0, bytes: 0 };
  /** Rows of workbooks that were told, by the file and for whom: a workbook is read whole each time it is saved. */
  private readonly told = new Map<string, ReadonlySet<string>>();
  /** What could not be read, and when it had been written last: it is told once. */
  private readonly unreadable = new Map<string, number>();
  private readonly openFiles = new OpenFiles();

  constructor(
    private readonly connection: FilesConnection,
    private readonly around: Pick<Surroundings, 'readable'>,
  ) {}

  get readsAll(): boolean {
    return this.connection.begin === 'at its beginning';
  }

  get traffic() {
    return this.counts;
  }

  async look(): Promise<void> {
    await filesIn(await openFolder(this.connection, this.around), this.connection);
  }

  async begin(): Promise<Cursor> {
    if (this.readsAll) return { files: [] };
    const marks: FileMark[] = [];
    for (const file of await this.meant()) {
      if (isWorkbook(file)) {
        marks.push(workbookMark(file));
        continue;
      }
      const mark = await newMark(file, this.connection).catch(() => null);
      if (mark) marks.push(await markAtEnd(file, mark));
    }
    return { files: marks };
  }

  async readOn(tags: readonly Tag[], from: Cursor): Promise<RecordPart> {
    const { files: before = [] } = from as unknown as Partial<Place>;
    const inFolder = await filesIn(await openFolder(this.connection, this.around), this.connection);
    // Those that were taken away since are read to their end first.
    const there = [...(await this.openFiles.gone(inFolder, before)), ...inFolder];
    const known = await marked(there, before, printOf);
    // A log that was given another name is read to its end, whatever it is called.
    const files = there.filter((file) => file.isMeant || known.has(file));
    const troubles = new RowTroubles();
    const marks = new Map(known);
    const part = (samples: readonly Sample[], more: boolean): RecordPart => {
      const place: Place = { files: files.flatMap((file) => marks.get(file) ?? []) };
      return { samples, cursor: { ...place }, more, troubles: troubles.faults };
    };
    for (const file of files) {
      const mark = known.get(file) ?? null;
      if (mark && !isTouched(file, mark) && isReadWhole(file, mark)) continue;
      const taken = await this.take(file, mark, tags, troubles).catch((error: unknown) => {
        if (error instanceof Replaced) return null;
        throw error;
      });
      // The folder is looked through again at once: what lies there now may be another file.
      if (taken === null) return part([], true);
      if (taken.mark) marks.set(file, taken.mark);
      if (taken.moved) return part(taken.samples, true);
    }
    return part([], false);
  }

  close(): void {
    this.told.clear();
    this.openFiles.close();
  }

  private async meant(): Promise<Found[]> {
    const all = await filesIn(await openFolder(this.connection, this.around), this.connection);
    return all.filter(({ isMeant }) => isMeant);
  }

  private async take(file: Found, mark: FileMark | null, tags: readonly Tag[], troubles: RowTroubles): Promise<Taken> {
    try {
      const taken = isWorkbook(file)
        ? await this.takeWorkbook(file, mark, tags, troubles)
        : await this.takeLines(file, mark, tags, troubles);
      this.unreadable.delete(file.name);
      return taken;
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      if (error instanceof SourceAway || error instanceof Replaced) throw error;
      // Taken away, or not ours to read, or nothing that can be read: the others are.
      if (this.unreadable.get(file.name) !== file.modified)
        troubles.note(
          error instanceof Unreadable || code === undefined
            ? (error as Error).message
            : `${file.name} cannot be opened (${code}).`,
        );
      this.unreadable.set(file.name, file.modified);
      return { samples: [], mark, moved: false };
    }
  }

  private async takeLines(
    file: Found,
    before: FileMark | null,
    tags: readonly Tag[],
    troubles: RowTroubles,
  ): Promise<Taken> {
    const mark = before ?? (await newMark(file, this.connection));
    if (!mark) return { samples: [], mark, moved: false };
    await this.openFiles.keep(file);
    const piece = (await readOn(file, mark, this.settled)) ?? (await this.anew(file));
    if (!piece) return { samples: [], mark, moved: false };
    troubles.note(piece.trouble);
    const rows = piece.text === '' ? [] : cellsOf(piece.text, piece.mark.separator);
    this.note(piece.mark.offset - mark.offset);
    const { samples, ...reached } = this.valuesOf(file, piece.mark.names, rows, tags, troubles, piece.mark.time);
    return { samples, mark: { ...piece.mark, ...reached }, moved: piece.moved };
  }

  /** A file that was written anew is read from its beginning: what is the same is the same. */
  private async anew(file: Found) {
    const mark = await newMark(file, this.connection);
    return mark && readOn(file, mark, this.settled);
  }

  /** What was written last before this is whole, also without the end of its last line; null: a line ends with its end. */
  private get settled(): number | null {
    return this.connection.unended ? Date.now() - SETTLED : null;
  }

  private async takeWorkbook(
    file: Found,
    before: FileMark | null,
    tags: readonly Tag[],
    troubles: RowTroubles,
  ): Promise<Taken> {
    if (before && !isTouched(file, before)) return { samples: [], mark: before, moved: false };
    const { names, rows } = await rowsOfWorkbook(file, this.connection);
    // Tags that came later catch up by themselves: to them nothing was told.
    const whose = JSON.stringify([file.name, tags.map(({ id }) => id)]);
    const told = this.told.get(whose) ?? new Set();
    const prints = rows.map((row) => createHash('sha256').update(JSON.stringify(row, asText)).digest('base64'));
    this.told.set(whose, new Set(prints));
    this.note(file.size);
    const fresh = rows.filter((_, i) => !told.has(prints[i]!));
    const { samples } = this.valuesOf(file, names, fresh, tags, troubles, null);
    return { samples, mark: workbookMark(file), moved: true };
  }

  private valuesOf(
    file: Found,
    head: readonly string[],
    rows: readonly (readonly FileCell[])[],
    tags: readonly Tag[],
    troubles: RowTroubles,
    last: number | null,
  ): { samples: Sample[]; names: readonly string[]; time: number | null } {
    let names = head;
    const problem = RecordReader.problemOf(names, this.connection);
    if (problem !== null) throw new Unreadable(`${file.name}: ${problem}`);
    const samples: Sample[] = [];
    let reader = new RecordReader(names, this.connection, takenBy(tags), last);
    for (const cells of rows) {
      // A logger that starts again may name its columns again, and others.
      if (this.connection.header && cells.includes(this.connection.time)) {
        names = cells.map((cell) => String(cell ?? '').trim());
        reader = new RecordReader(names, this.connection, takenBy(tags), reader.last);
        continue;
      }
      const row = reader.read(cells);
      troubles.note(row.trouble && `${file.name}: ${row.trouble}`);
      for (const value of row.values) samples.push(sampleOfRecord(value));
    }
    return { samples, names, time: reader.last };
  }

  private note(bytes: number): void {
    this.counts.requests++;
    this.counts.bytes += Math.max(0, bytes);
  }
}

const asText = (_key: string, value: unknown): unknown => (typeof value === 'bigint' ? String(value) : value);

/** Lines may wait for their end; what is whole is read. */
const isReadWhole = (file: Found, mark: FileMark): boolean => mark.offset === file.size;

/** A workbook is known by when it was saved. */
const workbookMark = ({ inode, size, modified }: Found): FileMark => ({
  inode,
  size,
  modified,
  offset: size,
  head: 0,
  printed: 0,
  print: '',
  tail: '',
  letters: 'utf-8',
  separator: '',
  names: [],
  time: null,
});
