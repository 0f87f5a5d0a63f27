/** A folder that is read: whether it may be, and which of its files are meant. */
import type { FilesConnection } from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import { lstat, readdir, realpath, type FileHandle } from 'node:fs/promises';
import { join, sep } from 'node:path';
import { SourceAway, type Surroundings } from '../kind.ts';

/** A file as it lies there. */
export interface Found {
  readonly name: string;
  readonly path: string;
  /** By which the file system knows it, under whatever name. */
  readonly inode: number;
  readonly size: number;
  /** Whether its name is one of those that are read. */
  readonly isMeant: boolean;
  /** When it was written last, in milliseconds since 1970. */
  readonly modified: number;
  /** Where it is no longer in the folder, and was open before: it is read to its end. */
  readonly handle?: FileHandle;
}

const away = (sentence: string, code: string): SourceAway => new SourceAway(sentence, code, Status.BadNotConnected);

/** The folder, as what it really is. @throws SourceAway where it is not there, or not among those that may be read */
export async function openFolder(
  { folder }: Pick<FilesConnection, 'folder'>,
  { readable }: Pick<Surroundings, 'readable'>,
): Promise<string> {
  const real = await realpath(folder).catch((error: NodeJS.ErrnoException) => {
    throw error.code === 'EACCES'
      ? away(`The collector may not open ${folder}. Its machine's administrator has to let it.`, 'EACCES')
      : away(`There is no folder ${folder || '(none is named)'} on the collector's machine.`, error.code ?? 'ENOENT');
  });
  const roots = await Promise.all(readable.map((root) => realpath(root).catch(() => root)));
  if (roots.some((root) => real === root || real.startsWith(root.endsWith(sep) ? root : `${root}${sep}`))) return real;
  throw away(
    `${folder} is not among the folders that this collector may read: ${readable.join(', ')}. Its machine's administrator adds it to WIDE_LEDGER_COLLECTOR_FOLDERS.`,
    'NOT_READABLE',
  );
}

/** The files that lie there, in the order in which they were written last. Links are not followed. @throws SourceAway */
export async function filesIn(folder: string, { names }: Pick<FilesConnection, 'names'>): Promise<Found[]> {
  const entries = await readdir(folder).catch((error: NodeJS.ErrnoException) => {
    throw away(`The folder ${folder} cannot be read (${error.code}).`, error.code ?? 'UNEXPECTED');
  });
  const found: Found[] = [];
  // What programs keep for themselves beside a file that is open begins like this.
  for (const name of entries.filter((one) => !/^(\.|~\$)/.test(one))) {
    const path = join(folder, name);
    // One that was taken away meanwhile is no more.
    const lies = await lstat(path).catch(() => null);
    if (!lies?.isFile()) continue;
    const { ino: inode, size, mtimeMs: modified } = lies;
    found.push({ name, path, inode, size, modified, isMeant: fits(names, name) });
  }
  return found.sort((a, b) => a.modified - b.modified || (a.name < b.name ? -1 : 1));
}

/**
 * Whether a name is one that a pattern means: * is anything, ? a letter, whatever its case. Takes as many steps as both are
 * long together, or their product at worst: a regular expression of many stars could take for ever.
 */
export function fits(names: string, name: string): boolean {
  const [pattern, text] = [names.toLowerCase(), name.toLowerCase()];
  let [at, i] = [0, 0];
  /** The last star, and how much of the text it stands for so far. */
  let [star, taken] = [-1, 0];
  while (i < text.length) {
    if (pattern[at] === '*') [star, taken, at] = [at, i, at + 1];
    else if (at < pattern.length && (pattern[at] === '?' || pattern[at] === text[i])) [at, i] = [at + 1, i + 1];
    else if (star === -1) return false;
    else [at, taken, i] = [star + 1, taken + 1, taken + 1];
  }
  while (pattern[at] === '*') at++;
  return at === pattern.length;
}
