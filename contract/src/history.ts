/** Samples in, history out. */
import { AGGREGATE_NAMES, ORIGINS } from '@wide-ledger/core';
import { z } from 'zod';
import { sampleOutput, timeParameter, valueOutput } from './common.ts';

/** Every sample is looked at by itself, so that one wrong one does not hold up the rest. */
export const newSamples = z.object({ samples: z.array(z.unknown()).min(1).max(100_000) });

export const samplesResult = z.object({
  entry: z.number().nullable(),
  accepted: z.number(),
  setAside: z.array(z.object({ index: z.number(), reason: z.string() })),
});

const truth = z.enum(['true', 'false']).transform((text) => text === 'true');
const percent = z.coerce.number().min(0).max(100);
const tagAndWindow = z.object({ tag: z.string().min(1), from: timeParameter, to: timeParameter });

export const rawQuery = tagAndWindow.extend({
  bounds: truth.default(false),
  limit: z.coerce.number().int().min(1).max(100_000).default(10_000),
  cursor: z.string().optional(),
});

export const rawSample = sampleOutput.extend({ origin: z.enum(ORIGINS) });
export const rawAnswer = z.object({ tag: z.string(), samples: z.array(rawSample), next: z.string().optional() });
export type RawAnswer = z.infer<typeof rawAnswer>;

export const processedQuery = tagAndWindow.extend({
  aggregate: z.enum(AGGREGATE_NAMES),
  interval: z.string().default('PT1H'),
  zone: z.string().default('UTC'),
  stepped: truth.optional(),
  treatUncertainAsBad: truth.optional(),
  percentDataBad: percent.optional(),
  percentDataGood: percent.optional(),
  useSlopedExtrapolation: truth.optional(),
});

export const processedAnswer = z.object({
  tag: z.string(),
  aggregate: z.string(),
  from: z.string(),
  to: z.string(),
  rows: z.array(sampleOutput),
});
export type ProcessedAnswer = z.infer<typeof processedAnswer>;

export const atQuery = z.object({
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
