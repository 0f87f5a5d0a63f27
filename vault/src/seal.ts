/** Secrets at rest: sealed with AES-256-GCM under a key that lies in the program's data folder, not beside what is sealed. */
import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const CIPHER = 'aes-256-gcm';
const NONCE_BYTES = 12;
const TAG_BYTES = 16;

/** Reads a key of 32 bytes from the data folder; made on first use, readable by its owner only. */
export function keyFile(dataFolder: string, name: string): Uint8Array {
  const file = join(dataFolder, name);
  if (!existsSync(file)) {
    mkdirSync(dataFolder, { recursive: true });
    writeFileSync(file, randomBytes(32), { mode: 0o600 });
  }
  return new Uint8Array(readFileSync(file));
}

/** Encrypts secrets at rest with the site's key (AES-256-GCM). Opening with another key, or what was changed, throws. */
export class Seal {
  constructor(private readonly key: Uint8Array) {}

  close(secret: string): string {
    const nonce = randomBytes(NONCE_BYTES);
    const cipher = createCipheriv(CIPHER, this.key, nonce);
    const sealed = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString('base64');
  }

  /** @throws Error when it was sealed under another key, or changed. */
  open(sealed: string): string {
    const bytes = Buffer.from(sealed, 'base64');
    const decipher = createDecipheriv(CIPHER, this.key, bytes.subarray(0, NONCE_BYTES));
    decipher.setAuthTag(bytes.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES));
    return Buffer.concat([decipher.update(bytes.subarray(NONCE_BYTES + TAG_BYTES)), decipher.final()]).toString('utf8');
  }
}
