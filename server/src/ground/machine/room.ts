/** Room on the machine's disks. */
import { statfs } from 'node:fs/promises';

/** Free bytes where the data lie that this machine keeps; null where the system does not tell. */
export async function freeBytes(dataFolder: string): Promise<number | null> {
  try {
    const { bavail, bsize } = await statfs(dataFolder);
    return bavail * bsize;
  } catch {
    return null;
  }
}
