/** Times as files write them: with an offset, by the clock of a zone, as a spreadsheet's days, or counted since 1970. */
import { SECOND, parseInstant } from '../time/instants.ts';
import { isGiven, type FileCell } from './cells.ts';
import { clockInstants, dateNumbers, serialInstants, type DateOrder } from './clock.ts';

export type TimeFormat =
  /** RFC 3339 with its offset. */
  | { readonly kind: 'instant' }
  /** Clock time of a zone that the file does not name. */
  | {
      readonly kind: 'clock';
      readonly order: DateOrder;
      /** Which is meant of an hour that the clock shows twice, where the order of the rows does not tell. */
      readonly doubled?: 'first' | 'second' | undefined;
    }
  /** Days of a spreadsheet, by the clock of a zone. */
  | { readonly kind: 'serial'; readonly doubled?: 'first' | 'second' | undefined }
  | { readonly kind: 'epoch'; readonly micros: number };

/** Units of times counted since 1970, by how many digits the present has in them. */
const EPOCHS: readonly (readonly [digits: number, micros: number])[] = [
  [10, SECOND],
  [13, 1000],
  [16, 1],
];

/** Spreadsheets' days of the years 1954 to 2119. */
const SERIALS = { from: 20_000, to: 80_000 };

const isNumber = (cell: FileCell): boolean =>
  typeof cell === 'number' || typeof cell === 'bigint' || (typeof cell === 'string' && /^\d+(\.\d+)?$/.test(cell));

/** Looks at all the cells of a column, one after the other, for the one format that they share. */
export class TimeSurvey {
  private given = 0;
  private instants = 0;
  private numbers = 0;
  private serials = 0;
  private readonly digits = new Set<number>();
  private dates = 0;
  private yearFirst = 0;
  private dayFirst = 0;
  private monthFirst = 0;

  add(cell: FileCell): void {
    if (!isGiven(cell)) return;
    this.given++;
    if (isNumber(cell)) {
      this.numbers++;
      this.digits.add(String(cell).split('.')[0]!.length);
      if (Number(cell) >= SERIALS.from && Number(cell) <= SERIALS.to) this.serials++;
      return;
    }
    const text = String(cell).trim();
    if (parseInstant(text) !== undefined) this.instants++;
    const date = dateNumbers(text);
    if (!date) return;
    this.dates++;
    if (date.first.length === 4) this.yearFirst++;
    else if (Number(date.first) > 12) this.dayFirst++;
    else if (date.second > 12) this.monthFirst++;
  }

  /**
   * Undefined where the cells are no times, or not of one format.
   * @param named whether the column is called as times are: numbers that could be days are days only then.
   */
  format(named: boolean): TimeFormat | undefined {
    if (this.given === 0) return undefined;
    if (this.instants === this.given) return { kind: 'instant' };
    if (this.numbers === this.given) return this.countedFormat(named);
    if (this.dates !== this.given) return undefined;
    if (this.yearFirst === this.given) return { kind: 'clock', order: 'ymd' };
    if (this.yearFirst > 0 || (this.dayFirst > 0 && this.monthFirst > 0)) return undefined;
    const order = this.dayFirst > 0 ? 'dmy' : this.monthFirst > 0 ? 'mdy' : 'undecided';
    return { kind: 'clock', order };
  }

  private countedFormat(named: boolean): TimeFormat | undefined {
    const [digits, ...others] = this.digits;
    const micros = EPOCHS.find(([length]) => length === digits)?.[1];
    if (others.length === 0 && micros !== undefined) return { kind: 'epoch', micros };
    return named && this.serials === this.given ? { kind: 'serial' } : undefined;
  }
}

/** The one format that all the cells share; undefined when they are no times. */
export function timeFormatOf(cells: readonly FileCell[], named = false): TimeFormat | undefined {
  const survey = new TimeSurvey();
  for (const cell of cells) survey.add(cell);
  return survey.format(named);
}

/** The instants that a cell can mean, ascending, in microseconds: none when it is no time, two in a doubled hour. */
export function possibleTimes(cell: FileCell, format: TimeFormat, zone: string): number[] {
  if (!isGiven(cell)) return [];
  const text = String(cell).trim();
  switch (format.kind) {
    case 'instant': {
      const instant = parseInstant(text);
      return instant === undefined ? [] : [instant];
    }
    case 'epoch': {
      if (!/^-?\d+(\.\d+)?$/.test(text)) return [];
      const [whole, fraction = ''] = text.split('.');
      return [Number(whole) * format.micros + Math.round(Number(`0.${fraction || 0}`) * format.micros)];
    }
    case 'serial':
      return Number.isFinite(Number(text)) ? serialInstants(Number(text), zone) : [];
    case 'clock':
      return clockInstants(text, format.order, zone);
  }
}

/** A format in words, for the one who has to say whether it was understood. */
export function describeTimeFormat(format: TimeFormat, zone: string): string {
  switch (format.kind) {
    case 'instant':
      return 'time with its offset';
    case 'serial':
      return `days of a spreadsheet, by the clock of ${zone}`;
    case 'clock': {
      const order = {
        ymd: 'year, month, day',
        dmy: 'day, month, year',
        mdy: 'month, day, year',
        undecided: 'a date of which nothing tells day from month',
      }[format.order];
      return `${order}, by the clock of ${zone}`;
    }
    case 'epoch':
      return `${{ [SECOND]: 'seconds', 1000: 'milliseconds', 1: 'microseconds' }[format.micros]} since 1970`;
  }
}
