import type { FileCell } from '@wide-ledger/core';

/** The rows of a file on their way: the first one holds the names. */
export interface NamedRows {
  readonly rows: AsyncGenerator<FileCell[]> | Generator<FileCell[]>;
  /** What there is to know of the file as a whole, such as which of its sheets this is. */
  readonly sentence: string;
  /** Of a workbook, by their names. */
  readonly sheets: readonly string[];
}
