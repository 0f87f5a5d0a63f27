/** How complete the record is, by place or tag and by the calendar. */
import { z } from 'zod';
import { timeParameter } from './common.ts';

export const COMPLETENESS_FORMATS = ['json', 'csv', 'xlsx', 'pdf'] as const;
export type CompletenessFormat = (typeof COMPLETENESS_FORMATS)[number];

export const completenessQuery = z.strictObject({
  from: timeParameter,
  to: timeParameter,
  by: z
    .enum(['hour', 'day', 'month'])
    .default('day')
    .meta({ description: 'the calendar’s cells, by the zone’s clock' }),
  rows: z.enum(['place', 'tag']).default('place'),
  place: z.string().min(1).max(400).optional().meta({ description: 'only of tags that lie there, or below it' }),
  zone: z.string().min(1).max(60).optional().meta({ description: 'default: the site’s' }),
  format: z
    .enum(COMPLETENESS_FORMATS)
    .default('json')
    .meta({ description: 'as XLSX and PDF a report, with the gaps and what became of them' }),
});

export const completenessRow = z.object({
  place: z.string().meta({ description: 'empty: the whole site' }),
  tag: z.string().nullable().meta({ description: 'null: all tags that lie in the place, or below it' }),
  tags: z.number().int(),
  cells: z.array(
    z.object({
      dueSeconds: z.number().meta({ description: 'of all its tags together' }),
      missingSeconds: z.number().meta({ description: 'neither watched nor recovered' }),
      explainedSeconds: z.number().meta({ description: 'of these, what somebody explained' }),
      percent: z.number().nullable().meta({ description: 'the share that is there; null: nothing was due' }),
    }),
  ),
  percent: z.number().nullable(),
});
export type CompletenessRow = z.infer<typeof completenessRow>;

export const completenessAnswer = z.object({
  from: z.string(),
  to: z.string(),
  zone: z.string(),
  /** Where the cells begin, and the end of the last. */
  edges: z.array(z.string()),
  rows: z.array(completenessRow),
});
export type CompletenessAnswer = z.infer<typeof completenessAnswer>;
