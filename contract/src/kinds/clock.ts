/** What becomes of values whose source has the wrong time all of a sudden. */
import { z } from 'zod';

export const CLOCK_RULES = ['uncertain', 'as they are'] as const;
export type ClockRule = (typeof CLOCK_RULES)[number];

/** Among the settings of connections to sources that stamp by a clock of their own. */
export const clockFields = {
  clockJumps: z
    .enum(CLOCK_RULES)
    .optional()
    .meta({ title: 'Clock jumps', description: 'how values dated more than 10 s further ahead than usual are kept' }),
};

const fields = z.object(clockFields);

/** What a connection wants; uncertain where it does not say. */
export const clockRule = (connection: object): ClockRule => fields.parse(connection).clockJumps ?? 'uncertain';
