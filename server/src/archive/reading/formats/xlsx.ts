import { formatInstant } from '@wide-ledger/core';
import type exceljs from 'exceljs';
import { once, type EventEmitter } from 'node:events';
import { PassThrough } from 'node:stream';
import type { Answer, Cell, Chunk, Column, Row } from './table.ts';

/** What one sheet of the format holds, less its header. */
const SHEET_ROWS = 1_048_575;
const LONGEST_SHEET_NAME = 31;

/**
 * A workbook, written while it is read. Times are date cells in UTC; one with microseconds, which the format has not, is
 * text, and so are NaN and infinities. A table longer than a sheet goes on in the next one.
 */
export async function* writeXlsx(answer: Answer): AsyncGenerator<Chunk> {
  const out = new PassThrough({ highWaterMark: 256 * 1024 });
  const writing = fill(out, answer);
  // The error of the writing side ends the reading side, which tells.
  writing.catch((error: Error) => out.destroy(error));
  for await (const chunk of out) yield chunk as Uint8Array;
  await writing;
}

/** A stream of whatever age: those inside the library are too old to have `writableNeedDrain`. */
interface Sink extends EventEmitter {
  readonly _writableState: { readonly needDrain: boolean };
}

/**
 * Waits until the rows written so far were compressed and taken. The library itself hands them on without asking, so
 * that a long table would pile up in memory: its sheets know where they are piped to.
 * @throws AbortError when nobody takes them any more.
 */
async function untilTaken(sheet: exceljs.Worksheet, out: PassThrough, signal: AbortSignal): Promise<void> {
  const { pipes } = (sheet as unknown as { stream: { pipes: Sink[] } }).stream;
  for (const sink of pipes) {
    signal.throwIfAborted();
    if (sink._writableState.needDrain) await once(sink, 'drain', { signal });
  }
  if (out.writableNeedDrain) await once(out, 'drain', { signal });
}

async function fill(out: PassThrough, { tables }: Answer): Promise<void> {
  const left = new AbortController();
  out.once('close', () => left.abort());
  // Loaded when somebody wants a workbook: it takes a third of a second.
  const { default: library } = await import('exceljs');
  const book = new library.stream.xlsx.WorkbookWriter({ stream: out, useStyles: true });
  const names = new Set<string>();
  for (const { name, columns, batches } of tables) {
    let sheet = addSheet(book, names, name, columns);
    let rows = 0;
    for await (const batch of batches) {
      for (const row of batch) {
        if (rows === SHEET_ROWS) {
          sheet.commit();
          sheet = addSheet(book, names, name, columns);
          rows = 0;
        }
        sheet.addRow(cellsOf(columns, row)).commit();
        rows++;
      }
      await untilTaken(sheet, out, left.signal);
    }
    sheet.commit();
  }
  await book.commit();
}

function addSheet(
  book: exceljs.stream.xlsx.WorkbookWriter,
  names: Set<string>,
  wanted: string,
  columns: readonly Column[],
): exceljs.Worksheet {
  const base = wanted.replace(/[*?:\\/[\]]/g, '_').slice(0, LONGEST_SHEET_NAME) || 'Sheet';
  let name = base;
  for (let part = 2; names.has(name); part++) name = `${base.slice(0, LONGEST_SHEET_NAME - 5)} (${part})`;
  names.add(name);
  const sheet = book.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.columns = columns.map(({ name: header, kind }) => ({
    header: kind === 'time' ? `${header} (UTC)` : header,
    width: kind === 'time' ? 24 : 16,
    ...(kind === 'time' ? { style: { numFmt: 'yyyy-mm-dd hh:mm:ss.000' } } : {}),
  }));
  return sheet;
}

const cellsOf = (columns: readonly Column[], row: Row): (Cell | Date)[] =>
  row.map((cell, i) => {
    if (columns[i]!.kind !== 'time' || typeof cell !== 'number') return cell;
    return cell % 1000 === 0 ? new Date(cell / 1000) : formatInstant(cell);
  });
