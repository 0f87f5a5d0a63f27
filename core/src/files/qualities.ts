/** Qualities as files write them: by the name of a status, by its number, or by a byte. */
import { Status, parseStatus } from '../status/codes.ts';
import { isGiven, shownCell, type FileCell } from './cells.ts';

/**
 * `status`: names and numbers of OPC UA (OPC 10000-4); `byte`: the quality byte of OPC Data Access 3.0, 6.8, whose two
 * highest bits say Good (192), Uncertain (64) or Bad (0).
 */
export type QualityFormat = 'status' | 'byte' | 'undecided';

const HEX = /^0x([0-9a-f]{1,8})$/i;

/** A number as a quality column has it: decimal, or hexadecimal after 0x; undefined when it is none. */
function numberOf(cell: FileCell): number | undefined {
  if (typeof cell === 'number') return cell;
  if (typeof cell === 'bigint') return Number(cell);
  const text = shownCell(cell).trim();
  const hex = HEX.exec(text);
  if (hex) return parseInt(hex[1]!, 16);
  return /^\d+$/.test(text) ? Number(text) : undefined;
}

/** Looks at all the cells of a column for how it says the quality. */
export class QualitySurvey {
  private given = 0;
  private words = 0;
  private numbers = 0;
  private bytes = 0;
  private zeros = 0;

  add(cell: FileCell): void {
    if (!isGiven(cell)) return;
    this.given++;
    const number = numberOf(cell);
    if (number !== undefined) {
      this.numbers++;
      if (number === 0) this.zeros++;
      // No status of OPC UA has a number of one byte but Good itself.
      if (number > 0 && number <= 255) this.bytes++;
    } else if (nameOf(cell) !== undefined) this.words++;
  }

  /** Whether every cell is a quality in words. */
  get isWords(): boolean {
    return this.given > 0 && this.words === this.given;
  }

  /** Undefined where the cells are no qualities; undecided where all that is there is 0: Good, or Bad. */
  get format(): QualityFormat | undefined {
    if (this.given === 0 || this.words + this.numbers !== this.given) return undefined;
    if (this.words > 0) return 'status';
    if (this.zeros === this.given) return 'undecided';
    return this.bytes + this.zeros === this.given ? 'byte' : 'status';
  }
}

/** A quality by its name, with or without the words that follow it: `Good, Calculated`. */
const nameOf = (cell: FileCell): number | undefined => parseStatus(shownCell(cell).split(',')[0]!);

/** The status that a cell means; undefined when it is none, or nobody decided what 0 means. */
export function readQuality(cell: FileCell, format: QualityFormat): number | undefined {
  const number = numberOf(cell);
  if (number === undefined) return nameOf(cell);
  if (format === 'undecided') return undefined;
  if (format === 'status') return parseStatus(number);
  if (!Number.isInteger(number) || number < 0 || number > 255) return undefined;
  return [Status.Bad, Status.Uncertain, undefined, Status.Good][number >> 6];
}
