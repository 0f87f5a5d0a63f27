/** How the collector ended last, where it could still write it down: for the sentence of the gap, and to start what ended it last. */
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { z } from 'zod';

const lastEnd = z.object({
  /** Milliseconds since 1970. */
  at: z.number(),
  reason: z.string(),
  /** The source whose fault it was; null where that is not known. */
  source: z.number().nullable(),
});
export type LastEnd = z.infer<typeof lastEnd>;

const fileIn = (folder: string): string => join(folder, 'last-end.json');

/** Written at once, since the process ends behind it. */
export function writeLastEnd(folder: string, end: LastEnd): void {
  try {
    writeFileSync(fileIn(folder), JSON.stringify(end), { mode: 0o600, flush: true });
  } catch {
    // A full disk: then the reason stands in the log alone.
  }
}

/** How it ended last; null where nothing was written down. It is told once. */
export function takeLastEnd(folder: string): LastEnd | null {
  if (!existsSync(fileIn(folder))) return null;
  try {
    return lastEnd.parse(JSON.parse(readFileSync(fileIn(folder), 'utf8')));
  } catch {
    return null;
  } finally {
    rmSync(fileIn(folder), { force: true });
  }
}
