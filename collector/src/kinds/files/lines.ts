/** Lines of a file that grows: as far as they are whole, as cells. Pure. */
import type { FilesConnection } from '@wide-ledger/contract';
import { fromWindows1252, type FileCell } from '@wide-ledger/core';
import { parse } from 'csv-parse/sync';

const MARKS = { comma: ',', semicolon: ';', tab: '\t', bar: '|' } as const;
const NEW_LINE = 0x0a;
const QUOTE = 0x22;

/**
 * How many bytes of a piece are whole lines: a line within quotes goes on (RFC 4180, 2.6). A quote begins at the beginning
 * of a cell; anywhere else it is a letter, as in 5" of a pipe.
 */
export function wholeLines(bytes: Uint8Array, separator: string): number {
  const parting = separator.charCodeAt(0);
  let quoted = false;
  let begins = true;
  let end = 0;
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i];
    if (quoted) {
      if (byte !== QUOTE) continue;
      if (bytes[i + 1] === QUOTE) i++;
      else quoted = false;
      begins = false;
    } else if (byte === QUOTE && begins) quoted = true;
    else {
      if (byte === NEW_LINE) end = i + 1;
      begins = byte === NEW_LINE || byte === parting;
    }
  }
  return end;
}

/** How many bytes the first lines of a piece have; null where it does not hold so many. */
export function firstLines(bytes: Uint8Array, lines: number): number | null {
  let at = 0;
  for (let n = 0; n < lines; n++) {
    at = bytes.indexOf(NEW_LINE, at) + 1;
    if (at === 0) return null;
  }
  return at;
}

/** How the letters of a file may be written. */
export type Letters = 'utf-8' | 'windows-1252' | 'utf-16le' | 'utf-16be';

/** Bytes of what a letter is made of. */
export const widthOf = (letters: Letters): 1 | 2 => (letters.startsWith('utf-16') ? 2 : 1);

/** The same with one byte for each two of UTF-16, that line ends and quotes are found alike; what is no ASCII is 0x80. */
export function asSingleBytes(bytes: Uint8Array, letters: Letters): Uint8Array {
  if (widthOf(letters) === 1) return bytes;
  const low = letters === 'utf-16le' ? 0 : 1;
  return Uint8Array.from({ length: bytes.length >> 1 }, (_, i) => {
    const byte = bytes[2 * i + low]!;
    return bytes[2 * i + 1 - low] === 0 && byte < 0x80 ? byte : 0x80;
  });
}

/** Bytes as text. */
export const textOf = (bytes: Uint8Array, letters: Letters): string =>
  letters === 'windows-1252' ? fromWindows1252(bytes) : new TextDecoder(letters).decode(bytes);

/** Lines that a cell in quotes may go on for, and bytes: beyond them the quote is taken for one that nothing ends. */
const QUOTED = { lines: 20, bytes: 64 * 1024 };

/**
 * How many bytes have to be passed over, where no line of a piece is whole since a quote in it has no end: its first line.
 * 0 where its end may still be written. @param full whether more is there than the piece holds
 */
export function strayLine(bytes: Uint8Array, full: boolean): number {
  let lines = 0;
  for (const byte of bytes) if (byte === NEW_LINE) lines++;
  if (lines === 0) return full ? bytes.length : 0;
  return lines > QUOTED.lines || bytes.length > QUOTED.bytes ? bytes.indexOf(NEW_LINE) + 1 : 0;
}

/** How the letters of a file are written: UTF-16 if it begins with its mark, UTF-8 if its beginning is that, else Windows-1252. */
export function lettersOf(bytes: Uint8Array): Letters {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  try {
    // A letter may be cut off at the end of what is at hand.
    new TextDecoder('utf-8', { fatal: true }).decode(bytes, { stream: true });
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

/** The mark between cells: as it is set, or the one that the first line has most of, outside quotes. */
export function separatorOf(line: string, { separator }: Pick<FilesConnection, 'separator'>): string {
  if (separator !== 'by itself') return MARKS[separator];
  const bare = line.replace(/"[^"]*"/g, '');
  const count = (mark: string): number => bare.split(mark).length;
  return Object.values(MARKS).reduce((best, mark) => (count(mark) > count(best) ? mark : best));
}

/** Whole lines as rows of cells; an empty cell is none. @throws Error where quotes are set so that nothing can be told apart. */
export function cellsOf(text: string, separator: string): FileCell[][] {
  const rows = parse(text, {
    delimiter: separator,
    bom: true,
    relax_column_count: true,
    skip_empty_lines: true,
    relax_quotes: true,
  });
  return rows.map((row) => row.map((cell) => (cell === '' ? null : cell)));
}

/** Names of columns: by a line that says them, or by their number. */
export const columnNames = (cells: readonly FileCell[], header: boolean): string[] =>
  cells.map((cell, i) => (header ? String(cell ?? '').trim() : `column ${i + 1}`));
