/** Numbers as files write them: with a decimal point or a decimal comma, with or without marks between thousands. */
import type { FileCell } from './cells.ts';

/** What stands between the whole and the fraction. */
export type DecimalMark = 'point' | 'comma';

const PLAIN = /^[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d+)?$/;
/** Thousands have no zero before them: 0,345 is no grouped number. */
const POINT = /^[+-]?[1-9]\d{0,2}(?:[, '’\u00a0\u202f]\d{3})+(\.\d+)?$/;
const COMMA = /^[+-]?(?:\d+|[1-9]\d{0,2}(?:[. '’\u00a0\u202f]\d{3})+)(,\d+)?$/;

/** Looks at all the cells of a column for the mark with which they are numbers. */
export class NumberSurvey {
  private texts = 0;
  private points = 0;
  private commas = 0;
  private differing = 0;
  private others = 0;

  add(cell: FileCell): void {
    if (typeof cell === 'boolean') this.others++;
    if (typeof cell !== 'string' || cell.trim() === '') return;
    this.texts++;
    const [point, comma] = [isNumberWith(cell, 'point'), isNumberWith(cell, 'comma')];
    if (point) this.points++;
    if (comma) this.commas++;
    if (!point && !comma) this.others++;
    if (point && comma && isAmbiguousNumber(cell)) this.differing++;
  }

  /** Undefined: no numbers; undecided: either mark makes numbers of all the cells, but not the same ones. */
  get mark(): DecimalMark | 'undecided' | undefined {
    if (this.others > 0) return undefined;
    const [allPoint, allComma] = [this.points === this.texts, this.commas === this.texts];
    if (allPoint && allComma) return this.differing > 0 ? 'undecided' : 'point';
    return allPoint ? 'point' : allComma ? 'comma' : undefined;
  }
}

/** The decimal mark with which all the cells are numbers. Cells that are numbers already need none. */
export function decimalMarkOf(cells: readonly FileCell[]): DecimalMark | 'undecided' | undefined {
  const survey = new NumberSurvey();
  for (const cell of cells) survey.add(cell);
  return survey.mark;
}

function isNumberWith(text: string, mark: DecimalMark): boolean {
  const trimmed = text.trim();
  return mark === 'point' ? PLAIN.test(trimmed) || POINT.test(trimmed) : COMMA.test(trimmed);
}

/** Whether a text is a number by either mark, and not the same one: 50,125 is fifty and an eighth, or fifty thousand. */
export const isAmbiguousNumber = (text: string): boolean =>
  isNumberWith(text, 'point') && isNumberWith(text, 'comma') && readNumber(text, 'point') !== readNumber(text, 'comma');

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
