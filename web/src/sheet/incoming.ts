/** Rows that come from elsewhere, as edits of a draft: columns by their heads, tags by their names. Pure. */
import type { DraftChange } from '@wide-ledger/contract';
import { nameIn } from '@wide-ledger/core';
import type { Standing } from '../configuration/drafting.ts';
import { fieldsThatDiffer, troublesOf, withCells, type CellTrouble, type References } from './cells.ts';
import type { SheetColumn } from './columns.ts';

export type TextRow = readonly string[];

const plain = (text: string): string => text.trim().toLowerCase().replace(/\s+/g, ' ');

/** Which column each head stands for: by its title, or by its path; null where none is called so. */
export const columnsOfHead = (head: TextRow, columns: readonly SheetColumn[]): (SheetColumn | null)[] =>
  head.map((text) => columns.find(({ title, key }) => plain(title) === plain(text) || key === text.trim()) ?? null);

/** Whether a row is a head: it names the tags' names, and all else that it says are columns. */
export function isHead(row: TextRow, columns: readonly SheetColumn[]): boolean {
  const found = columnsOfHead(row, columns);
  const known = found.filter((column) => column !== null);
  return known.some(({ key }) => key === 'name') && known.length >= row.filter((text) => text.trim() !== '').length / 2;
}

/** What one row would do. */
export interface IncomingRow {
  /** Counted from 1, the head not. */
  readonly row: number;
  readonly name: string;
  readonly does: 'new' | 'changed' | 'same' | 'refused';
  readonly troubles: readonly CellTrouble[];
}

export interface Incoming {
  readonly rows: readonly IncomingRow[];
  /** Of the rows without trouble. */
  readonly changes: readonly DraftChange[];
}

/** Looks at rows one after the other, as many at a time as there is time for. */
export class IncomingReader {
  private readonly known: ReadonlyMap<string, Standing>;
  private readonly nameAt: number;
  private readonly met = new Set<string>();
  private readonly told: IncomingRow[] = [];
  private readonly changes: DraftChange[] = [];
  private at = 0;

  /**
   * @param columns what each cell of a row is; null: it is left out
   * @param standings the tags that there are, in the draft or in force
   */
  constructor(
    private readonly rows: readonly TextRow[],
    private readonly columns: readonly (SheetColumn | null)[],
    standings: readonly Standing[],
    private readonly references: References,
  ) {
    this.known = new Map(standings.map((standing) => [nameIn(standing.body ?? standing.inForce), standing]));
    this.nameAt = columns.findIndex((column) => column?.key === 'name');
  }

  get left(): number {
    return this.rows.length - this.at;
  }

  get result(): Incoming {
    return { rows: this.told, changes: this.changes };
  }

  /** @returns whether there is more */
  look(most: number): boolean {
    const end = Math.min(this.rows.length, this.at + most);
    for (; this.at < end; this.at++) this.take(this.rows[this.at]!, this.at + 1);
    return this.left > 0;
  }

  private take(cells: TextRow, row: number): void {
    if (cells.every((text) => text.trim() === '')) return;
    const name = (cells[this.nameAt] ?? '').trim();
    const refuse = (...troubles: CellTrouble[]): void => void this.told.push({ row, name, does: 'refused', troubles });
    if (name === '') {
      refuse({ key: 'name', sentence: 'The row has no name.' });
      return;
    }
    if (this.met.has(name)) {
      refuse({ key: 'name', sentence: `${name} has a row above.` });
      return;
    }
    this.met.add(name);
    const standing = this.known.get(name);
    const before = standing?.body ?? {};
    const said = this.columns.flatMap((column, at) => (column ? [[column, cells[at] ?? ''] as const] : []));
    // What is empty in a new one is as it is without being said.
    const texts = standing ? said : said.filter(([, text]) => text.trim() !== '');
    const { body, troubles } = withCells(before, texts, this.references);
    const all = troubles.length > 0 ? troubles : troublesOf(body, this.references);
    if (all.length > 0) {
      refuse(...all);
      return;
    }
    const set = fieldsThatDiffer(before, body);
    const does = !standing ? 'new' : Object.keys(set).length > 0 ? 'changed' : 'same';
    this.told.push({ row, name, does, troubles: [] });
    if (!standing) this.changes.push({ kind: 'tag', create: body });
    else if (does === 'changed') this.changes.push({ kind: 'tag', id: standing.id, set });
  }
}
