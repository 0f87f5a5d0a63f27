/** What the reading threads are asked: everything is checked, resolved and looked up before it gets here. */
import type { Computation, Format } from '@wide-ledger/contract';
import {
  cutIntoBuckets,
  type AggregateName,
  type Bucket,
  type CounterNature,
  type Interval,
  type Span,
} from '@wide-ledger/core';
import type { CoverageRequest } from '../coverage/answers.ts';
import type { CompletenessRequest } from '../coverage/completeness.ts';
import type { ExaminingRequest } from './examining.ts';
import type { FilledRequest } from './filled.ts';
import type { ReadTag } from './readTag.ts';
import type { SummariesRequest } from './summaries.ts';
import type { TalliesRequest } from './tallies.ts';

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

/** A window and how it is cut: many intervals are made where there is time for it. */
export interface Cut extends Span {
  readonly interval: Interval;
  readonly zone: string;
}

/** A request as it travels to a reading thread. */
export type AskedRequest = Uncut<ReadRequest>;
type Uncut<Request> = Request extends { readonly buckets: unknown }
  ? Omit<Request, 'buckets'> & { readonly cut: Cut }
  : Request;

/** The code of a request whose window cannot be cut as it asks. */
export const CANNOT_BE_CUT = 'Bad_InvalidArgument';

/** A request with its window cut. @throws Error with the code {@link CANNOT_BE_CUT}. */
export function cutRequest(asked: AskedRequest): ReadRequest {
  if (!('cut' in asked)) return asked;
  const { cut, ...rest } = asked;
  try {
    return { ...rest, buckets: cutIntoBuckets(cut.from, cut.to, cut.interval, cut.zone) };
  } catch (error) {
    throw error instanceof RangeError ? Object.assign(error, { code: CANNOT_BE_CUT }) : error;
  }
}

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

/** Whatever a reading thread is asked: about history, about coverage, about completeness, about what betrays itself, about holes, about summaries, about tallies. */
export type AnyRequest =
  | AskedRequest
  | CoverageRequest
  | CompletenessRequest
  | ExaminingRequest
  | FilledRequest
  | SummariesRequest
  | TalliesRequest;
