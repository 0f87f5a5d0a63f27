/** What a comparison of two tags comes to, in a sentence. Pure. */
import type { Agreement } from '@wide-ledger/core';
import { showNumber } from '../../controls/values.ts';
import { lengthWords } from '../../window/times.ts';

/** A figure with so many digits as people read at a glance. */
export const short = (value: number): string => String(Number(value.toPrecision(4)));

export function verdict(
  { differences, alone, beyond, meanSize, largest }: Agreement,
  tolerance: number,
  unit: string,
  best: { readonly offset: number; readonly meanSize: number } | null,
  offset: number,
): string {
  const count = differences.length;
  if (count === 0) {
    return alone === 0
      ? 'The first has no usable value in this window.'
      : 'The two have no time in common in this window: to no value of the first the second has one.';
  }
  const values = `${showNumber(count)} ${count === 1 ? 'value' : 'values'}`;
  const largestWords = `the largest difference is ${short(Math.abs(largest!.difference))} ${unit}`.trim();
  const first =
    beyond === 0
      ? `They agree: of ${values} none differs by more than ${short(tolerance)} ${unit}; ${largestWords}.`
      : `They differ: ${showNumber(beyond)} of ${values} by more than ${short(tolerance)} ${unit}; ${largestWords}.`;
  const shifted =
    best && best.offset !== offset && best.meanSize < 0.5 * meanSize
      ? ` With the second ${lengthWords(Math.abs(best.offset) / 1000)} ${best.offset > 0 ? 'later' : 'earlier'} they agree better: ${short(best.meanSize)} ${unit} on average instead of ${short(meanSize)}.`
      : '';
  const lonely = alone > 0 ? ` To ${showNumber(alone)} more of the first the second has none.` : '';
  return `${first.replace(/ ;/, ';').replace(/ \./, '.')}${shifted}${lonely}`;
}
