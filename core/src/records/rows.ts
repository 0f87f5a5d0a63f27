/**
 * From a row that somebody else wrote down to values of tags: in a log, a sheet or a table, each value in a column of its
 * own or in a row of its own. What cannot be a value is told with the reason, and loses nothing of the others.
 */
import { isGiven, shownCell, type FileCell } from '../files/cells.ts';
import { clockInstants, type DateOrder } from '../files/clock.ts';
import { isAmbiguousNumber, readNumber, type DecimalMark } from '../files/numbers.ts';
import { readQuality, type QualityFormat } from '../files/qualities.ts';
import { instantSaid, statusSaid, type MessageRow } from '../messages/mapping.ts';
import { Status } from '../status/codes.ts';
import { chosenInstant } from './doubledHour.ts';

/** How a record is laid out. Columns by their names; an empty one: there is none. */
export interface RecordTerms {
  readonly time: string;
  /** Names whose value a row holds; empty: each value has a column of its own. */
  readonly series: string;
  /** Where each value has a row of its own: what holds it. */
  readonly value: string;
  readonly status: string;
  /** What the status column holds: a name, a number or a usual word; or a byte, in which 0 is Bad. */
  readonly statusIs: Exclude<QualityFormat, 'undecided'>;
  /** By whose clock times without an offset are told. */
  readonly zone: string;
  readonly dates: Exclude<DateOrder, 'undecided'>;
  readonly decimal: DecimalMark;
}

/** A tag, and the series that it takes: a column's name, or what the rows of its values are named by. */
export interface RecordSeries<Tag> {
  readonly tag: Tag;
  readonly series: string;
  /** Whether it keeps text: what looks like a number stays as it is written. */
  readonly isText: boolean;
}

/** What a row came to. */
export interface RecordRow<Tag> {
  readonly values: readonly MessageRow<Tag>[];
  /** Microseconds; null where the row does not say: none of its values can be archived then. */
  readonly time: number | null;
  /** Why the row as a whole came to nothing. */
  readonly trouble: string | null;
}

/** Reads rows of one record, in their order. */
export class RecordReader<Tag> {
  private readonly time: number;
  private readonly status: number;
  private readonly naming: number;
  private readonly value: number;
  /** In the columns' order; with a naming column by what it holds. */
  private readonly byColumn: readonly (readonly [at: number, taken: RecordSeries<Tag>])[];
  private readonly byName = new Map<string, RecordSeries<Tag>[]>();

  /**
   * @param names of the columns. @param last the time of the row before the first, in microseconds; null: there is none.
   */
  constructor(
    names: readonly string[],
    private readonly terms: RecordTerms,
    taken: readonly RecordSeries<Tag>[],
    public last: number | null = null,
  ) {
    const at = (name: string): number => (name === '' ? -1 : names.indexOf(name));
    [this.time, this.status, this.naming] = [at(terms.time), at(terms.status), at(terms.series)];
    this.value = this.naming >= 0 ? at(terms.value) : -1;
    this.byColumn = terms.series === '' ? taken.map((one) => [names.indexOf(one.series), one] as const) : [];
    for (const one of taken) this.byName.set(one.series, [...(this.byName.get(one.series) ?? []), one]);
  }

  /** What keeps all rows from being read, as a sentence: a column is not there. */
  static problemOf(names: readonly string[], { time, series, value, status }: RecordTerms): string | null {
    const wanted = series === '' ? [time, status] : [time, series, value, status];
    const missing = wanted.filter((name) => name !== '' && !names.includes(name));
    if (time === '') return 'It is not said which column holds the time.';
    if (missing.length === 0) return null;
    const there = names.slice(0, 20).join(', ');
    return `There is no column ${missing.join(', ')}. There are: ${there}${names.length > 20 ? ', …' : ''}.`;
  }

  /** The values of the next row. Cells without anything give none. */
  read(cells: readonly FileCell[]): RecordRow<Tag> {
    const given = this.givenBy(cells);
    const time = this.timeOf(cells[this.time] ?? null);
    if (typeof time === 'string') return { values: [], time: null, trouble: given.length > 0 ? time : null };
    this.last = time;
    const status = this.statusOf(cells);
    return { values: given.map(([taken, cell]) => rowOf(taken, cell, time, status, this.terms)), time, trouble: null };
  }

  private givenBy(cells: readonly FileCell[]): (readonly [RecordSeries<Tag>, FileCell])[] {
    if (this.naming >= 0) {
      const cell = cells[this.value] ?? null;
      // An empty value whose status says why is one that is missing.
      if (!isGiven(cell) && !isGiven(cells[this.status] ?? null)) return [];
      return (this.byName.get(shownCell(cells[this.naming] ?? null)) ?? []).map((taken) => [taken, cell]);
    }
    return this.byColumn.flatMap(([at, taken]) => (isGiven(cells[at] ?? null) ? [[taken, cells[at]!] as const] : []));
  }

  /** The instant of a row in microseconds, or why it has none. */
  private timeOf(cell: FileCell): number | string {
    const { zone, dates } = this.terms;
    if (!isGiven(cell)) return 'A row says no time.';
    const said = instantSaid(typeof cell === 'bigint' ? Number(cell) : cell);
    if (said !== undefined) return said;
    const chosen = chosenInstant(clockInstants(shownCell(cell), dates, zone), this.last, this.naming < 0);
    return chosen ?? `"${shownCell(cell).slice(0, 40)}" is no time by the order and the zone that are set (${zone}).`;
  }

  private statusOf(cells: readonly FileCell[]): Said {
    const cell = cells[this.status] ?? null;
    if (!isGiven(cell)) return GOOD;
    const is =
      readQuality(cell, this.terms.statusIs) ?? (this.terms.statusIs === 'status' ? statusSaid(cell) : undefined);
    if (is !== undefined) return { is, trouble: null };
    const trouble = `"${shownCell(cell).slice(0, 40)}" is no status: the value is taken for uncertain.`;
    return { is: Status.Uncertain, trouble };
  }
}

interface Said {
  readonly is: number;
  readonly trouble: string | null;
}

const GOOD: Said = { is: Status.Good, trouble: null };

function rowOf<Tag>(
  { tag, isText }: RecordSeries<Tag>,
  cell: FileCell,
  time: number,
  status: Said,
  { decimal }: RecordTerms,
): MessageRow<Tag> {
  if (!isGiven(cell)) {
    const missing = status.is === Status.Good ? Status.BadNoData : status.is;
    return { tag, value: null, status: missing, time, trouble: status.trouble };
  }
  const held = valueOf(cell, isText, decimal);
  if (held !== undefined) return { tag, value: held, status: status.is, time, trouble: status.trouble };
  const why =
    typeof cell === 'string' && isAmbiguousNumber(cell) ? 'is a number by either decimal mark' : 'is no number';
  const trouble = `"${shownCell(cell).slice(0, 40)}" ${why}: it is set aside.`;
  return { tag, value: shownCell(cell), status: status.is, time, trouble };
}

/** Undefined where it is none that a tag could keep: it goes on as it is written, to be set aside. */
function valueOf(
  cell: Exclude<FileCell, null>,
  isText: boolean,
  decimal: DecimalMark,
): number | bigint | string | undefined {
  if (isText) return shownCell(cell);
  if (typeof cell === 'boolean') return Number(cell);
  if (typeof cell !== 'string') return exact(readNumber(cell, decimal));
  // What nobody can tell is not guessed: 1,234 may be a thousand or one.
  const number =
    decimal === 'point' && cell.includes(',') && isAmbiguousNumber(cell) ? undefined : readNumber(cell, decimal);
  if (number !== undefined) return exact(number);
  const word = cell.trim().toLowerCase();
  return word === 'true' ? 1 : word === 'false' ? 0 : undefined;
}

/** Digits that stayed as they are, since a double does not hold them. */
const exact = (number: number | string | undefined): number | bigint | undefined =>
  typeof number === 'string' ? BigInt(number) : number;
