/** Register maps as CSV (RFC 4180), and as spreadsheets of other languages write it. */
import { REGISTER_MAP_HEADS, readRegisterMap, registerMapLine, type Body, type RegisterMap } from '@wide-ledger/core';
import { parse } from 'csv-parse/sync';
import { stringify } from 'csv-stringify/sync';

const MARKS = [',', ';', '\t'];

/** Tags as a map. */
export const mapText = (tags: readonly Body[]): string =>
  stringify([[...REGISTER_MAP_HEADS], ...tags.map(registerMapLine)], { record_delimiter: 'windows' });

/** Where fields are parted by semicolons, numbers have commas. */
export function readMapText(text: string): RegisterMap {
  const [first = ''] = text.trimStart().split(/\r\n|\r|\n/, 1);
  const count = (mark: string): number => first.split(mark).length;
  const delimiter = MARKS.reduce((best, mark) => (count(mark) > count(best) ? mark : best));
  try {
    const rows = parse(text, { delimiter, bom: true, relax_column_count: true, skip_empty_lines: false });
    return readRegisterMap(rows, delimiter === ';');
  } catch (error) {
    return { lines: [], strange: [], sentence: `The file is no CSV: ${(error as Error).message}.` };
  }
}
