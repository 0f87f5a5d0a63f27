/** Shapes that every part of the interface shares. */
import { TAG_NAME, parseInstant, parseStatus } from '@wide-ledger/core';
import { z } from 'zod';

/** An RFC 3339 date-time with offset. */
export const instant = z
  .string()
  .refine(
    (text) => parseInstant(text) !== undefined,
    'is not a date-time with its offset, such as 2026-11-22T06:00:00Z',
  )
  .meta({ format: 'date-time' });

/** A time in a request: RFC 3339, or relative to now such as `now-6h`. */
export const timeParameter = z.string().min(1).meta({ description: 'RFC 3339 date-time, or now, now-6h, now-30d' });

/** How a collector names itself by its settings. What comes behind a / tells its spools apart. */
export const collectorName = z
  .string()
  .trim()
  .min(1)
  .max(80)
  .regex(/^[^/]+$/, 'is no name of a collector: it must not hold a /');

/** The number of a row: as large as the database has them. */
export const rowId = z.number().int().positive().max(2_147_483_647);

/** Names travel to other sites, files and SQL: letters, digits and . _ - only. */
export const tagName = z
  .string()
  .regex(
    TAG_NAME,
    'may hold letters, digits, dot, dash and underscore (120 at most) and starts with a letter or digit',
  );

export const statusInput = z
  .union([z.number(), z.string()])
  .refine((given) => parseStatus(given) !== undefined, 'is neither a known OPC UA status name nor a 32-bit number');

/** RFC 9457 problem document; `detail` is a sentence for a person. */
export const problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number(),
  detail: z.string(),
  code: z.string().optional(),
});
export type Problem = z.infer<typeof problem>;

export const valueOutput = z.union([z.number(), z.string(), z.boolean(), z.null()]);

/** A sample as the history calls answer it. `value` is null where there is none; infinities and NaN are strings. */
export const sampleOutput = z.object({
  time: z.string(),
  value: valueOutput,
  status: z.number(),
  quality: z.string(),
});
export type SampleOutput = z.infer<typeof sampleOutput>;

/** Whether a name is one of a time zone that this machine knows. */
export function isZone(zone: string): boolean {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: zone }).resolvedOptions().timeZone !== '';
  } catch {
    return false;
  }
}
