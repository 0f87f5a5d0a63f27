/** The values of a file's rows by its plan. Pure. */
import type { ImportPlan } from '@wide-ledger/contract';
import { formatInstant, parseStatus, readNumber, readTime, type FileCell } from '@wide-ledger/core';
import type { TagRow } from '../../configuration/index.ts';

/** One value of a file: as the call for samples takes it, or with the reason why it cannot be one. */
export interface FileValue {
  readonly row: number;
  readonly tag: string;
  readonly shown: string;
  readonly sample: {
    readonly tag: string;
    readonly time: string;
    readonly value: unknown;
    readonly status: number;
  } | null;
  readonly reason: string | null;
}

const shownOf = (cell: FileCell): string => (cell instanceof Date ? cell.toISOString() : String(cell ?? ''));

/** A cell as the tag's type has it; text where it cannot be read, which is refused with that text. */
function valueOf(cell: FileCell, tag: TagRow | undefined, decimal: 'point' | 'comma'): unknown {
  if (cell === null || cell instanceof Date) return cell === null ? null : cell.toISOString();
  if (tag?.type === 'text') return String(cell);
  if (tag?.type === 'boolean') {
    const text = String(cell).toLowerCase();
    return text === 'true' || text === '1' ? true : text === 'false' || text === '0' ? false : cell;
  }
  if (tag?.type === 'state' && typeof cell === 'string' && !/^-?\d+$/.test(cell)) return cell;
  return readNumber(cell, decimal) ?? String(cell);
}

/** Reads rows one after the other; it remembers the last time, for an hour that the clock shows twice. */
export class RowReader {
  private before = -Infinity;
  private row = 1;

  constructor(
    private readonly plan: ImportPlan,
    private readonly tagByName: (name: string) => TagRow | undefined,
  ) {}

  /** The values of the next row; cells without a value and without a quality give none. */
  read(cells: readonly FileCell[]): FileValue[] {
    const { columns, zone } = this.plan;
    const row = ++this.row;
    const timeAt = columns.findIndex(({ role }) => role === 'time');
    const tagAt = columns.findIndex(({ role }) => role === 'tag');
    const { time: format } = columns[timeAt] ?? {};
    const micros = format ? readTime(cells[timeAt] ?? null, format, zone, this.before) : undefined;
    if (micros !== undefined) this.before = micros;
    return columns.flatMap((column, i): FileValue[] => {
      if (column.role !== 'value') return [];
      const name = column.tag ?? (tagAt >= 0 ? shownOf(cells[tagAt] ?? null) : '');
      const qualityAt = columns.findIndex(
        ({ role, tag }) => role === 'quality' && (tag ?? null) === (column.tag ?? null),
      );
      const quality = qualityAt >= 0 ? (cells[qualityAt] ?? null) : null;
      const cell = cells[i] ?? null;
      if (cell === null && quality === null) return [];
      const refused = (reason: string): FileValue[] => [{ row, tag: name, shown: shownOf(cell), sample: null, reason }];
      if (micros === undefined) {
        return refused(`Row ${row}: "${shownOf(cells[timeAt] ?? null)}" is no time by the chosen format and zone.`);
      }
      const status = quality === null ? 0 : statusOf(quality);
      if (status === undefined) return refused(`Row ${row}: "${shownOf(quality)}" is no quality.`);
      const value = valueOf(cell, this.tagByName(name), column.decimal ?? 'point');
      return [
        {
          row,
          tag: name,
          shown: shownOf(cell),
          sample: { tag: name, time: formatInstant(micros), value, status },
          reason: null,
        },
      ];
    });
  }
}

/** A quality by its name, with or without the words that follow it, or by its number. */
function statusOf(cell: FileCell): number | undefined {
  if (typeof cell === 'number') return parseStatus(cell);
  const text = shownOf(cell).trim();
  return /^\d+$/.test(text) ? parseStatus(Number(text)) : parseStatus(text.split(',')[0]!);
}
