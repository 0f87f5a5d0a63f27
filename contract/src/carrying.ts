/** What passes between the two ends of a link: where it stands, its tags, its entries, and what is compared. */
import { MAXIMUM_TIME, ORIGINS, TALLY_CELLS } from '@wide-ledger/core';
import { z } from 'zod';
import { rowId, tagName } from './common.ts';
import { siteCard } from './links.ts';
import { TAG_TYPES, labels } from './tags.ts';

const micros = z.number().int().min(-MAXIMUM_TIME).max(MAXIMUM_TIME);

/** Where an arrival stands: what is committed of the near end's journal, in which of its lives. */
export const carryPosition = z.object({
  site: siteCard,
  epoch: z.number().int(),
  position: z.number().int(),
  print: z.string().meta({ description: 'of the entry at that position, by which a restored journal is known' }),
  lastNumber: z.number().int().meta({ description: 'of the tags that were told; 0 for none' }),
  // Older versions do not tell.
  now: z.string().optional().meta({ description: 'by the far end’s clock' }),
  freeBytes: z.number().nullable().optional(),
  retentionMonths: z.number().nullable().optional().meta({ description: 'of the store that new tags come to' }),
  samplesAt: z.string().nullable().optional().meta({ description: 'when values came last' }),
});
export type CarryPosition = z.infer<typeof carryPosition>;

/** A tag as it is carried: by the link's own number. */
export const carriedTag = z.strictObject({
  number: rowId,
  name: tagName,
  type: z.enum(TAG_TYPES),
  unit: z.string().max(40),
  description: z.string().max(400),
  place: z.string().max(200),
  stepped: z.boolean(),
  low: z.number().nullable(),
  high: z.number().nullable(),
  states: z.record(z.string(), z.string()).nullable(),
  /** Left out of tags that have none: what an earlier version does not know is not said without need. */
  labels: labels.optional(),
});
export type CarriedTag = z.infer<typeof carriedTag>;
export const carriedTags = z.strictObject({ tags: z.array(carriedTag).min(1).max(10_000) });
export const carriedTagsAnswer = z.object({
  results: z.array(z.object({ number: z.number(), refused: z.string().nullable() })),
});
export type CarriedTagsAnswer = z.infer<typeof carriedTagsAnswer>;

/** What stands before the entries of one request: from where in the near end's journal to where they reach. */
export const carriedStretch = z.strictObject({
  epoch: z.number().int().nonnegative(),
  after: z.number().int().nonnegative(),
  position: z.number().int().nonnegative(),
  print: z.string().max(100),
});
export type CarriedStretch = z.infer<typeof carriedStretch>;

/** How an entry is described that is carried; its frame has the link's numbers for tags. */
export const carriedEntry = z.strictObject({
  writer: z.string().min(1).max(200),
  origin: z.enum(ORIGINS),
  reason: z.string().max(1000).nullable(),
  via: z.array(z.string().max(100)).max(50),
});
export type CarriedEntry = z.infer<typeof carriedEntry>;

export const carriedAnswer = z.object({ accepted: z.number(), setAside: z.number() });
export type CarriedAnswer = z.infer<typeof carriedAnswer>;

/** What the far end is asked about its tags, by the link's numbers. */
export const carriedTalliesAsked = z.strictObject({
  numbers: z.array(rowId).min(1).max(2000),
  from: micros,
  to: micros,
  by: z.enum(TALLY_CELLS),
});
export const carriedTallies = z.object({
  rows: z.array(
    z.object({ number: z.number(), cells: z.array(z.tuple([z.number(), z.number(), z.number(), z.string()])) }),
  ),
});
export type CarriedTallies = z.infer<typeof carriedTallies>;
export const carriedSamplesAsked = z.object({
  number: z.coerce.number().pipe(rowId),
  from: z.coerce.number().pipe(micros),
  to: z.coerce.number().pipe(micros),
});
