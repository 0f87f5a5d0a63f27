/** Columns that several answers have in common. */
import type { Column } from '../formats/table.ts';

/** Where one table holds several tags. */
export const TAG_COLUMN: Column = { name: 'tag', kind: 'text' };

/** A computed value at a time. */
export const RESULT_COLUMNS: readonly Column[] = [
  { name: 'time', kind: 'time' },
  { name: 'value', kind: 'value' },
  { name: 'status', kind: 'number' },
  { name: 'quality', kind: 'text' },
];

/** A value as it was archived. */
export const SAMPLE_COLUMNS: readonly Column[] = [...RESULT_COLUMNS, { name: 'origin', kind: 'text' }];
