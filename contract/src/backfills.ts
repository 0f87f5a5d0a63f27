/** Backfills: history fetched from where it is kept, because somebody wants it. */
import { z } from 'zod';
import { sourceName } from './sources.ts';
import { tagName, timeParameter } from './common.ts';

export const newBackfill = z
  .strictObject({
    tags: z.array(tagName).min(1).max(20_000).optional(),
    source: sourceName.optional().meta({ description: 'all tags of it, instead of naming them' }),
    from: timeParameter,
    to: timeParameter,
    overlap: z.enum(['fill', 'replace']).default('fill').meta({
      description: 'only what is missing; or all of it: where values differ the old ones go to the modified history',
    }),
    dryRun: z.boolean().default(false).meta({ description: 'only the plan' }),
  })
  .refine(({ tags, source }) => (tags === undefined) !== (source === undefined), 'Name either the tags or the source.');

/** What is to be fetched from one source. */
export const backfillPart = z.object({
  source: z.string(),
  tags: z.number().int(),
  /** Stretches of time, and how long they are together, of the tags that miss most. */
  stretches: z.number().int(),
  seconds: z.number(),
  /** Values at most, calls of the source, and how long they take. */
  values: z.number(),
  calls: z.number(),
  lasts: z.number(),
  /** Since when the source still has anything; null where it was not heard to say. */
  reachesBack: z.string().nullable(),
  /** Of the time that is wanted so much lies before that. */
  olderSeconds: z.number(),
});
export type BackfillPart = z.infer<typeof backfillPart>;

export const backfillPlan = z.object({
  from: z.string(),
  to: z.string(),
  overlap: z.enum(['fill', 'replace']),
  parts: z.array(backfillPart),
  /** Tags that are left out, and why. */
  leftOut: z.array(z.object({ tag: z.string(), reason: z.string() })),
  sentence: z.string(),
});
export type BackfillPlan = z.infer<typeof backfillPlan>;

export const backfillAnswer = z.object({ plan: backfillPlan, job: z.number().nullable() });
export type BackfillAnswer = z.infer<typeof backfillAnswer>;

/** What came of it: the window looked at again. */
export const backfillReport = z.object({
  values: z.number(),
  calls: z.number(),
  /** Of all tags together. */
  missingBefore: z.number(),
  missingAfter: z.number(),
  /** What is still missing, the longest first, with its reason. */
  remains: z.array(z.object({ tag: z.string(), from: z.string(), to: z.string(), reason: z.string() })),
});
export type BackfillReport = z.infer<typeof backfillReport>;
