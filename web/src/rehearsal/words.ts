/** What a rehearsal tells, in words. */
import { lostOf, type Advice, type FateReason, type RehearsedOutcome } from '@wide-ledger/core';
import { showBytes, showNumber } from '../controls/values.ts';
import { lengthWords } from '../window/times.ts';

export const REASON_WORDS: Readonly<Record<FateReason, string>> = {
  fetched: 'fetched from the device',
  'no memory': 'its device remembers nothing that is known of',
  overwritten: 'overwritten in the device before it was fetched',
  'memory lost': 'the device had lost its memory',
  'not asked for': 'in the device’s memory, and not asked for',
  'no room': 'no room on the collector’s disk, nor in its memory',
  'device off': 'the device was off: there was nothing to lose',
};

export const seconds = (length: number): string => lengthWords(Math.round(length) * 1000);

/** What becomes of a source, in a sentence. */
export function outcomeWords(outcome: RehearsedOutcome): string {
  const lost = lostOf(outcome);
  const recovered = outcome.fates.reduce(
    (sum, { fate, from, to }) => (fate === 'recovered' ? sum + to - from : sum),
    0,
  );
  if (outcome.fates.length === 0) return 'Nothing is missed.';
  const fetched =
    recovered === 0
      ? ''
      : `Comes back: ${seconds(recovered)}${outcome.caughtUpAt === null ? '' : `, the last of it ${seconds(outcome.caughtUpAt)} after the start`}. `;
  if (lost >= 1) return `${fetched}Lost: ${seconds(lost)}.`;
  return fetched === '' ? 'Nothing is lost.' : `${fetched}Nothing is lost.`;
}

/** @param of the source's name; null: of the collector. */
export function adviceWords({ change, value, lost }: Advice): string {
  const left = lost < 1 ? 'nothing would be lost' : `${seconds(lost)} would be lost all the same`;
  switch (change) {
    case 'recover by itself':
      return `Let it recover by itself: ${left}.`;
    case 'remember':
      return `A memory of ${showNumber(value ?? 0)} values in the device: ${left}.`;
    case 'calls a second':
      return `${showNumber(value ?? 0)} calls a second: ${left}.`;
    case 'standby':
      return `A standby: ${left}.`;
    case 'spool':
      return `${showBytes(value ?? 0)} for the collector’s spool: ${left}.`;
  }
}
