/** How the letters of a text file are written: by its mark, or by what its bytes can be. */
import { fromWindows1252 } from '@wide-ledger/core';
import { createReadStream } from 'node:fs';

export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

/** Bytes looked at for the zero bytes that every other byte of UTF-16 is in most texts. */
const SNIFFED = 64 * 1024;

/**
 * Looks at the whole file: UTF-16 by its mark or its zero bytes; else UTF-8 if it is that throughout, else
 * Windows-1252, of which every text is one (its first half is ASCII, and it holds Latin-1's letters).
 */
export async function encodingOf(path: string): Promise<Encoding> {
  const utf8 = new TextDecoder('utf-8', { fatal: true });
  let first = true;
  try {
    for await (const part of createReadStream(path, { highWaterMark: SNIFFED })) {
      const bytes = part as Buffer;
      const wide = first ? wideEncoding(bytes) : null;
      if (wide) return wide;
      first = false;
      utf8.decode(bytes, { stream: true });
    }
    utf8.decode();
    return 'utf-8';
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ERR_ENCODING_INVALID_ENCODED_DATA') return 'windows-1252';
    throw error;
  }
}

function wideEncoding(bytes: Buffer): Encoding | null {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const zeros = (parity: number): number => bytes.filter((byte, i) => byte === 0 && i % 2 === parity).length;
  const [even, odd] = [zeros(0), zeros(1)];
  if (odd > bytes.length / 4 && even === 0) return 'utf-16le';
  return even > bytes.length / 4 && odd === 0 ? 'utf-16be' : null;
}

/** The text of a file, piece by piece, without a mark at its beginning. */
export async function* textOf(path: string, encoding: Encoding): AsyncGenerator<string> {
  if (encoding === 'windows-1252') {
    for await (const part of createReadStream(path)) yield fromWindows1252(part as Buffer);
    return;
  }
  const decoder = new TextDecoder(encoding);
  for await (const part of createReadStream(path)) yield decoder.decode(part as Buffer, { stream: true });
  yield decoder.decode();
}
