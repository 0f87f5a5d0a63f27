/** An hour that a clock shows twice, in a record that grows: what is meant is told by the row before. Microseconds. */
import { SECOND } from '../time/instants.ts';

/** By so much rows of several series may come out of order. */
const OUT_OF_ORDER = 60 * SECOND;

/**
 * @param instants that a clock time can mean, ascending: none, one, or two.
 * @param last the row before; null: there is none, and the first is meant.
 * @param rising whether each row is later than the one before, as where a row holds all values of a time: the same clock
 *   time once more is then the second one. Where each value has a row, rows of one time follow each other.
 */
export function chosenInstant(instants: readonly number[], last: number | null, rising: boolean): number | null {
  const [first, second] = instants;
  if (first === undefined) return null;
  if (second === undefined || last === null) return first;
  return (rising ? first > last : first >= last - OUT_OF_ORDER) ? first : second;
}
