import type { AggregateConfiguration } from '@wide-ledger/core';
import type { TagRow } from '../../configuration/index.ts';

/** What a reader has to know of a tag. */
export interface ReadTag extends Pick<TagRow, 'id' | 'name' | 'type' | 'unit' | 'states'> {
  readonly store: number;
  readonly configuration: AggregateConfiguration;
  /** Where the tag was watched beyond its last sample, in microseconds; −∞ where it was not. */
  readonly watchedUntil: number;
}
