/** Passwords and keys: only their hashes are kept. */
import { hash, verify } from '@node-rs/argon2';
import { createHash, randomBytes } from 'node:crypto';

/** The argon2id hash of a password, with its salt and cost, as it is kept. */
export const hashPassword = (password: string): Promise<string> => hash(password);
/** Whether a password is the one of a kept hash. */
export const verifyPassword = (kept: string, password: string): Promise<boolean> => verify(kept, password);

/** A new key: 256 random bits. */
export const makeKey = (): string => `wl_${randomBytes(32).toString('base64url')}`;

/** A key is random enough for a plain digest; a slow one would be paid at every request. */
export const hashKey = (key: string): string => createHash('sha256').update(key).digest('hex');
