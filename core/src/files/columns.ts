/** What the columns of a file are taken for, in words that a person can check before anything is archived. */
import { parseStatus } from '../status/codes.ts';
import { decimalMarkOf, type DecimalMark } from './numbers.ts';
import { describeTimeFormat, isAmbiguous, timeFormatOf, type FileCell, type TimeFormat } from './times.ts';

export const COLUMN_ROLES = ['time', 'tag', 'value', 'quality', 'ignored'] as const;
export type ColumnRole = (typeof COLUMN_ROLES)[number];

/** How one column is read. */
export interface ColumnPlan {
  readonly name: string;
  readonly role: ColumnRole;
  /** Of a time column. */
  readonly time?: TimeFormat;
  /** Of a value column with numbers. */
  readonly decimal?: DecimalMark;
  /** Of a value or quality column: the tag whose values these are; null where a tag column names it. */
  readonly tag?: string | null;
}

/** A plan for one column with what it is based on. */
export interface UnderstoodColumn extends ColumnPlan {
  readonly sentence: string;
  /** Something a person has to decide. */
  readonly doubtful: boolean;
  readonly examples: string[];
}

const QUALITY_NAME = /quality|status|güte/i;
const TAG_NAME = /^(tag|name|point|signal)$/i;
const VALUE_NAME = /^(value|wert)$/i;

/**
 * Understands columns by their names and their first rows.
 * @param tagNamed the tag whose name a text is, or begins with before a word such as "quality"; undefined for none.
 * @param zone by whose clock times without an offset are read.
 */
export function understandColumns(
  names: readonly string[],
  rows: readonly (readonly FileCell[])[],
  tagNamed: (text: string) => string | undefined,
  zone: string,
): UnderstoodColumn[] {
  const columns = names.map((name, i) => ({ name, cells: rows.map((row) => row[i] ?? null) }));
  const timeAt = columns.findIndex(({ cells }) => timeFormatOf(cells) !== undefined);
  const tagAt = columns.findIndex(
    ({ name, cells }, i) => i !== timeAt && (TAG_NAME.test(name) || allTags(cells, tagNamed)),
  );
  return columns.map(({ name, cells }, i): UnderstoodColumn => {
    const examples = cells
      .filter((cell) => cell !== null && cell !== '')
      .slice(0, 3)
      .map((cell) => (cell instanceof Date ? cell.toISOString() : String(cell)));
    const as = (plan: Omit<ColumnPlan, 'name'>, sentence: string, doubtful = false): UnderstoodColumn => ({
      name,
      ...plan,
      sentence,
      doubtful,
      examples,
    });
    if (i === timeAt) {
      const time = timeFormatOf(cells)!;
      const doubtful = isAmbiguous(time, cells);
      const other = doubtful ? ' Day and month could also be the other way round.' : '';
      return as({ role: 'time', time }, `Time: ${describeTimeFormat(time, zone)}.${other}`, doubtful);
    }
    if (i === tagAt) return as({ role: 'tag' }, 'Names the tag of each row.');
    const tag = tagAt >= 0 ? null : (tagNamed(name) ?? null);
    const whose = tag ?? (tagAt >= 0 ? 'the row’s tag' : null);
    if (QUALITY_NAME.test(name) || (examples.length > 0 && examples.every((text) => parseStatus(text) !== undefined))) {
      if (whose === null) return as({ role: 'ignored' }, 'A quality, but of which tag is not said.', true);
      return as({ role: 'quality', tag }, `Quality of ${whose}.`);
    }
    if (tagAt >= 0 && !VALUE_NAME.test(name) && columns.some((one) => VALUE_NAME.test(one.name))) {
      return as({ role: 'ignored' }, 'Not needed.');
    }
    if (whose === null) return as({ role: 'ignored' }, `No tag is named ${name}.`, true);
    const decimal = decimalMarkOf(cells);
    if (decimal === undefined) return as({ role: 'value', tag }, `Values of ${whose}: text.`);
    const mark = decimal === 'comma' ? ' with a decimal comma' : '';
    return as({ role: 'value', tag, decimal }, `Values of ${whose}: numbers${mark}.`);
  });
}

function allTags(cells: readonly FileCell[], tagNamed: (text: string) => string | undefined): boolean {
  const given = cells.filter((cell) => cell !== null && cell !== '');
  return given.length > 0 && given.every((cell) => typeof cell === 'string' && tagNamed(cell) !== undefined);
}
