/** Numbers as files write them: with a decimal point or a decimal comma, with or without marks between thousands. */
import type { FileCell } from './times.ts';

export type DecimalMark = 'point' | 'comma';

const PLAIN = /^[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d+)?$/;
const POINT = /^[+-]?\d{1,3}(?:[, '’\u00a0\u202f]\d{3})+(\.\d+)?$/;
const COMMA = /^[+-]?(?:\d+|\d{1,3}(?:[. '’\u00a0\u202f]\d{3})+)(,\d+)?$/;

/** The decimal mark with which all the cells are numbers; undefined when they are none. Cells that are numbers need none. */
export function decimalMarkOf(cells: readonly FileCell[]): DecimalMark | undefined {
  const texts = cells.filter((cell): cell is string => typeof cell === 'string' && cell.trim() !== '');
  if (texts.some((text) => !isNumberWith(text, 'point') && !isNumberWith(text, 'comma'))) return undefined;
  if (texts.every((text) => isNumberWith(text, 'point'))) return 'point';
  return texts.every((text) => isNumberWith(text, 'comma')) ? 'comma' : undefined;
}

function isNumberWith(text: string, mark: DecimalMark): boolean {
  const trimmed = text.trim();
  return mark === 'point' ? PLAIN.test(trimmed) || POINT.test(trimmed) : COMMA.test(trimmed);
}

/** Reads one cell; undefined when it is no number. Digits of whole numbers beyond 2^53 stay as they are: text. */
export function readNumber(cell: FileCell, mark: DecimalMark): number | string | undefined {
  if (typeof cell === 'number') return cell;
  if (typeof cell === 'bigint') {
    return cell >= Number.MIN_SAFE_INTEGER && cell <= Number.MAX_SAFE_INTEGER ? Number(cell) : cell.toString();
  }
  if (typeof cell !== 'string' || !isNumberWith(cell, mark)) return undefined;
  const trimmed = cell.trim();
  const plain = PLAIN.test(trimmed) && mark === 'point' ? trimmed : stripped(trimmed, mark);
  if (/^[+-]?\d+$/.test(plain) && !Number.isSafeInteger(Number(plain))) return plain;
  return Number(plain);
}

const stripped = (text: string, mark: DecimalMark): string =>
  mark === 'point'
    ? text.replace(/[, '’\u00a0\u202f]/g, '')
    : text.replace(/[. '’\u00a0\u202f]/g, '').replace(',', '.');
