/** What a server asks of a collector while somebody waits: to walk a path, to look through a source. */
import { z } from 'zod';
import { newSource, pathCheck, rung } from './sources.ts';

/** A node of a source's tree. What only variables have is null for others. */
export const browsedNode = z.object({
  /** Its address, as the source has it. */
  node: z.string(),
  name: z.string(),
  description: z.string(),
  /** Whether something lies below it. */
  hasBelow: z.boolean(),
  /** Whether it holds a value, and which kind of tag could keep it; null where none can. */
  type: z.enum(['real', 'integer', 'boolean', 'text', 'state']).nullable(),
  typeWords: z.string(),
  unit: z.string(),
  low: z.number().nullable(),
  high: z.number().nullable(),
  /** The names of a state's numbers. */
  states: z.record(z.string(), z.string()).nullable(),
  value: z.string().nullable(),
  quality: z.string().nullable(),
  /** The elements of an array or a structure that can be taken apart. */
  elements: z.array(z.string()),
  /** The tags that are read from it already. */
  taken: z.array(z.string()).default([]),
});
export type BrowsedNode = z.infer<typeof browsedNode>;

export const browseAnswer = z.object({ nodes: z.array(browsedNode), more: z.boolean() });
export type BrowseAnswer = z.infer<typeof browseAnswer>;

/** Secrets that a question needs, by their numbers. */
const secrets = z.record(z.string(), z.string()).default({});

export const question = z.discriminatedUnion('ask', [
  z.object({ ask: z.literal('check'), source: newSource, secrets }),
  z.object({ ask: z.literal('browse'), source: newSource, node: z.string().max(1000).nullable(), secrets }),
]);
export type Question = z.infer<typeof question>;

export const askedQuestion = z.object({ request: z.number().int(), question });
export type AskedQuestion = z.infer<typeof askedQuestion>;

export const questionsAnswer = z.object({ questions: z.array(askedQuestion) });

/** What a collector says to a question: a rung on the way, or the whole answer, or why there is none. */
export const collectorSays = z.discriminatedUnion('says', [
  z.object({ request: z.number().int(), says: z.literal('rung'), rung }),
  z.object({ request: z.number().int(), says: z.literal('check'), check: pathCheck }),
  z.object({ request: z.number().int(), says: z.literal('browse'), browse: browseAnswer }),
  z.object({
    request: z.number().int(),
    says: z.literal('failed'),
    sentence: z.string().max(2000),
    code: z.string().max(100).nullable(),
  }),
]);
export type CollectorSays = z.infer<typeof collectorSays>;

/** Looking through a source: what lies below a node of it. */
export const browseQuery = z.strictObject({
  source: newSource,
  node: z.string().max(1000).nullable().default(null),
  id: z.number().int().optional().meta({ description: 'number of the source: what it is taken as is then said' }),
});
