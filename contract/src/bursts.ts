/** A tag read as often as can be for a short while, to see how fast it moves. Nothing of it is archived. */
import { z } from 'zod';
import { tagName } from './common.ts';

/** How it is read: the interval in milliseconds, and for how many seconds. */
export const burstPace = z.object({
  everyMilliseconds: z.number().int().min(20).max(10_000).default(50),
  seconds: z.number().int().min(1).max(60).default(60),
});
export type BurstPace = z.infer<typeof burstPace>;

export const newBurst = z.strictObject({ tag: tagName, ...burstPace.shape });
export const burstStarted = z.object({ job: z.number().int() });

/** What was read, as the job's report. */
export const burst = z.object({
  startedAt: z.string(),
  times: z.array(z.number()).meta({ description: 'milliseconds since it began, by the clock of the collector' }),
  values: z.array(z.number().nullable()).meta({ description: 'null where there was none' }),
});
export type Burst = z.infer<typeof burst>;
