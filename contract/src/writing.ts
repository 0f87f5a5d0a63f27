/** Writing a value to a device: what it holds is read and shown first, and written over only while it still holds that. */
import { z } from 'zod';

/** A value as a device holds it, in the tag's unit; 64-bit integers as their digits. */
export const deviceValue = z.union([z.number(), z.string().max(2000)]);
export type DeviceValue = z.infer<typeof deviceValue>;

/** What a device holds at a moment. */
export const held = z.object({
  /** Null: it gives none. */
  value: deviceValue.nullable(),
  status: z.number(),
  quality: z.string(),
});
export type Held = z.infer<typeof held>;

export const heldAnswer = held.extend({ tag: z.string(), unit: z.string() });

export const newDeviceValue = z.strictObject({
  value: deviceValue,
  seen: deviceValue
    .nullable()
    .meta({ description: 'what the device held when it was shown; it is refused where that has changed' }),
  reason: z.string().trim().max(400).default(''),
});

/** What came of writing. */
export const written = z.object({
  outcome: z.enum(['written', 'changed meanwhile', 'refused', 'differs', 'not known']).meta({
    description:
      '`changed meanwhile`, `refused`: nothing was written; `differs`: it was taken, and the device holds something else; `not known`: no answer came, or it could not be read back',
  }),
  sentence: z.string(),
  /** What the device held before. */
  before: held.nullable(),
  /** What was read back. */
  after: held.nullable(),
});
export type Written = z.infer<typeof written>;
