/** Programs of this machine that had to be started again. */
import type { Desk } from '@wide-ledger/contract';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';

const restarts = z.record(z.string(), z.object({ count: z.number(), last: z.string() }));

/** What the launcher wrote down; nothing where another one starts the programs. */
export async function restartsIn(dataFolder: string): Promise<Desk['restarts']> {
  try {
    const known = restarts.parse(JSON.parse(await readFile(join(dataFolder, 'restarts.json'), 'utf8')));
    return Object.entries(known).map(([program, told]) => ({ program, ...told }));
  } catch {
    return [];
  }
}
