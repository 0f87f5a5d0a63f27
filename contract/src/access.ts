import { z } from 'zod';

export const SCOPES = ['read', 'write', 'collect', 'carry', 'admin'] as const;
export type Scope = (typeof SCOPES)[number];

export const signIn = z.strictObject({ name: z.string().min(1).max(100), password: z.string().min(1).max(500) });
export const session = z.object({ name: z.string(), scopes: z.array(z.enum(SCOPES)) });
export type Session = z.infer<typeof session>;

export const newKey = z.strictObject({ name: z.string().min(1).max(100), scopes: z.array(z.enum(SCOPES)).min(1) });
export const createdKey = z.object({ id: z.number(), key: z.string() });
