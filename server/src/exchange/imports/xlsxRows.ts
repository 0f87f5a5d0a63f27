import { cellsUnder, workbookCells, type FileCell } from '@wide-ledger/core';
import { checkUnpacked } from './limits.ts';
import type { NamedRows } from './namedRows.ts';

/** A sheet by its name and its head. */
interface Sheet {
  readonly name: string;
  readonly head: readonly string[];
}

/**
 * Rows of a workbook: of the sheet that is named, or of its only one, or of all of them where they have the same head;
 * then the name of the sheet stands in a column of its own, since it may be the tag. Else of the first one.
 */
export async function xlsxRows(path: string, wanted: string | null): Promise<NamedRows> {
  await checkUnpacked(path);
  const sheets = await sheetsOf(path);
  if (sheets.length === 0) throw new RangeError('The workbook has no sheet with rows');
  const one = wanted === null ? sheets[0]! : sheets.find(({ name }) => name === wanted);
  if (!one)
    throw new RangeError(`The workbook has no sheet "${wanted}". It has ${sheets.map(({ name }) => name).join(', ')}`);
  const names = sheets.map(({ name }) => name);
  const alike = sheets.every(({ head }) => head.join('\0') === one.head.join('\0'));
  if (wanted === null && sheets.length > 1 && alike) {
    return {
      rows: sheetRows(path, null),
      sentence: `All ${sheets.length} sheets of the workbook, which have the same columns.`,
      sheets: names,
    };
  }
  const others = names.filter((name) => name !== one.name);
  const sentence =
    others.length === 0 ? '' : `The sheet "${one.name}". Not read: ${others.map((name) => `"${name}"`).join(', ')}.`;
  return { rows: sheetRows(path, one.name), sentence, sheets: names };
}

type Reader = AsyncIterable<AsyncIterable<{ readonly values: unknown }> & { readonly name?: string }>;

async function openBook(path: string): Promise<Reader> {
  // Loaded when there is a workbook: it takes a third of a second.
  const { default: exceljs } = await import('exceljs');
  return new exceljs.stream.xlsx.WorkbookReader(path, {
    worksheets: 'emit',
    sharedStrings: 'cache',
    styles: 'cache',
  });
}

async function sheetsOf(path: string): Promise<Sheet[]> {
  const sheets: Sheet[] = [];
  for await (const sheet of await openBook(path)) {
    let head: string[] | null = null;
    // Every row is passed by: the next sheet comes after the last of them.
    for await (const row of sheet) head ??= namesOf(row.values);
    if (head) sheets.push({ name: sheet.name ?? `Sheet ${sheets.length + 1}`, head });
  }
  return sheets;
}

const namesOf = (values: unknown): string[] => workbookCells(values).map((cell) => String(cell ?? '').trim());

/** @param wanted null: all sheets, with their names in a column behind the others. */
async function* sheetRows(path: string, wanted: string | null): AsyncGenerator<FileCell[]> {
  let named = false;
  for await (const sheet of await openBook(path)) {
    let head: string[] | null = null;
    for await (const row of sheet) {
      if (wanted !== null && sheet.name !== wanted) continue;
      if (head === null) {
        head = namesOf(row.values);
        if (!named) yield wanted === null ? [...head, 'sheet'] : head;
        named = true;
        continue;
      }
      const read = cellsUnder(head, workbookCells(row.values));
      yield wanted === null ? [...read, sheet.name ?? null] : read;
    }
  }
}
