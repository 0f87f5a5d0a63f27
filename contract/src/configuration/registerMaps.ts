/** Register maps as CSV: the tags of a source whose values lie in registers, a line each. */
import { z } from 'zod';

/** @param text the file, as it was read. */
export const registerMapText = z.strictObject({
  text: z.string().max(1_000_000),
  dryRun: z.boolean().default(false).meta({ description: 'only says what would be taken' }),
});

/** What becomes of a line. */
export const registerMapLine = z.object({
  line: z.number().int().meta({ description: 'counted from 1, the heads among them' }),
  name: z.string(),
  what: z.enum(['new', 'changed', 'same', 'wrong']),
  sentence: z.string().meta({ description: 'what changes, or what is wrong' }),
});
export type RegisterMapLine = z.infer<typeof registerMapLine>;

export const registerMapAnswer = z.object({
  lines: z.array(registerMapLine),
  ignored: z.array(z.string()).meta({ description: 'heads that no field of a tag goes by' }),
  taken: z.number().int().meta({ description: 'lines that are in your draft now' }),
});
export type RegisterMapAnswer = z.infer<typeof registerMapAnswer>;
