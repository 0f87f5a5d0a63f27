/** A table on its way out: columns, and rows in batches as they are read. */

/** `time` in microseconds since 1970; `value` as the tag's type has it; the others as they are. */
export type ColumnKind = 'time' | 'value' | 'number' | 'text';

export interface Column {
  readonly name: string;
  readonly kind: ColumnKind;
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
