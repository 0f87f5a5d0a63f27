/**
 * The papers of a link: what goes with values without being one. Each is known by a kind, a number and a day, and replaces
 * the one that the far end had. Tags go by the link's numbers, times are microseconds.
 */
import { GAP_CAUSES, MAXIMUM_TIME, ORIGINS } from '@wide-ledger/core';
import { z } from 'zod';
import { rowId } from './common.ts';

const micros = z.number().int().min(-MAXIMUM_TIME).max(MAXIMUM_TIME);
/** Of a source, by the near end's own number; it may be one of a third site. */
const sourceNumber = z.number().int().min(-2_147_483_647).max(2_147_483_647);
/** Of a tag by the link's number; 0: of the source as a whole. */
const whose = z.number().int().min(0).max(2_147_483_647);
const sentence = z.string().max(1000);
const spans = z.array(z.tuple([micros, micros.nullable()])).max(10_000);
const print = z.string().min(1).max(64).meta({ description: 'the sender’s own, of what stands in it' });

/** A source, when it and its tags were meant to be read, and what people said of the times when they were not. */
const sourcePaper = z.strictObject({
  kind: z.literal('source'),
  number: sourceNumber,
  print,
  name: z.string().min(1).max(200),
  duty: spans,
  tags: z
    .array(z.strictObject({ numbers: z.array(rowId).max(100_000), duty: spans }))
    .max(100_000)
    .meta({ description: 'those that were meant to be read at the same times, together' }),
  explanations: z
    .array(z.strictObject({ number: whose, from: micros, to: micros, by: z.string().max(200), reason: z.string() }))
    .max(10_000),
});

/** What is known of a source on a day of UTC: what was watched, what could not be, and what became of that. */
const dayPaper = z.strictObject({
  kind: z.literal('day'),
  number: sourceNumber,
  print,
  day: micros.meta({ description: 'its beginning' }),
  watches: z.array(z.strictObject({ origin: z.enum(ORIGINS), from: micros, to: micros })).max(100_000),
  outages: z
    .array(
      z.strictObject({
        number: whose,
        from: micros,
        to: micros.nullable(),
        cause: z.enum(GAP_CAUSES),
        sentence,
        code: z.string().max(100).nullable(),
        recoverable: z.boolean(),
        within: z.boolean(),
      }),
    )
    .max(100_000),
  recoveries: z
    .array(
      z.strictObject({
        number: whose,
        from: micros,
        to: micros,
        outcome: z.enum(['wanted', 'recovered', 'gone']),
        sentence,
      }),
    )
    .max(100_000),
});

/** What people wrote on a tag. */
const annotationsPaper = z.strictObject({
  kind: z.literal('annotations'),
  number: rowId,
  print,
  annotations: z
    .array(
      z.strictObject({
        id: z.number().int(),
        time: micros,
        text: z.string().min(1).max(2000),
        by: z.string().max(200),
        at: z.string().max(40),
        origin: z
          .string()
          .max(100)
          .optional()
          .meta({ description: 'the identity of the site at which it was written, where that is another one' }),
      }),
    )
    .max(10_000),
});

/** A change of what is meant to be, field by field, in words. */
export const definitionChange = z.strictObject({
  at: z.string().max(40),
  by: z.string().max(200),
  reason: z.string().max(2000),
  fields: z
    .array(z.strictObject({ title: z.string().max(200), from: z.string().max(4000), to: z.string().max(4000) }))
    .max(500),
});
export type DefinitionChange = z.infer<typeof definitionChange>;

/** What was changed of a tag's definition since it was made. */
const changesPaper = z.strictObject({
  kind: z.literal('changes'),
  number: rowId,
  print,
  changes: z.array(definitionChange).max(2000),
});

export const paper = z.discriminatedUnion('kind', [sourcePaper, dayPaper, annotationsPaper, changesPaper]);
export type Paper = z.infer<typeof paper>;
export type PaperOf<Kind extends Paper['kind']> = Extract<Paper, { kind: Kind }>;
export const carriedPapers = z.strictObject({ papers: z.array(paper).min(1).max(5000) });

/** Which papers the far end has, by their prints. */
export const heldPapers = z.object({
  papers: z.array(z.object({ kind: z.string(), number: z.number(), day: z.number(), print: z.string() })),
});
export type HeldPaper = z.infer<typeof heldPapers>['papers'][number];

/** What was changed of a tag: here, and where it comes from. */
export const tagChanges = z.object({
  changes: z.array(
    definitionChange.extend({
      site: z.string().nullable().meta({ description: 'where it was changed; null: here' }),
    }),
  ),
});
export type TagChanges = z.infer<typeof tagChanges>;
