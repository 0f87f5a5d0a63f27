/**
 * Files that are read are kept open: one that is taken out of the folder between two looks, as when a log is rotated, is
 * read to its end all the same.
 */
import type { FileHandle } from 'node:fs/promises';
import { basename } from 'node:path';
import type { Found } from './folder.ts';
import type { FileMark } from './marks.ts';
import { openFile } from './reading.ts';

/** Those that were written last. */
const MOST = 64;
/** Whoever writes a file may go on for a while after it was taken away. Milliseconds. */
const AFTER_IT_WENT = 30_000;

interface Open {
  readonly file: Found;
  readonly handle: FileHandle;
  /** When it was missed in the folder, by the counter that nobody sets; null while it lies there. */
  goneAt: number | null;
}

export class OpenFiles {
  /** By the file system's own number, those that were used last at the end. */
  private readonly open = new Map<number, Open>();

  /** Keeps a file open from now on. */
  async keep(file: Found): Promise<void> {
    if (file.handle) return;
    const known = this.open.get(file.inode);
    this.open.delete(file.inode);
    const handle = known?.handle ?? (await openFile(file).catch(() => null));
    if (!handle) return;
    this.open.set(file.inode, { file, handle, goneAt: null });
    const [oldest] = this.open.keys();
    if (this.open.size > MOST) this.forget(oldest!);
  }

  /** Files that were read before and no longer lie there, as they are now. @param marks how far each is read */
  async gone(there: readonly Found[], marks: readonly FileMark[]): Promise<Found[]> {
    const inodes = new Set(there.map(({ inode }) => inode));
    const gone: Found[] = [];
    for (const [inode, one] of this.open) {
      if (inodes.has(inode)) {
        one.goneAt = null;
        continue;
      }
      one.goneAt ??= performance.now();
      const mark = marks.find((known) => known.inode === inode);
      const { size, mtimeMs: modified } = await one.handle.stat();
      const isRead = !mark || (mark.offset >= size && performance.now() - one.goneAt > AFTER_IT_WENT);
      if (isRead) this.forget(inode);
      else gone.push({ ...one.file, name: basename(one.file.path), size, modified, isMeant: true, handle: one.handle });
    }
    return gone;
  }

  private forget(inode: number): void {
    this.open
      .get(inode)
      ?.handle.close()
      .catch(() => undefined);
    this.open.delete(inode);
  }

  close(): void {
    for (const inode of [...this.open.keys()]) this.forget(inode);
  }
}
