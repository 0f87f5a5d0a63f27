/** Computing derived tags for the past. */
import { z } from 'zod';
import { tagName, timeParameter } from './common.ts';

export const newComputation = z.strictObject({
  tag: tagName,
  from: timeParameter,
  to: timeParameter,
});

export const computationAnswer = z.object({ job: z.number().int() });
