/** A doubt as a sentence. */
import { describeLength, sampledAt, samplingWords, type Doubt } from '@wide-ledger/core';

const DIGITS = 6;
const shown = (value: number, unit: string): string =>
  `${Number(value.toPrecision(DIGITS))}${unit === '' ? '' : ` ${unit}`}`;
const counted = (values: number): string =>
  values === 1 ? 'One value' : `${values.toLocaleString('en').replaceAll(',', '\u2009')} values`;

/** @param unit of the tag that it is about; empty where it has none. */
export function wordsOf(doubt: Doubt, unit: string): string {
  switch (doubt.kind) {
    case 'stuck':
    case 'standing': {
      const { kind, value, from, to, usual, longest, neighbours, moved } = doubt;
      const what = kind === 'stuck' ? 'Stayed' : 'Counted nothing and stayed';
      const beside =
        neighbours === 0
          ? 'No neighbour tells more.'
          : `Meanwhile ${moved} of ${neighbours} neighbours that should have moved did.`;
      return `${what} at ${shown(value, unit)} for ${describeLength(to - from)}. It usually moves every ${describeLength(usual)}, and a rest of more than ${describeLength(longest)} is unusual. ${beside}`;
    }
    case 'beyond':
      return `${counted(doubt.values)} outside what it can be: ${shown(doubt.worst, unit)} at the farthest, and ${shown(doubt.bound, unit)} is the bound.`;
    case 'doubled':
      return doubt.differing
        ? `${counted(doubt.values)} took the place of another one with the same time, without a correction. The earlier ones are in the modified history.`
        : `${counted(doubt.values)} came twice.`;
    case 'backwards':
      return `${counted(doubt.values)} had a time stamp before one that had come already, by up to ${describeLength(doubt.most)}.`;
    case 'ahead':
      return `${counted(doubt.values)} had a time stamp ahead of the server’s clock, by up to ${describeLength(doubt.most)}.`;
    case 'drifting': {
      const { perDay, lateAtFirst, lateAtLast } = doubt;
      return `The clock ${perDay > 0 ? 'loses' : 'gains'} ${describeLength(Math.abs(perDay))} a day: values came ${lateness(lateAtFirst)} at first and ${lateness(lateAtLast)} at last.`;
    }
    case 'too slow':
    case 'wasteful': {
      const { movement, intervalMilliseconds, proposedMilliseconds } = doubt;
      const now = samplingWords(movement, sampledAt(movement, intervalMilliseconds / 1000));
      return `${now} Every ${describeLength(proposedMilliseconds * 1000)} would do.`;
    }
  }
}

const lateness = (micros: number): string =>
  `${describeLength(Math.abs(micros))} ${micros >= 0 ? 'after' : 'before'} their stamps`;
