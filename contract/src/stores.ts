/** Stores: places where time series are kept. */
import { z } from 'zod';

export const store = z.object({
  id: z.number().int(),
  name: z.string(),
  /** The address without its password; null for the embedded store. */
  address: z.string().nullable(),
  retentionMonths: z.number().int().nullable(),
  keepsSince: z.string().nullable(),
  tags: z.number(),
  samples: z.number(),
  bytes: z.number(),
  first: z.string().nullable(),
  last: z.string().nullable(),
  /** What is wrong, as a sentence; null while it answers. */
  failure: z.string().nullable(),
});
export type Store = z.infer<typeof store>;
export const storesAnswer = z.object({ stores: z.array(store) });
export type StoresAnswer = z.infer<typeof storesAnswer>;

export const newStore = z.strictObject({
  name: z.string().trim().min(1).max(80),
  url: z
    .string()
    .regex(/^postgres(ql)?:\/\//, 'The address of a store starts with postgres:// and names a database.')
    .max(500),
});

export const retention = z.strictObject({
  months: z.number().int().min(1).max(1200).nullable().meta({ description: 'whole months kept; null: everything' }),
});
export const retentionQuery = z.strictObject({ months: z.coerce.number().int().min(1).max(1200) });

export const expiringMonth = z.object({
  month: z.string(),
  samples: z.number(),
  tags: z.number(),
  first: z.string().nullable(),
  last: z.string().nullable(),
  modified: z.number(),
  annotations: z.number(),
  bytes: z.number(),
});
export type ExpiringMonth = z.infer<typeof expiringMonth>;
export const retentionPreview = z.object({ keepsSince: z.string(), months: z.array(expiringMonth) });
export type RetentionPreview = z.infer<typeof retentionPreview>;

export const newMove = z.strictObject({ tags: z.array(z.string()).min(1).max(10_000), store: z.string() });
export const movesAnswer = z.object({ started: z.number() });
