/** The logbook: everything anybody did, and whether it is whole. */
import { z } from 'zod';

export const ACTS = [
  'signed in',
  'was refused',
  'signed out',
  'ended a session',
  'made a key',
  'revoked a key',
  'changed a password',
  'kept a secret',
  'put in force',
  'corrected',
  'removed',
  'annotated',
  'decided',
  'imported',
  'began a backfill',
  'began an examination',
  'wrote to a device',
  'explained',
  'took back',
  'stopped',
  'paused',
  'resumed',
  'cut a line',
  'disturbed a line',
  'restored a line',
  'set a signal',
  'emptied a memory',
  'set a clock',
  'invited a site',
  'joined',
  'made a link',
  'reconciled',
  'had the past computed',
  'had a tag read fast',
  'took another way',
] as const;
export type Act = (typeof ACTS)[number];

export const logbookEntry = z.object({
  number: z.number().int(),
  at: z.string(),
  who: z.string(),
  /** The address that it came from. */
  whence: z.string(),
  act: z.enum(ACTS),
  kind: z.string().nullable(),
  item: z.number().int().nullable(),
  name: z.string().nullable(),
  sentence: z.string(),
  old: z.unknown(),
  new: z.unknown(),
  /** Of what was put in force: the version, which says field by field what changed. */
  version: z.number().int().nullable(),
  hash: z.string().meta({ description: 'of this entry and the one before it, hexadecimal' }),
});
export type LogbookEntry = z.infer<typeof logbookEntry>;
export const logbookPage = z.object({ entries: z.array(logbookEntry), next: z.string().optional() });
export type LogbookPage = z.infer<typeof logbookPage>;

export const logbookCheck = z.object({
  whole: z.boolean(),
  checked: z.number().int().meta({ description: 'entries that were looked at' }),
  /** What is wrong first, as a sentence. */
  sentence: z.string(),
  /** Where the chain breaks; null while it is whole. */
  brokenAt: z.number().int().nullable(),
  /** The last entry's number and hash: written down elsewhere, they show later whether the end was cut off. */
  head: z.object({ number: z.number().int(), hash: z.string() }).nullable(),
});
export type LogbookCheck = z.infer<typeof logbookCheck>;
