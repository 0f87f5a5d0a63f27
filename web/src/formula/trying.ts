/** A formula tried on the newest values of its inputs: what it gives at each of their instants. Pure. */
import type { RawAnswer } from '@wide-ledger/contract';
import { Formula, derive, describeStatus, parseInstant, type Frame } from '@wide-ledger/core';

/** Instants that are shown. */
export const MOST_TRIED = 100;

export interface TriedRow {
  /** Microseconds. */
  readonly time: number;
  /** The last value of each input by then, in the order of the formula's inputs. */
  readonly before: readonly (number | string | null)[];
  readonly after: number | string | null;
  readonly quality: string;
}

type Sample = RawAnswer['samples'][number];

/** Samples as the archive tells them, newest first, as a series. */
function seriesOf(samples: readonly Sample[]): Frame {
  const rows = samples.toReversed();
  const texts = [...new Set(rows.flatMap(({ value }) => (typeof value === 'string' ? [value] : [])))];
  const numberOf = (value: Sample['value']): number => {
    if (typeof value === 'string') return texts.indexOf(value);
    return value === null ? NaN : Number(value);
  };
  return {
    tags: null,
    times: Float64Array.from(rows, ({ time }) => parseInstant(time)!),
    values: Float64Array.from(rows, ({ value }) => numberOf(value)),
    status: Uint32Array.from(rows, ({ status }) => status),
    origins: null,
    texts,
  };
}

const shown = (frame: Frame, at: number): number | string | null => {
  if (at < 0) return null;
  const value = frame.values[at]!;
  if (Number.isNaN(value)) return null;
  return frame.texts.length > 0 ? frame.texts[value]! : value;
};

/**
 * @param samples of each input, newest first, in the order of the formula's inputs
 * @returns the newest instants, the newest first
 */
export function tryFormula(formula: Formula, samples: readonly (readonly Sample[])[]): TriedRow[] {
  const inputs = samples.map(seriesOf);
  // Before all inputs are known there is nothing to compare.
  const from = Math.max(...inputs.map(({ times }) => times[0] ?? Infinity));
  const given = derive(formula, inputs, { from, to: Infinity });
  const at = inputs.map(() => -1);
  const rows: TriedRow[] = [];
  for (let i = 0; i < given.times.length; i++) {
    const time = given.times[i]!;
    const before = inputs.map((frame, k) => {
      while ((frame.times[at[k]! + 1] ?? Infinity) <= time) at[k]!++;
      return shown(frame, at[k]!);
    });
    rows.push({ time, before, after: shown(given, i), quality: describeStatus(given.status[i]!) });
  }
  return rows.slice(-MOST_TRIED).reverse();
}
