/** What the reading threads are asked: everything is checked, resolved and looked up before it gets here. */
import type { Computation, Format } from '@wide-ledger/contract';
import type { AggregateConfiguration, AggregateName, Bucket, CounterNature, Interval, Span } from '@wide-ledger/core';
import type { TagRow } from '../../configuration/index.ts';

/** What a reader has to know of a tag. */
export interface ReadTag extends Pick<TagRow, 'id' | 'name' | 'type' | 'unit' | 'states'> {
  readonly store: number;
  readonly configuration: AggregateConfiguration;
  /** Where the tag was watched beyond its last sample, in microseconds; −∞ where it was not. */
  readonly watchedUntil: number;
}

interface Common {
  readonly tags: readonly ReadTag[];
  readonly format: Format;
  /** Several tags in one table, or a sheet each where the format has sheets. */
  readonly layout: 'table' | 'sheets';
  /** Whether rows begin with the name of their tag; they do wherever a table may hold several. */
  readonly named: boolean;
  /** The zone by whose clock times are written too; null: they are not. */
  readonly localZone: string | null;
  /** What the answer repeats of the request. */
  readonly echo: Readonly<Record<string, unknown>>;
}

export interface RawRequest extends Common, Span {
  readonly kind: 'raw';
  readonly bounds: boolean;
  /** The last samples of the window first; with a limit only. */
  readonly newestFirst: boolean;
  /** Most samples in one answer; null: all, however many. */
  readonly limit: number | null;
}

export interface ProcessedRequest extends Common {
  readonly kind: 'processed';
  readonly aggregates: readonly AggregateName[];
  readonly buckets: readonly Bucket[];
  readonly labelAtEnd: boolean;
  /** By what intervals are called, in a column of their own; null: they are not. */
  readonly names: { readonly interval: Interval; readonly zone: string } | null;
  /** Whether the answer is of the kind for one tag and one aggregate. */
  readonly single: boolean;
}

export interface ComputedRequest extends Common {
  readonly kind: 'computed';
  readonly computation: Computation;
  readonly buckets: readonly Bucket[];
  readonly counter: CounterNature;
  /** From unit · seconds (integral) or unit per second (rate) to the unit of the answer. */
  readonly factor: number;
}

export interface AtTimesRequest extends Common {
  readonly kind: 'at';
  readonly times: readonly number[];
}

export interface ModifiedRequest extends Common, Span {
  readonly kind: 'modified';
}

export interface EnvelopeRequest extends Common, Span {
  readonly kind: 'envelope';
  readonly columns: number;
}

export type ReadRequest =
  RawRequest | ProcessedRequest | ComputedRequest | AtTimesRequest | ModifiedRequest | EnvelopeRequest;

/** Who waits for an answer; asked between two pieces whether they still do. */
export interface Asker {
  readonly gone: boolean;
}

/** Thrown inside a reading whose asker has left. */
export class AskerLeft extends Error {
  constructor() {
    super('nobody waits for this answer any more');
  }
}
