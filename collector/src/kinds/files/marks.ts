/** What a file is known by, that nothing of it is read twice or missed: also under another name, and when it is written anew. Pure. */
import type { Found } from './folder.ts';
import type { Letters } from './lines.ts';

/** How far a file is read, and by what it is known again. */
export interface FileMark {
  readonly inode: number;
  /** Bytes that are read. */
  readonly offset: number;
  /** Bytes up to where its rows begin. */
  readonly head: number;
  /** How many bytes from the beginning were looked at for its print: as many as there were, up to a kilobyte. */
  readonly printed: number;
  /** Of its beginning. */
  readonly print: string;
  /** Of the last bytes before where reading ended: what was written anew in place differs there. */
  readonly tail: string;
  readonly letters: Letters;
  readonly separator: string;
  readonly names: readonly string[];
  /** The last row's time in microseconds. */
  readonly time: number | null;
  /** When it was written last as it was looked at, and how long it was then. */
  readonly modified: number;
  readonly size: number;
}

/** Bytes of a file's beginning by which it is known. */
export const PRINTED = 1024;
/** Bytes before where reading ended by which it is seen that nothing was written anew. */
export const TAIL = 64;

/** What is looked at in a file to know it: prints of as much of its beginning as is asked for. */
export type PrintOf = (file: Found, bytes: number) => Promise<string>;

/**
 * Which mark each file has: by the file system's own number if the beginning is the same, else by a beginning that lies
 * under another number now, as where a log was copied and emptied. A file without one is new, or was written anew.
 */
export async function marked(
  files: readonly Found[],
  marks: readonly FileMark[],
  printOf: PrintOf,
): Promise<Map<Found, FileMark>> {
  const left = new Set(marks);
  const known = new Map<Found, FileMark>();
  const take = async (file: Found, mark: FileMark): Promise<boolean> => {
    if (!left.has(mark) || file.size < mark.printed || (await printOf(file, mark.printed)) !== mark.print) return false;
    left.delete(mark);
    known.set(file, mark);
    return true;
  };
  for (const file of files) {
    const mark = marks.find(({ inode }) => inode === file.inode);
    if (mark && !isTouched(file, mark)) {
      left.delete(mark);
      known.set(file, mark);
    } else if (mark) await take(file, mark);
  }
  // Beginnings of a header alone are those of any file of its kind.
  const rotated = [...left].filter(({ printed, head }) => printed > head);
  for (const file of files) {
    if (known.has(file)) continue;
    for (const mark of rotated) if (file.size >= mark.offset && (await take(file, mark))) break;
  }
  return known;
}

/** Whether a file was written since it was looked at. */
export const isTouched = (file: Found, { size, modified }: FileMark): boolean =>
  file.size !== size || file.modified !== modified;
