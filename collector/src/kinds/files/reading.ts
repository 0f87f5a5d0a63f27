/** Reading pieces of files: their beginnings, and what was written since. */
import type { FilesConnection } from '@wide-ledger/contract';
import { createHash } from 'node:crypto';
import { constants, open, type FileHandle } from 'node:fs/promises';
import {
  asSingleBytes,
  cellsOf,
  columnNames,
  firstLines,
  lettersOf,
  separatorOf,
  strayLine,
  textOf,
  wholeLines,
  widthOf,
} from './lines.ts';
import { PRINTED, TAIL, type FileMark } from './marks.ts';
import type { Found } from './folder.ts';

/** Bytes of a file that are read at a time; no line is longer. */
const PIECE = 1_000_000;

const printed = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex').slice(0, 24);

/** What can be read of a file is not this: told for people, and the file is left alone until it is written again. */
export class Unreadable extends Error {}

/** Under its name lies another file than when the folder was looked through: it has to be looked through again. */
export class Replaced extends Error {}

/**
 * Opens the very file that was found. What was a file when it was looked at is not followed where it has become a link.
 * @throws Replaced
 */
export async function openFile(file: Found): Promise<FileHandle> {
  const handle = await open(file.path, constants.O_RDONLY | constants.O_NOFOLLOW);
  const { ino } = await handle.stat();
  if (ino === file.inode) return handle;
  await handle.close();
  throw new Replaced(`${file.name} was replaced.`);
}

async function whileOpen<Result>(file: Found, work: (handle: FileHandle) => Promise<Result>): Promise<Result> {
  if (file.handle) return work(file.handle);
  const handle = await openFile(file);
  try {
    return await work(handle);
  } finally {
    await handle.close();
  }
}

async function bytesAt(handle: FileHandle, from: number, length: number): Promise<Buffer> {
  const { buffer, bytesRead } = await handle.read(Buffer.alloc(length), 0, length, from);
  return buffer.subarray(0, bytesRead);
}

/** The print of a file's beginning. */
export const printOf = (file: Found, bytes: number): Promise<string> =>
  whileOpen(file, async (handle) => printed(await bytesAt(handle, 0, bytes)));

/** The mark of a file that nothing is read of; null while its columns are not there yet. @throws Unreadable */
export const newMark = (file: Found, connection: FilesConnection): Promise<FileMark | null> =>
  whileOpen(file, async (handle) => {
    const begin = await bytesAt(handle, 0, PIECE);
    const letters = lettersOf(begin);
    const single = asSingleBytes(begin, letters);
    const before = firstLines(single, connection.linesBefore);
    const first = before === null ? null : firstLines(single.subarray(before), 1);
    if (before === null || first === null) return null;
    const width = widthOf(letters);
    const line = textOf(begin.subarray(before * width, (before + first) * width), letters);
    const separator = separatorOf(line, connection);
    const head = width * (connection.header ? before + first : before);
    return {
      inode: file.inode,
      offset: head,
      head,
      ...printsAt(begin, Math.min(PRINTED, begin.length), head),
      letters,
      separator,
      names: columnNames(cellsOf(line, separator)[0] ?? [], connection.header),
      time: null,
      modified: 0,
      size: 0,
    };
  });

const printsAt = (begin: Uint8Array, bytes: number, offset: number): Pick<FileMark, 'printed' | 'print' | 'tail'> => ({
  printed: bytes,
  print: printed(begin.subarray(0, bytes)),
  tail: printed(begin.subarray(Math.max(0, offset - TAIL), offset)),
});

/** A mark at the end of what is whole in a file. */
export const markAtEnd = (file: Found, mark: FileMark): Promise<FileMark> =>
  whileOpen(file, async (handle) => {
    const width = widthOf(mark.letters);
    const passed = Math.max(0, file.size - PIECE - mark.offset);
    const from = mark.offset + passed - (passed % width);
    const last = asSingleBytes(await bytesAt(handle, from, file.size - from), mark.letters);
    return withMark(handle, file, { ...mark, offset: from + width * (last.lastIndexOf(0x0a) + 1) });
  });

async function withMark(handle: FileHandle, file: Found, mark: FileMark): Promise<FileMark> {
  const { offset } = mark;
  const bytes = Math.max(mark.printed, Math.min(PRINTED, offset));
  const [begin, tail] = [
    await bytesAt(handle, 0, bytes),
    await bytesAt(handle, Math.max(0, offset - TAIL), Math.min(TAIL, offset)),
  ];
  const { inode, size, modified } = file;
  return { ...mark, inode, size, modified, printed: bytes, print: printed(begin), tail: printed(tail) };
}

/** What was written to a file since, as far as its lines are whole. */
export interface Piece {
  readonly text: string;
  /** How far it is read with this; as far as it was, where there is nothing new. */
  readonly mark: FileMark;
  readonly moved: boolean;
  /** What had to be passed over, for people; null where nothing was. */
  readonly trouble: string | null;
}

const LONGEST_SHOWN = 80;

/**
 * Reads on in a file. Null: what is before where reading ended is not what it was, so it was written anew.
 * @param unended when the last line is whole though nothing ends it: that nothing was written since, in milliseconds since
 *   1970; null: never, since a logger may stop in the middle of a line.
 * @throws Unreadable, Replaced
 */
export const readOn = (file: Found, mark: FileMark, unended: number | null): Promise<Piece | null> =>
  whileOpen(file, async (handle) => {
    const { offset } = mark;
    const before = await bytesAt(handle, Math.max(0, offset - TAIL), Math.min(TAIL, offset));
    if (file.size < offset || printed(before) !== mark.tail) return null;
    const bytes = await bytesAt(handle, offset, PIECE);
    const isOver = unended !== null && bytes.length < PIECE && file.modified < unended;
    const width = widthOf(mark.letters);
    const whole = isOver
      ? bytes.length - (bytes.length % width)
      : width * wholeLines(asSingleBytes(bytes, mark.letters), mark.separator);
    const passed = whole > 0 ? 0 : width * strayLine(asSingleBytes(bytes, mark.letters), bytes.length === PIECE);
    const at = await withMark(handle, file, { ...mark, offset: offset + whole + passed });
    if (passed === 0)
      return { text: textOf(bytes.subarray(0, whole), mark.letters), mark: at, moved: whole > 0, trouble: null };
    const begin = textOf(bytes.subarray(0, Math.min(passed, width * LONGEST_SHOWN)), mark.letters).trimEnd();
    const trouble = `${file.name}: the line that begins at byte ${offset} has an opening quote without a closing one, or is longer than ${PIECE} bytes. It is skipped: ${begin}`;
    return { text: '', mark: at, moved: true, trouble };
  });
