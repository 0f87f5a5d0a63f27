/** What the data themselves betray: looked for as a job, and listed with what it was seen by. */
import { DOUBT_KINDS } from '@wide-ledger/core';
import { z } from 'zod';
import { rowId, tagName, timeParameter } from './common.ts';

export const newExamination = z
  .strictObject({
    tags: z.array(tagName).min(1).max(20_000).optional(),
    place: z.string().min(1).max(400).optional().meta({ description: 'tags that lie there, or below it' }),
    from: timeParameter,
    to: timeParameter,
  })
  .refine(({ tags, place }) => tags === undefined || place === undefined, 'Name tags or a place, not both.');
export const examinationAnswer = z.object({ job: z.number() });
export type ExaminationAnswer = z.infer<typeof examinationAnswer>;

/** What came of it, as the job's report. */
export const examinationReport = z.object({
  from: z.string(),
  to: z.string(),
  tags: z.number().int(),
  doubts: z.number().int(),
  shortestSeconds: z.number().meta({ description: 'what is shorter is not told by neighbours' }),
  journalFrom: z
    .string()
    .nullable()
    .meta({ description: 'since when the order of arrival is still known within the window; null: of nothing in it' }),
});
export type ExaminationReport = z.infer<typeof examinationReport>;

export const doubt = z.object({
  id: z.number(),
  kind: z.enum(DOUBT_KINDS),
  tag: z.string().nullable().meta({ description: 'null: it is about a source as a whole' }),
  source: z.string().nullable(),
  place: z.string(),
  from: z.string(),
  to: z.string(),
  sentence: z.string(),
  evidence: z.record(z.string(), z.unknown()).meta({ description: 'the figures of the sentence' }),
});
export type Doubt = z.infer<typeof doubt>;

export const doubtsQuery = z.strictObject({
  job: z.coerce.number().pipe(rowId),
  kind: z.enum(DOUBT_KINDS).optional(),
  cursor: z.coerce.number().int().nonnegative().max(Number.MAX_SAFE_INTEGER).optional(),
  limit: z.coerce.number().int().min(1).max(1000).default(200),
});
export const doubtsAnswer = z.object({
  doubts: z.array(doubt),
  counts: z
    .array(z.object({ kind: z.enum(DOUBT_KINDS), doubts: z.number().int() }))
    .meta({ description: 'of each kind' }),
  next: z.number().optional(),
});
export type DoubtsAnswer = z.infer<typeof doubtsAnswer>;
