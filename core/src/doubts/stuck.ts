/** Tags that did not move while their neighbours did. */
import { FEWEST_VALUES, type Rhythm } from '../coverage/rhythm.ts';
import type { Span } from '../coverage/spans.ts';
import { longestOnes, type Stuck } from './doubt.ts';
import type { Motion, Rest } from './motion.ts';

/** A tag among those that should move when it does. */
export interface Neighbour {
  readonly tag: number;
  readonly counts: boolean;
  readonly motion: Motion;
  /** Its rhythm of the time before, where it moved too seldom in the window. */
  readonly before: Rhythm | null;
}

/** A neighbour tells something where so many moves are expected of it, and has moved with this share of them. */
const FEWEST_EXPECTED = 3;
const SHARE_MOVED = 0.25;
/** So many neighbours have to tell something, and this share of them to have moved. */
const FEWEST_NEIGHBOURS = 2;
const SHARE_OF_NEIGHBOURS = 0.5;
/** A counter that nobody can tell anything about stands when it rests for so many times its longest. */
const ALONE = 3;
/** Rests of half the length or more, of which there are so many, are a habit: pumps that are off at night. */
const HABIT = 5;

/** Each tag's doubts, those that have any. @param group tags that lie together; all of one window. */
export function stuckIn(group: readonly Neighbour[], window: Span): Map<number, Stuck[]> {
  const seen = new Map(group.map((one) => [one, { sums: summed(one.motion.moves), usual: usualMoves(one.motion) }]));
  const found = new Map<number, Stuck[]>();
  for (const one of group) {
    const rhythm = rhythmOfNeighbour(one);
    if (rhythm === null) continue;
    const { rests } = one.motion;
    const doubts = rests.flatMap((rest): Stuck[] => {
      const length = rest.to - rest.from;
      if (length <= rhythm.longest) return [];
      if (rests.filter(({ from, to }) => to - from >= length / 2).length > HABIT) return [];
      const others = group.filter((other) => other !== one);
      const { neighbours, moved } = motionAround(rest, others, seen, window);
      const told = neighbours >= FEWEST_NEIGHBOURS && moved >= SHARE_OF_NEIGHBOURS * neighbours;
      const alone = one.counts && neighbours < FEWEST_NEIGHBOURS && length > ALONE * rhythm.longest;
      if (!told && !alone) return [];
      const { usual, longest } = rhythm;
      return [{ kind: one.counts ? 'standing' : 'stuck', ...rest, usual, longest, neighbours, moved }];
    });
    if (doubts.length > 0) found.set(one.tag, longestOnes(doubts));
  }
  return found;
}

/** Of the window where it moved in it, or else of the time before. */
const rhythmOfNeighbour = ({ motion: { total, rhythm }, before }: Neighbour): Rhythm | null =>
  total < FEWEST_VALUES ? (before ?? rhythm) : rhythm;

/** Of a neighbour: position i holds its moves before cell i; and how often it usually moves in a cell. */
interface Seen {
  readonly sums: Float64Array;
  readonly usual: number;
}

/** How many neighbours should have moved within a rest, by how they usually move, and how many did. */
function motionAround(
  rest: Rest,
  others: readonly Neighbour[],
  seen: ReadonlyMap<Neighbour, Seen>,
  { from, to }: Span,
): { neighbours: number; moved: number } {
  let [neighbours, moved] = [0, 0];
  for (const other of others) {
    const { sums, usual } = seen.get(other)!;
    const cells = sums.length - 1;
    // Whole cells alone: in the others it may have moved before or after.
    const begin = Math.ceil(((rest.from - from) / (to - from)) * cells);
    const end = Math.floor(((rest.to - from) / (to - from)) * cells);
    const expected = usual * (end - begin);
    if (end - begin < 2 || expected < FEWEST_EXPECTED) continue;
    // One that was never seen to move by then may not have been there yet: it tells nothing.
    if (sums[end] === 0) continue;
    neighbours++;
    if (sums[end]! - sums[begin]! >= Math.max(1, SHARE_MOVED * expected)) moved++;
  }
  return { neighbours, moved };
}

/**
 * In a cell of the window: in half of them it moves at least so often, or in all of them on average. The lesser: a tag that
 * was read every second for the last days, and every minute before, is not expected to move every second.
 */
function usualMoves({ moves, total }: Motion): number {
  const middle = moves.slice().sort()[moves.length >> 1]!;
  return middle > 0 ? Math.min(middle, total / moves.length) : total / moves.length;
}

/** Position i holds the sum of what is before cell i. */
function summed(cells: Uint32Array): Float64Array {
  const sums = new Float64Array(cells.length + 1);
  for (let i = 0; i < cells.length; i++) sums[i + 1] = sums[i]! + cells[i]!;
  return sums;
}
