/** How often a tag is read beside how fast it moves, in words. Pure. */
import { describeLength } from '../time/durations.ts';
import type { Movement, Sampled } from './check.ts';

const seconds = (length: number): string => describeLength(Math.round(length * 1e6));
const percent = (share: number): string => `${Number((100 * share).toPrecision(2))} %`;

/** What reading at an interval makes of the fastest movement. */
export function samplingWords(
  { period, share }: Movement,
  { interval, samplesPerPeriod, folded, peakLoss }: Sampled,
): string {
  const moves = `Its fastest movement takes ${seconds(period)} (${percent(share)} of what moves).`;
  const read = `Read every ${seconds(interval)} that is ${Number(samplesPerPeriod.toPrecision(3))} samples of it`;
  if (folded === Infinity) return `${moves} ${read}: it would seem to stand still.`;
  if (folded !== null) return `${moves} ${read}: it would seem to take ${seconds(folded)}, which it does not.`;
  return `${moves} ${read}; of a peak ${percent(peakLoss)} may be missed at worst.`;
}
