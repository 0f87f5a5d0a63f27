/** Fields that connections of several kinds have. */
import { z } from 'zod';

/** A secret by its number: what it is is never here. */
export const secretNumber = (title: string) =>
  z.number().int().positive().nullable().default(null).meta({ title, secret: true });

/** The name of a group, an edge node or a device: a level of a topic. */
export const topicLevel = (title: string, description?: string) =>
  z
    .string()
    .trim()
    .max(200)
    .regex(/^[^/+#\0]*$/, 'holds none of / + #')
    .meta({ title, ...(description === undefined ? {} : { description }) });

/** For how long an answer is waited for. Milliseconds. */
export const timeout = (least: number, standard: number) =>
  z.number().int().min(least).max(60_000).default(standard).meta({ title: 'Time-out', description: 'ms' });

/** A text of which something can be wrong, which is said in a sentence. */
export const checkedText = (most: number, problemOf: (text: string) => string | null) =>
  z
    .string()
    .max(most)
    .superRefine((text, context) => {
      const problem = problemOf(text);
      if (problem !== null) context.addIssue({ code: 'custom', message: problem });
    });
