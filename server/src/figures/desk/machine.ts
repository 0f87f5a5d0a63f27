/** The machine below: programs that had to be started again, and room on its disks. */
import type { Desk } from '@wide-ledger/contract';
import { readFile, statfs } from 'node:fs/promises';
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

/** Free bytes where the data lie that this machine keeps; null where the system does not tell. */
export async function freeBytes(dataFolder: string): Promise<number | null> {
  try {
    const { bavail, bsize } = await statfs(dataFolder);
    return bavail * bsize;
  } catch {
    return null;
  }
}
