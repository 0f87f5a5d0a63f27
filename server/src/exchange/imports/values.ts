/** The values of a file's rows by its plan. Pure. */
import type { ImportPlan } from '@wide-ledger/contract';
import {
  DoubledHours,
  formatInstant,
  isAmbiguousNumber,
  possibleTimes,
  readNumber,
  readQuality,
  shownCell,
  type DoubledHourReader,
  type FileCell,
} from '@wide-ledger/core';
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

type Columns = ImportPlan['columns'];
type Column = Columns[number];

/** Where a plan's columns stand. −1: there is none. */
class Places {
  readonly time: number;
  readonly timeOfDay: number;
  readonly tag: number;

  constructor(private readonly plan: ImportPlan) {
    const at = (role: Column['role']): number => plan.columns.findIndex((column) => column.role === role);
    [this.time, this.timeOfDay, this.tag] = [at('time'), at('timeOfDay'), at('tag')];
  }

  /** Whose row it is, for the order of its times. */
  keyOf(cells: readonly FileCell[]): string {
    return this.tag >= 0 ? shownCell(cells[this.tag] ?? null) : '';
  }

  /** What stands for the time: date and time of day together where they have a column each. */
  shownTime(cells: readonly FileCell[]): string {
    const date = shownCell(cells[this.time] ?? null);
    return this.timeOfDay >= 0 ? `${date} ${shownCell(cells[this.timeOfDay] ?? null)}` : date;
  }

  /** The instants that a row's time can mean, ascending. */
  timesOf(cells: readonly FileCell[]): number[] {
    const format = this.plan.columns[this.time]?.time;
    if (!format) return [];
    const cell = this.timeOfDay >= 0 ? this.shownTime(cells) : (cells[this.time] ?? null);
    return possibleTimes(cell, format, this.plan.zone);
  }
}

/** The walk through a file before its rows are read: which of the hours that the clock shows twice the rows tell apart. */
export class DoubledHourWalk {
  private readonly hours = new DoubledHours();
  private readonly places: Places;

  constructor(plan: ImportPlan) {
    this.places = new Places(plan);
  }

  add(rows: readonly (readonly FileCell[])[]): void {
    for (const cells of rows) this.hours.add(this.places.keyOf(cells), this.places.timesOf(cells));
  }

  reader(): DoubledHourReader {
    return this.hours.reader();
  }
}

/** Whether a plan's times are by a clock that may show an hour twice. */
export const needsWalk = ({ columns }: ImportPlan): boolean =>
  columns.some(({ role, time }) => role === 'time' && (time?.kind === 'clock' || time?.kind === 'serial'));

/** A column with values, and where the one with their quality stands. −1: there is none. */
interface ValueColumn {
  readonly column: Column;
  readonly at: number;
  readonly qualityAt: number;
}

/** Looked up once: a row of a thousand columns would search a thousand times through as many. */
function valueColumns(columns: Columns): ValueColumn[] {
  const qualities = new Map<string | null, number>();
  columns.forEach(({ role, tag = null }, at) => {
    if (role === 'quality' && !qualities.has(tag)) qualities.set(tag, at);
  });
  return columns.flatMap((column, at) =>
    column.role === 'value' ? [{ column, at, qualityAt: qualities.get(column.tag ?? null) ?? -1 }] : [],
  );
}

/** Reads rows one after the other. */
export class RowReader {
  private row = 1;
  private readonly places: Places;
  private readonly valued: readonly ValueColumn[];

  /** @param hours of the walk through the same file; null where its times are instants. */
  constructor(
    private readonly plan: ImportPlan,
    private readonly tagByName: (name: string) => TagRow | undefined,
    private readonly hours: DoubledHourReader | null,
  ) {
    this.places = new Places(plan);
    this.valued = valueColumns(plan.columns);
  }

  /** Passes over the next row: it is not looked at. */
  pass(): void {
    this.row++;
  }

  /** The values of the next row; cells without a value and without a quality give none. */
  read(cells: readonly FileCell[]): FileValue[] {
    const { columns } = this.plan;
    const row = ++this.row;
    const time = this.timeOf(cells);
    return this.valued.flatMap(({ column, at, qualityAt }): FileValue[] => {
      const name = column.tag ?? (this.places.tag >= 0 ? shownCell(cells[this.places.tag] ?? null) : '');
      const quality = qualityAt >= 0 ? (cells[qualityAt] ?? null) : null;
      const cell = cells[at] ?? null;
      if (cell === null && quality === null) return [];
      const refused = (reason: string): FileValue[] => [
        { row, tag: name, shown: shownCell(cell), sample: null, reason },
      ];
      if (typeof time === 'string') return refused(time);
      const status = quality === null ? 0 : readQuality(quality, columns[qualityAt]!.quality ?? 'status');
      if (status === undefined) {
        const undecided = columns[qualityAt]!.quality === 'undecided';
        return refused(
          undecided
            ? `the quality "${shownCell(quality)}" may be a status or a byte. Say which.`
            : `"${shownCell(quality)}" is no quality.`,
        );
      }
      const value = valueOf(cell, this.tagByName(name), column);
      if (value === AMBIGUOUS) {
        return refused(
          `"${shownCell(cell)}" is a number by either decimal mark, and not the same one. Say which mark it has.`,
        );
      }
      const sample = { tag: name, time: formatInstant(time), value, status };
      return [{ row, tag: name, shown: shownCell(cell), sample, reason: null }];
    });
  }

  /** The instant of a row, or the reason why it has none. */
  private timeOf(cells: readonly FileCell[]): number | string {
    const format = this.plan.columns[this.places.time]?.time;
    const shown = this.places.shownTime(cells);
    const times = this.places.timesOf(cells);
    const chosen = this.hours ? this.hours.choose(this.places.keyOf(cells), times) : (times[0] ?? null);
    if (times.length === 0) {
      const undecided = format?.kind === 'clock' && format.order === 'undecided';
      return undecided
        ? `of the date "${shown}" nothing tells day from month. Say which comes first.`
        : `"${shown}" is no time by the chosen format and zone.`;
    }
    if (chosen !== null) return chosen;
    const doubled = format && 'doubled' in format ? format.doubled : undefined;
    if (doubled !== undefined) return doubled === 'first' ? times[0]! : times[1]!;
    return `the clock of ${this.plan.zone} shows "${shown}" twice, and the order of the rows does not tell which is meant. Say the first or the second.`;
  }
}

const AMBIGUOUS = Symbol('a number that can be read in two ways');

/** A cell as the tag's type has it; text where it cannot be read, which is refused with that text. */
function valueOf(cell: FileCell, tag: TagRow | undefined, { decimal = 'point' }: Column): unknown {
  if (cell === null) return null;
  if (tag?.type === 'text') return String(cell);
  if (tag?.type === 'boolean') {
    const text = String(cell).toLowerCase();
    return text === 'true' || text === '1' ? true : text === 'false' || text === '0' ? false : cell;
  }
  if (tag?.type === 'state' && typeof cell === 'string' && !/^-?\d+$/.test(cell)) return cell;
  if (decimal !== 'undecided') return readNumber(cell, decimal) ?? String(cell);
  if (typeof cell === 'string' && isAmbiguousNumber(cell)) return AMBIGUOUS;
  return readNumber(cell, 'point') ?? readNumber(cell, 'comma') ?? String(cell);
}
