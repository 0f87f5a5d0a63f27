/** What was watched, what was not, and why. */
import { GAP_CAUSES, GAP_STATES, ORIGINS } from '@wide-ledger/core';
import { z } from 'zod';
import { timeParameter } from './common.ts';

export const coverageQuery = z.strictObject({
  tag: z.string().optional().meta({ description: 'that one alone' }),
  among: z
    .string()
    .regex(/^(\d{1,9}(,\d{1,9})*)?$/, 'is no list of numbers of tags with commas between them')
    .transform((text) => text.split(',').filter(Boolean).map(Number))
    .optional()
    .meta({ description: 'numbers of tags, with commas: of the tags that differ from their sources these alone' }),
  place: z.string().min(1).max(400).optional().meta({ description: 'only of tags that lie there, or below it' }),
  from: timeParameter,
  to: timeParameter,
});

export const gapsQuery = coverageQuery.extend({
  recovered: z
    .enum(['true', 'false'])
    .default('false')
    .transform((text) => text === 'true')
    .meta({ description: 'whether gaps that were filled since are told, too' }),
});

export const originSpan = z.object({ from: z.string(), to: z.string(), origin: z.enum(ORIGINS) });
export const gap = z.object({
  from: z.string(),
  to: z.string(),
  seconds: z.number(),
  /**
   * A pause is no gap of duty: somebody wanted it. It is told with the gaps all the same. `no values`: nobody recorded
   * what was watched; this one is estimated from the times of the values. `overrun`: more came than a queue or a
   * collector's memory holds. `set aside`: values came and could not be kept.
   */
  cause: z.enum([...GAP_CAUSES, 'overrun', 'set aside', 'paused', 'no values']),
  sentence: z.string(),
  code: z.string().nullable(),
  recoverable: z.boolean(),
  state: z.enum(GAP_STATES).meta({ description: 'what became of it' }),
  fate: z
    .string()
    .meta({ description: 'why it is gone for good, or how it was recovered where that is told; else empty' }),
  explained: z
    .object({ by: z.string(), reason: z.string() })
    .nullable()
    .meta({ description: 'what somebody said of it' }),
  source: z.string().nullable(),
  tag: z.string().nullable(),
  tags: z.number(),
  goneTags: z
    .number()
    .optional()
    .meta({ description: 'of a source with all its tags: of so many of them it is gone for good, whatever its state' }),
});
export type Gap = z.infer<typeof gap>;

/** How the values of a tag come for which nobody records what is watched: an estimate from their times. */
export const presenceEstimate = z.object({
  values: z.number().meta({ description: 'so many it was estimated from' }),
  usualSeconds: z.number().meta({ description: 'half of the values follow the one before within this' }),
  gapSeconds: z.number().meta({ description: 'a silence that is longer is told as a gap' }),
});

/**
 * One row of strips: a source, a tag whose coverage differs from its source's, or a tag without a source: then `source`
 * is empty, `sourceId` 0, and where values came is told by the values themselves.
 */
export const coverageRow = z.object({
  source: z.string(),
  sourceId: z.number(),
  tag: z.string().nullable(),
  /** When it was meant to be collected: in force, with a source, and not paused. */
  duty: z.array(z.object({ from: z.string(), to: z.string() })),
  spans: z.array(originSpan),
  gaps: z.array(gap),
  watchedPercent: z.number(),
  /** Of a tag without a source; null where it has too few values. */
  estimate: presenceEstimate.nullable().optional(),
});
export type CoverageRow = z.infer<typeof coverageRow>;

/** How many tags without a source were not looked at, since they are too many: to be narrowed down. */
const unlooked = z.number().default(0);

export const coverageAnswer = z.object({ from: z.string(), to: z.string(), rows: z.array(coverageRow), unlooked });
export type CoverageAnswer = z.infer<typeof coverageAnswer>;
export const gapsAnswer = z.object({
  from: z.string(),
  to: z.string(),
  total: z.number().meta({ description: 'how many there are; the latest are told' }),
  recovered: z.number().meta({ description: 'how many of them were filled since' }),
  unlooked,
  gaps: z.array(gap),
});
export type GapsAnswer = z.infer<typeof gapsAnswer>;

/** What is explained: a tag, a source with all its tags, or a place with all that lies in it. */
const explainedThing = {
  tag: z.string().min(1).optional(),
  source: z.string().min(1).optional(),
  place: z.string().min(1).max(400).optional().meta({ description: 'its path, such as Thornmere Wells / Well 1' }),
};

export const newExplanation = z
  .strictObject({
    ...explainedThing,
    from: timeParameter,
    to: timeParameter.meta({ description: 'may lie ahead: planned work' }),
    reason: z.string().trim().min(1, 'An explanation needs a reason.').max(400),
  })
  .refine(
    ({ tag, source, place }) => [tag, source, place].filter((one) => one !== undefined).length === 1,
    'Name one of tag, source and place.',
  );

export const explanationRow = z.object({
  id: z.number(),
  kind: z.enum(['tag', 'source', 'place']),
  about: z.string(),
  from: z.string(),
  to: z.string(),
  by: z.string(),
  reason: z.string(),
  at: z.string(),
});
export type ExplanationRow = z.infer<typeof explanationRow>;
export const explanationsQuery = z.strictObject({ from: timeParameter, to: timeParameter });
export const explanationsAnswer = z.object({ explanations: z.array(explanationRow) });
export type ExplanationsAnswer = z.infer<typeof explanationsAnswer>;

export const gapStoryQuery = z
  .strictObject({ tag: z.string().optional(), source: z.string().optional(), from: timeParameter, to: timeParameter })
  .refine(({ tag, source }) => (tag === undefined) !== (source === undefined), 'Name either the tag or the source.');

/** What is known to have happened around a gap, in the order of time. */
export const gapStory = z.object({
  events: z.array(
    z.object({
      at: z.string(),
      told: z
        .enum(['outage', 'end', 'values', 'recovery', 'lease', 'explanation', 'logbook'])
        .meta({ description: 'where it is known from: what the collector said, the journal, what people said or did' }),
      who: z.string().meta({ description: 'a person, or the writer of entries; empty: the collector of the source' }),
      sentence: z.string(),
    }),
  ),
});
export type GapStory = z.infer<typeof gapStory>;
