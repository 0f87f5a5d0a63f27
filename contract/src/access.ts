/** Who is let in: people by sessions, programs by keys, each with scopes. */
import { z } from 'zod';
import { collectorName } from './common.ts';

export const SCOPES = ['read', 'write', 'correct', 'collect', 'carry', 'operate', 'admin'] as const;
export type Scope = (typeof SCOPES)[number];

const scopes = z.array(z.enum(SCOPES));

export const signIn = z.strictObject({ name: z.string().min(1).max(100), password: z.string().min(1).max(500) });
export const session = z.object({ name: z.string(), scopes });
export type Session = z.infer<typeof session>;

export const openSession = z.object({
  id: z.string(),
  name: z.string(),
  since: z.string(),
  seen: z.string(),
  ends: z.string(),
  whence: z.string().meta({ description: 'the address that it was opened from' }),
  agent: z.string().meta({ description: 'what the browser calls itself' }),
  own: z.boolean().meta({ description: 'the one that asks' }),
});
export type OpenSession = z.infer<typeof openSession>;
export const sessionList = z.object({ sessions: z.array(openSession) });

export const newKey = z.strictObject({
  name: z.string().trim().min(1).max(100),
  scopes: scopes.min(1),
  ends: z.iso.datetime({ offset: true }).nullable().optional().meta({ description: 'when it ends; never without' }),
  collector: collectorName.optional().meta({
    description: 'of a key that may collect: the collector that it belongs to; without, the first that uses it',
  }),
});
export const createdKey = z.object({ id: z.number(), key: z.string() });

export const knownKey = z.object({
  id: z.number(),
  name: z.string(),
  scopes,
  by: z.string(),
  made: z.string(),
  lastUse: z.string().nullable(),
  lastFrom: z.string().nullable(),
  ends: z.string().nullable(),
  collector: z.string().nullable(),
});
export type KnownKey = z.infer<typeof knownKey>;
export const keyList = z.object({ keys: z.array(knownKey) });

export const newReaderPassword = z.strictObject({ password: z.string().min(12).max(200) });
