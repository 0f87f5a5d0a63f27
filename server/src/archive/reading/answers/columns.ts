/** Columns that several answers have in common. */
import type { TagType } from '@wide-ledger/contract';
import type { Column } from '../formats/table.ts';
import type { ReadTag } from '../readTag.ts';

/** Where one table holds several tags. */
export const TAG_COLUMN: Column = { name: 'tag', kind: 'text' };

/** Values of these types. */
export const valueColumn = (name: string, types: readonly TagType[]): Column => ({ name, kind: 'value', types });

/** A computed value at a time. */
export const resultColumns = (tags: readonly Pick<ReadTag, 'type'>[]): Column[] => [
  { name: 'time', kind: 'time' },
  valueColumn(
    'value',
    tags.map(({ type }) => type),
  ),
  { name: 'status', kind: 'status' },
  { name: 'quality', kind: 'text' },
];

/** A value as it was archived. */
export const sampleColumns = (tags: readonly Pick<ReadTag, 'type'>[]): Column[] => [
  ...resultColumns(tags),
  { name: 'origin', kind: 'text' },
];
