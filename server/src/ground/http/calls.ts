/** The calls of the interface: each room says here what it answers, and what is not said is not answered. */
import type { Scope } from '@wide-ledger/contract';
import type { Request, Response } from 'express';
import type { z } from 'zod';

/** How a body is taken in: JSON or bytes in memory, up to so many bytes, or handed on as it comes. */
export type Taking =
  | {
      readonly as: 'json';
      readonly most: number;
      /** Objects and arrays in it, at most. */
      readonly parts: number;
      /** Whether texts that cannot be kept are the call's own affair: it sets them aside, or keeps none. */
      readonly anyText?: boolean;
      /** Whether whole numbers beyond 2^53 are bigints: the call keeps every digit. */
      readonly exact?: boolean;
    }
  | { readonly as: 'bytes'; readonly most: number }
  | { readonly as: 'stream' };

/** A call under /api/v1: what lets it pass, what it takes, what it answers. The description is made of the same. */
export interface Call {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** With its parameters in braces, such as /tags/{name}. */
  readonly path: string;
  /** The scope that whoever asks has to have; null: anybody may ask. */
  readonly needs: Scope | null;
  readonly says: string;
  /** The parameters that it knows; a call without any knows none. */
  readonly query?: z.ZodObject;
  readonly body?: z.ZodType;
  /** How the body is taken in, where it is no small JSON. */
  readonly takes?: Taking;
  /** Its shape as JSON; a file, or events as they come, in other media types; null where there is nothing to say. */
  readonly answer: z.ZodType | 'file' | 'events' | null;
  /** A request that works on any site, for whoever reads the description; a test makes it. */
  readonly example?: { readonly query?: Readonly<Record<string, string>>; readonly body?: unknown };
}

export type Handler = (request: Request, response: Response) => unknown;

export interface AnsweredCall extends Call {
  readonly answered: Handler;
}

/** A small body: a form, a decision, a name. */
export const SMALL_JSON: Taking = { as: 'json', most: 256 * 1024, parts: 5_000 };
/** Many things at once: tags, changes of a draft. */
export const LARGE_JSON: Taking = { as: 'json', most: 16 * 1024 * 1024, parts: 400_000 };
/** Samples, each of which is looked at by itself: as many as a request may have. */
export const SAMPLES_JSON: Taking = { as: 'json', most: 12 * 1024 * 1024, parts: 400_000, anyText: true, exact: true };
/** What devices say, by way of their collector: shown to people, and not kept. */
export const DEVICE_JSON: Taking = { as: 'json', most: 16 * 1024 * 1024, parts: 400_000, anyText: true };

/** Calls with what answers them, in the order in which they were added. */
export class Calls {
  private readonly calls: AnsweredCall[] = [];

  constructor(...parts: readonly Calls[]) {
    for (const { all } of parts) this.calls.push(...all);
  }

  get all(): readonly AnsweredCall[] {
    return this.calls;
  }

  on(call: Call, answered: Handler): void {
    this.calls.push({ ...call, answered });
  }
}
