/** Samples in, history out. */
import { AGGREGATE_NAMES, ORIGINS, TALLY_CELLS } from '@wide-ledger/core';
import { z } from 'zod';
import { sampleOutput, timeParameter, valueOutput } from './common.ts';

/** Every sample is looked at by itself, so that one wrong one does not hold up the rest. */
export const newSamples = z.strictObject({ samples: z.array(z.unknown()).min(1).max(100_000) });

export const samplesResult = z.object({
  entry: z.number().nullable(),
  accepted: z.number(),
  setAside: z.array(z.object({ index: z.number(), reason: z.string() })),
});

const truth = z.enum(['true', 'false']).transform((text) => text === 'true');
const percent = z.coerce.number().min(0).max(100);
const tagAndWindow = z.strictObject({ tag: z.string().min(1), from: timeParameter, to: timeParameter });

export const rawQuery = tagAndWindow.extend({
  bounds: truth.default(false),
  limit: z.coerce.number().int().min(1).max(100_000).default(10_000),
  cursor: z.string().optional(),
  order: z.enum(['oldest', 'newest']).default('oldest').meta({ description: 'which end of the window comes first' }),
});

export const rawSample = sampleOutput.extend({ origin: z.enum(ORIGINS) });
export const rawAnswer = z.object({ tag: z.string(), samples: z.array(rawSample), next: z.string().optional() });
export type RawAnswer = z.infer<typeof rawAnswer>;

/** How aggregates are computed; what is left out is as the tag has it, or else as the standard's defaults are. */
const aggregateOverride = z.object({
  stepped: truth.optional(),
  treatUncertainAsBad: truth.optional(),
  percentDataBad: percent.optional(),
  percentDataGood: percent.optional(),
  useSlopedExtrapolation: truth.optional(),
});

const intervals = z.object({
  interval: z
    .string()
    .default('PT1H')
    .meta({ description: 'PT1H, P1D, P1M; or by the clock of the zone: hour, 15 minutes, shift:06:00/14:00/22:00' }),
  zone: z.string().default('UTC'),
  label: z.enum(['start', 'end']).default('start').meta({ description: 'which edge of an interval its row carries' }),
});

export const processedQuery = z.strictObject({
  ...tagAndWindow.shape,
  ...intervals.shape,
  ...aggregateOverride.shape,
  aggregate: z.enum(AGGREGATE_NAMES),
});

const list = z.string().transform((text) => text.split(',').filter(Boolean));
const aggregates = list.pipe(z.array(z.enum(AGGREGATE_NAMES)).min(1).max(AGGREGATE_NAMES.length));
export const FORMATS = ['json', 'csv', 'xlsx', 'parquet'] as const;
export type Format = (typeof FORMATS)[number];

/** Several tags and aggregates over the same intervals, side by side. */
export const tableQuery = z.strictObject({
  ...intervals.shape,
  ...aggregateOverride.shape,
  tags: list.pipe(z.array(z.string()).min(1).max(100)),
  aggregates,
  from: timeParameter,
  to: timeParameter,
});

export const tableAnswer = z.object({
  from: z.string(),
  to: z.string(),
  interval: z.string(),
  zone: z.string(),
  rows: z.array(z.record(z.string(), valueOutput)),
});
export type TableAnswer = z.infer<typeof tableAnswer>;

export const COMPUTATIONS = ['counter', 'integral', 'rate', 'states', 'onTime'] as const;
export type Computation = (typeof COMPUTATIONS)[number];

/** Computations of the trade over intervals, beside the aggregates of the standard. */
export const computedQuery = z.strictObject({
  ...tagAndWindow.shape,
  ...intervals.shape,
  computation: z.enum(COMPUTATIONS),
  rollOver: z.coerce
    .number()
    .positive()
    .optional()
    .meta({ description: 'counter: the value at which it starts over, such as 65536; default: as the tag has it' }),
  largestStep: z.coerce
    .number()
    .positive()
    .optional()
    .meta({ description: 'counter: the most it plausibly counts between two reads; default: as the tag has it' }),
  unit: z
    .string()
    .max(40)
    .optional()
    .meta({ description: 'integral: the unit of the answer, such as m3; rate: per s, min or h' }),
});

/** How long a state lasted in an interval, in milliseconds, how much of that was Uncertain, and how often it began. */
export const stateSpan = z.object({
  state: z.string(),
  milliseconds: z.number(),
  uncertainMilliseconds: z.number(),
  starts: z.number(),
});

/**
 * `note` says what the figure does not: wraps, resets, what was bridged. For states and time on: milliseconds in which
 * the state is known, is Uncertain and is not known, and each state by itself.
 */
export const computedRow = z.object({
  from: z.string(),
  to: z.string(),
  value: valueOutput,
  quality: z.string(),
  note: z.string().nullable(),
  goodMilliseconds: z.number().optional(),
  uncertainMilliseconds: z.number().optional(),
  unknownMilliseconds: z.number().optional(),
  states: z.array(stateSpan).optional(),
});
export const computedAnswer = z.object({
  tag: z.string(),
  computation: z.enum(COMPUTATIONS),
  unit: z.string(),
  rows: z.array(computedRow),
});

/** A file of history: everything in the window, however much, streamed. */
export const exportQuery = z.strictObject({
  ...intervals.shape,
  ...aggregateOverride.shape,
  kind: z.enum(['raw', 'processed', 'at', 'modified']).default('raw'),
  tags: list.pipe(z.array(z.string()).min(1).max(1000)),
  aggregates: aggregates.optional(),
  times: list.optional().meta({ description: 'at: the times, separated by commas' }),
  from: timeParameter,
  to: timeParameter,
  format: z.enum(FORMATS).default('csv'),
  layout: z.enum(['table', 'sheets']).default('table'),
  localTime: truth
    .default(false)
    .meta({ description: 'a column with the time by the clock of the zone, with its offset' }),
  intervalNames: truth
    .default(false)
    .meta({ description: 'processed: a column with the name of each interval: 2026-W07, 2026-03-28 from 22:00' }),
});

export const modifiedQuery = tagAndWindow;
export const modifiedSample = sampleOutput.extend({
  origin: z.enum(ORIGINS),
  kind: z.enum(['replaced', 'removed']),
  modifiedAt: z.string(),
  modifiedBy: z.string(),
  reason: z.string().nullable(),
});
export type ModifiedSample = z.infer<typeof modifiedSample>;
export const modifiedAnswer = z.object({ tag: z.string(), samples: z.array(modifiedSample) });
export type ModifiedAnswer = z.infer<typeof modifiedAnswer>;

/** What a tag holds in a window, cell by cell, in sums that two stores can compare. */
export const talliesQuery = tagAndWindow.extend({
  by: z
    .enum(TALLY_CELLS)
    .default('month')
    .meta({ description: 'cells by UTC; the first and the last end with the window' }),
});
export const tallyRow = z.object({
  from: z.string(),
  to: z.string(),
  count: z.number().meta({ description: 'samples' }),
  tally: z
    .string()
    .meta({ description: '32 hexadecimal digits; equal where time, value and status of all samples are' }),
});
export const talliesAnswer = z.object({ tag: z.string(), rows: z.array(tallyRow) });
export type TalliesAnswer = z.infer<typeof talliesAnswer>;

const reason = z.string().trim().min(1, 'Say why: the reason stays with the old value.').max(500);

/** New values in the place of old ones, or where there was none; the old ones stay in the modified history. */
export const newCorrection = z.strictObject({
  tag: z.string().min(1),
  reason,
  samples: z.array(z.unknown()).min(1).max(100_000),
});

/** Removes the values of a window; they stay in the modified history. */
export const newRemoval = z.strictObject({ tag: z.string().min(1), reason, from: timeParameter, to: timeParameter });
export const removalAnswer = z.object({ entry: z.number().nullable(), removed: z.number() });

export const newAnnotation = z.strictObject({
  tag: z.string().min(1),
  time: timeParameter,
  text: z.string().trim().min(1, 'An annotation needs some text.').max(2000),
});
export const annotation = z.object({
  id: z.number(),
  tag: z.string(),
  time: z.string(),
  text: z.string(),
  writtenBy: z.string(),
  writtenAt: z.string(),
});
export type Annotation = z.infer<typeof annotation>;
export const annotationsQuery = z.strictObject({
  tags: list.pipe(z.array(z.string()).min(1).max(100)),
  from: timeParameter,
  to: timeParameter,
});
export const annotationsAnswer = z.object({ annotations: z.array(annotation) });
export type AnnotationsAnswer = z.infer<typeof annotationsAnswer>;

export const processedAnswer = z.object({
  tag: z.string(),
  aggregate: z.string(),
  from: z.string(),
  to: z.string(),
  rows: z.array(sampleOutput),
});
export type ProcessedAnswer = z.infer<typeof processedAnswer>;

export const atQuery = z.strictObject({
  tag: z.string().min(1),
  times: z
    .union([z.string(), z.array(z.string())])
    .transform((given) => (Array.isArray(given) ? given : given.split(','))),
});
export const atAnswer = z.object({ tag: z.string(), samples: z.array(sampleOutput) });

export const envelopeQuery = tagAndWindow.extend({ columns: z.coerce.number().int().min(10).max(4000).default(800) });

/** What a trend draws. Times in milliseconds since 1970, NaN as null; the line breaks at nulls and at gaps. */
export const envelopeAnswer = z.object({
  tag: z.string(),
  from: z.number(),
  to: z.number(),
  samples: z.number(),
  times: z.array(z.number()),
  values: z.array(z.number().nullable()),
  gaps: z.array(z.object({ from: z.number(), to: z.number(), sentence: z.string() })),
});
export type EnvelopeAnswer = z.infer<typeof envelopeAnswer>;

/** The present, as the live stream sends it: by tag number. */
export const liveSample = z.object({
  tag: z.number(),
  time: z.string(),
  value: valueOutput,
  status: z.number(),
  quality: z.string(),
});
export type LiveSample = z.infer<typeof liveSample>;

export const setAsideRow = z.object({
  id: z.number(),
  at: z.string(),
  writer: z.string(),
  tag: z.string(),
  time: z.string().nullable(),
  value: z.string(),
  reason: z.string(),
});
export type SetAsideRow = z.infer<typeof setAsideRow>;
