/** What was watched, what was not, and why. */
import { GAP_CAUSES, ORIGINS } from '@wide-ledger/core';
import { z } from 'zod';
import { timeParameter } from './common.ts';

export const coverageQuery = z.strictObject({ tag: z.string().optional(), from: timeParameter, to: timeParameter });

export const originSpan = z.object({ from: z.string(), to: z.string(), origin: z.enum(ORIGINS) });
export const gap = z.object({
  from: z.string(),
  to: z.string(),
  seconds: z.number(),
  /** A pause is no gap of duty: somebody wanted it. It is told with the gaps all the same. */
  cause: z.enum([...GAP_CAUSES, 'paused']),
  sentence: z.string(),
  code: z.string().nullable(),
  recoverable: z.boolean(),
  source: z.string().nullable(),
  tag: z.string().nullable(),
  tags: z.number(),
});
export type Gap = z.infer<typeof gap>;

/** One row of strips: a source, or a tag whose coverage differs from its source's. */
export const coverageRow = z.object({
  source: z.string(),
  sourceId: z.number(),
  tag: z.string().nullable(),
  /** When it was meant to be collected: in force, with a source, and not paused. */
  duty: z.array(z.object({ from: z.string(), to: z.string() })),
  spans: z.array(originSpan),
  gaps: z.array(gap),
  watchedPercent: z.number(),
});
export type CoverageRow = z.infer<typeof coverageRow>;

export const coverageAnswer = z.object({ from: z.string(), to: z.string(), rows: z.array(coverageRow) });
export type CoverageAnswer = z.infer<typeof coverageAnswer>;
export const gapsAnswer = z.object({ from: z.string(), to: z.string(), gaps: z.array(gap) });
export type GapsAnswer = z.infer<typeof gapsAnswer>;
