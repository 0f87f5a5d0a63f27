/** A table on its way out: columns, and rows in batches as they are read. */
import type { TagType } from '@wide-ledger/contract';

/**
 * `time` in microseconds since 1970; `value` as the types of its tags have it; `status` a 32-bit code; `json` a text that
 * is JSON already; the others as they are.
 */
export type ColumnKind = 'time' | 'value' | 'status' | 'number' | 'text' | 'json';

export interface Column {
  readonly name: string;
  readonly kind: ColumnKind;
  /** Of a value: the types of the tags whose values these are. */
  readonly types?: readonly TagType[];
}

export type Cell = number | string | boolean | null;
export type Row = readonly Cell[];

export interface Table {
  /** Name of a sheet or a file. */
  readonly name: string;
  readonly columns: readonly Column[];
  readonly batches: AsyncIterable<readonly Row[]>;
}

/** An answer of one or several tables. In JSON the fields of `head` and `foot` stand beside the list of rows. */
export interface Answer {
  readonly tables: readonly Table[];
  readonly list: string;
  readonly head: Readonly<Record<string, unknown>>;
  /** Asked after the last row. */
  readonly foot: () => Readonly<Record<string, unknown>>;
}

export type Chunk = string | Uint8Array;
