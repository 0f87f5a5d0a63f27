/** Secrets go in and never come out: definitions refer to them by number. */
import { z } from 'zod';

export const newSecret = z.strictObject({ value: z.string().min(1).max(10_000) });
export const keptSecret = z.object({ id: z.number().int() });

/** Fields of connections that hold the number of a secret. */
export const SECRET_FIELDS = ['password', 'key'] as const;

/** The numbers of the secrets that a connection refers to. */
export const secretsOf = (connection: object): number[] =>
  SECRET_FIELDS.flatMap((field) => {
    const id = (connection as Record<string, unknown>)[field];
    return typeof id === 'number' ? [id] : [];
  });
