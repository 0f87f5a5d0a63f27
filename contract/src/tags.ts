/** Tags: what is collected, how it is read, and how it is kept. */
import { FORMULA_LIMITS } from '@wide-ledger/core';
import { z } from 'zod';
import { sampleOutput, tagName } from './common.ts';
import { sourceAddress } from './kinds/index.ts';

export const TAG_TYPES = ['real', 'integer', 'boolean', 'text', 'state'] as const;
export type TagType = (typeof TAG_TYPES)[number];

export const deadband = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('none') }),
  z.strictObject({ kind: z.literal('absolute'), width: z.number().nonnegative().meta({ title: 'Width' }) }),
  z.strictObject({ kind: z.literal('percent'), percent: z.number().min(0).max(100).meta({ title: 'Percent' }) }),
  // A value is held back until the line bends: for the longest silence, or ten minutes.
  z.strictObject({ kind: z.literal('line'), width: z.number().nonnegative().meta({ title: 'Width' }) }),
  z.strictObject({ kind: z.literal('line percent'), percent: z.number().min(0).max(100).meta({ title: 'Percent' }) }),
]);

export const scaling = z.strictObject({
  factor: z.number().default(1).meta({ title: 'Factor' }),
  offset: z.number().default(0).meta({ title: 'Offset' }),
  places: z.number().int().min(0).max(12).optional().meta({ title: 'Decimals' }),
  /** In place of factor and offset: what a raw range becomes. */
  ranges: z
    .strictObject({
      rawLow: z.number().default(0).meta({ title: 'Raw from' }),
      rawHigh: z.number().default(4095).meta({ title: 'Raw to' }),
      low: z.number().default(0).meta({ title: 'Becomes from' }),
      high: z.number().default(100).meta({ title: 'Becomes to' }),
    })
    .refine(({ rawLow, rawHigh }) => rawLow !== rawHigh, 'The raw range is empty: its ends are the same.')
    .optional()
    .meta({ title: 'By two ranges' }),
});

/** The interval of tags that are read again as soon as their source has answered: for short recordings. */
export const AS_IT_ANSWERS = 0;

/** The settings of reading and keeping that a pace holds and a tag may depart from. */
export const paceSettings = z.strictObject({
  intervalMilliseconds: z
    .number()
    .int()
    .min(0)
    .max(86_400_000)
    .refine(
      (interval) => interval === AS_IT_ANSWERS || interval >= 50,
      'has to be at least 50 ms; 0 is as fast as the source answers',
    )
    .meta({ title: 'Interval', description: 'ms; 0: as fast as it answers' }),
  aligned: z.boolean().meta({ title: 'Aligned to the clock' }),
  deadband: deadband.meta({ title: 'Deadband' }),
  longestSilenceSeconds: z.number().int().positive().nullable().meta({ title: 'Longest silence', description: 's' }),
});
export type PaceSettings = z.infer<typeof paceSettings>;

/** How a tag without a pace is read where nothing else is said. */
export const DEFAULT_PACE: PaceSettings = {
  intervalMilliseconds: 1000,
  aligned: true,
  deadband: { kind: 'none' },
  longestSilenceSeconds: null,
};

/** A formula, as docs/formulas.md describes them. */
export const formula = z.string().trim().min(1).max(FORMULA_LIMITS.characters);

/** What a formula calls one of its inputs. */
export const inputName = z
  .string()
  .max(40)
  .regex(/^[A-Za-z_][A-Za-z0-9_]*$/, 'is letters, digits and _, and begins with a letter');

/** What a label is called: as the variables of a family are. */
export const labelName = z
  .string()
  .max(40)
  .regex(/^[A-Za-z_]\w*$/, 'is letters, digits and _, and begins with a letter');

/** What a tag is among others, by which it is found: `pump=3`. */
export const labels = z
  .record(labelName, z.string().max(120))
  .refine((all) => Object.keys(all).length <= 20, 'There may be 20 labels.');

/** How a collector reads and keeps a tag: where it is, and all settings, its pace's included. */
export const reading = paceSettings.extend({
  address: sourceAddress,
  scaling: scaling.optional(),
  formula: formula.optional().meta({ description: 'over the scaled value, which it calls value' }),
  standbyAddress: sourceAddress.optional().meta({ description: 'where its standby reads it, where that is elsewhere' }),
});
export type Reading = z.infer<typeof reading>;

/** The same as people and programs give it: by the names of source and pace, settings left out as the pace has them. */
export const collection = paceSettings.partial().extend({
  source: z.string().meta({ description: 'name of the source' }),
  address: sourceAddress,
  scaling: scaling.optional(),
  standbyAddress: sourceAddress.optional().meta({ description: 'where its standby reads it, where that is elsewhere' }),
  pace: z.string().optional().meta({ description: 'name of the pace; settings given beside it depart from it' }),
  paused: z.boolean().optional(),
});
export type Collection = z.infer<typeof collection>;

/** The same as it is shown: every setting as it is in force. */
export const collectionOutput = reading.extend({
  source: z.string(),
  pace: z.string().nullable(),
  /** The settings in which the tag departs from its pace. */
  departures: z.array(z.string()),
  paused: z.boolean(),
});

/** How a tag's aggregates are computed where a request does not say; what is left out is the standard's default. */
export const tagAggregateConfiguration = z
  .strictObject({
    treatUncertainAsBad: z.boolean().meta({ title: 'Uncertain counts as Bad' }),
    percentDataBad: z.number().min(0).max(100).meta({ title: 'Bad from % of Bad' }),
    percentDataGood: z.number().min(0).max(100).meta({ title: 'Good from % of Good' }),
    useSlopedExtrapolation: z.boolean().meta({ title: 'Goes on with its slope' }),
  })
  .partial()
  .refine(
    ({ percentDataBad = 100, percentDataGood = 100 }) => percentDataGood >= 100 - percentDataBad,
    'percentDataGood has to be at least 100 − percentDataBad.',
  );
export type TagAggregateConfiguration = z.infer<typeof tagAggregateConfiguration>;

/** What is known of a counter: where it starts over, and how much it counts at most between two reads. */
export const counterNature = z.strictObject({
  rollOver: z
    .number()
    .positive()
    .optional()
    .meta({ title: 'Rolls over at', description: 'the value that it never shows, such as 65536' }),
  largestStep: z.number().positive().optional().meta({
    title: 'Largest step',
    description: 'the most it plausibly counts between two reads; a fall that means more is a reset',
  }),
});
export type CounterNature = z.infer<typeof counterNature>;

export const newTag = z
  .strictObject({
    name: tagName,
    type: z.enum(TAG_TYPES).default('real'),
    unit: z.string().max(40).default(''),
    description: z.string().max(400).default(''),
    place: z.string().max(200).default('').meta({ description: 'site / area / unit' }),
    stepped: z.boolean().optional().meta({ description: 'hold between values; default: true for all but real' }),
    low: z.number().nullable().default(null),
    high: z.number().nullable().default(null),
    states: z.record(z.string(), z.string()).optional().meta({ description: 'names of a state by its number' }),
    collection: collection.optional(),
    counter: counterNature.optional(),
    writable: z.boolean().optional().meta({ description: 'whether values may be written to its device; default: no' }),
    labels: labels.optional().meta({ description: 'by which it is found: search for pump=3' }),
    formula: formula.optional().meta({ description: 'over its own value; without a collection, over other tags' }),
    inputs: z.record(inputName, tagName).optional().meta({ description: 'tags by what the formula calls them' }),
    store: z.string().optional().meta({ description: 'name of the store that keeps it; default: the embedded one' }),
    aggregateConfiguration: tagAggregateConfiguration.optional(),
    inForceSince: z
      .string()
      .optional()
      .meta({ description: 'from when the tag was meant to be collected; default: now' }),
  })
  .refine(
    ({ low, high }) => low === null || high === null || low < high,
    'The range is upside down: low has to lie below high.',
  );
export type NewTag = z.infer<typeof newTag>;

/** What of a tag can be changed while it is collected. */
export const tagChange = z
  .strictObject({
    stepped: z.boolean(),
    aggregateConfiguration: tagAggregateConfiguration.nullable(),
    counter: counterNature.nullable(),
    description: z.string().max(400),
  })
  .partial();
export type TagChange = z.infer<typeof tagChange>;

export const newTags = z.union([newTag, z.array(z.unknown()).max(20_000)]);

export const tagResult = z.object({
  name: z.string(),
  id: z.number().int().optional(),
  outcome: z.enum(['created', 'refused']),
  reason: z.string().optional(),
});

export const tag = z.object({
  id: z.number().int(),
  name: z.string(),
  /** What it was called before: who asks by one of these is understood. */
  formerNames: z.array(z.string()),
  type: z.enum(TAG_TYPES),
  unit: z.string(),
  description: z.string(),
  place: z.string(),
  stepped: z.boolean(),
  low: z.number().nullable(),
  high: z.number().nullable(),
  states: z.record(z.string(), z.string()).nullable(),
  sourceId: z.number().int().nullable(),
  collection: collectionOutput.nullable(),
  inForceSince: z.string(),
  /** The version that last changed what a collector is told of it: until its collector runs that, it is not yet taken. */
  toldVersion: z.number().int(),
  /** In force, or retired: its history stays. */
  retired: z.boolean(),
  /** Why its source does not give it, while it gives others; null where it does. */
  refusal: z.string().nullable(),
  store: z.string(),
  aggregateConfiguration: tagAggregateConfiguration.nullable(),
  counter: counterNature.nullable(),
  /** Whether people who may operate the plant may write to it. */
  writable: z.boolean(),
  labels: z.record(z.string(), z.string()),
  formula: z.string().nullable(),
  /** The tags of which it is computed, by what its formula calls them; null where it is read, or comes from outside. */
  inputs: z.record(z.string(), z.string()).nullable(),
  latest: sampleOutput.nullable(),
});
export type Tag = z.infer<typeof tag>;

export const tagList = z.object({ tags: z.array(tag), total: z.number(), next: z.string().optional() });
export type TagList = z.infer<typeof tagList>;
