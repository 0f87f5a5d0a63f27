/** All values of some tags in a window as the bytes of one table, written by a reading thread. */
import type { Format } from '@wide-ledger/contract';
import type { Span } from '@wide-ledger/core';
import type { TagRow } from '../../configuration/index.ts';
import type { Chunk } from './formats/table.ts';
import type { ReadingPool } from './pool.ts';
import { configurationFor } from './rules.ts';

/** A tag, and what it is called in the file. */
export interface TagInFile {
  readonly tag: TagRow;
  readonly name: string;
}

/** @param visitor for whom it is read. */
export const rawFile = (
  reading: ReadingPool,
  tags: readonly TagInFile[],
  window: Span,
  format: Format,
  visitor: string,
): AsyncIterable<Chunk> =>
  reading.read(
    {
      kind: 'raw',
      ...window,
      tags: tags.map(({ tag, name }) => ({
        id: tag.id,
        name,
        type: tag.type,
        unit: tag.unit,
        states: tag.states,
        store: tag.storeId,
        configuration: configurationFor(tag, {}),
        // Of values as they stand nothing is said beyond the last one.
        watchedUntil: -Infinity,
      })),
      format,
      layout: 'table',
      named: true,
      localZone: null,
      echo: {},
      bounds: false,
      newestFirst: false,
      limit: null,
    },
    visitor,
    new AbortController().signal,
  );
