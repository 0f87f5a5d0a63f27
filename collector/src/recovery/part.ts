/** A part of what a source kept of a tag, as it goes to the archive, and how far a hole is filled with it. */
import type { ConfiguredTag, RecoverySpan } from '@wide-ledger/contract';
import {
  REMOVED,
  Status,
  clip,
  outcomeOf,
  subtract,
  totalLength,
  union,
  type Hole,
  type Span,
} from '@wide-ledger/core';
import type { Gathering } from '../gathering/gathering.ts';
import type { HistoryPart, HistoryRefused } from '../kinds/kind.ts';

/** The source's clock is known to so much: what lies that close to a hole is fetched along. Microseconds. */
const MARGIN = 50_000;

export const LOSSES = {
  overwritten: 'The source does not hold it any more: its own buffer did not reach back that far.',
  restarted: 'The source itself was started at the end of this time: it has nothing of it, and may have been off.',
} as const;

/** How a source is read, and how its clock stands. */
export interface Manner {
  readonly source: number;
  readonly newestFirst: boolean;
  /** The source's clock minus this machine's, in microseconds. */
  readonly shift: number;
  /** When the source itself was started, by its clock in microseconds; null where it does not tell. */
  readonly startedAt: number | null;
}

/** A hole by the source's clock, with its margin. */
export const windowOf = ({ from, to }: Span, shift: number): Span => ({
  from: from + shift - MARGIN,
  to: to + shift + MARGIN,
});

/**
 * @param hole of which the tag is the one that is being read.
 * @param fetched takes what is to be written. @returns the hole as it is then.
 */
export function filledBy(part: HistoryPart, hole: Hole, tag: ConfiguredTag, manner: Manner, fetched: Gathering): Hole {
  const { source, newestFirst, shift, startedAt } = manner;
  const times = part.samples.map(({ sourceTime }) => sourceTime ?? NaN);
  const soFar = { window: windowOf(hole, shift), cursor: hole.cursor, newestFirst, startedAt };
  const { kept, recovered, gone, cursor } = outcomeOf(soFar, { ...part, times });
  for (const at of kept) {
    const { value, status } = part.samples[at]!;
    fetched.sample(tag.id, times[at]!, value, status);
  }
  const tell = (span: Span, outcome: RecoverySpan['outcome'], sentence = ''): void => {
    for (const own of clip([{ from: span.from - shift, to: span.to - shift }], hole))
      fetched.recovery({ source, tag: tag.id, ...own, outcome, sentence });
  };
  for (const span of recovered) tell(span, 'recovered');
  for (const span of gone) {
    tell(span, 'gone', LOSSES[span.loss]);
    // Nobody is to take the value before it for what was measured there.
    if (isMissed(hole) && !hole.marks.some((mark) => mark >= span.from && mark <= span.from + 2 * MARGIN))
      fetched.sample(tag.id, span.from + 1, null, Status.BadDataLost);
  }
  const lost = union([...hole.lost, ...gone]);
  // Where the hole is filled nothing says any more that there is no value.
  if (!part.more)
    for (const mark of hole.marks)
      if (!lost.some(({ from, to }) => mark >= from && mark < to)) fetched.sample(tag.id, mark, null, REMOVED);
  const left = subtract([{ from: hole.from + shift, to: hole.to + shift }], lost);
  const counted = { ...hole, values: hole.values + kept.length, calls: hole.calls + 1 };
  return part.more
    ? { ...counted, cursor, lost }
    : {
        ...counted,
        done: tag.id,
        cursor: null,
        lost: [],
        recovered: hole.recovered + Number(left.length > 0),
        gone: hole.gone + Number(totalLength(left) < hole.to - hole.from),
      };
}

/** What somebody ordered may lie where values of other origin stand: nothing is said of those. */
const isMissed = ({ order }: Hole): boolean => order === null;

/** The source gives nothing of a tag. */
export function refusedBy(
  refusal: HistoryRefused,
  hole: Hole,
  tag: ConfiguredTag,
  { source, shift }: Manner,
  fetched: Gathering,
): Hole {
  const from = hole.cursor === null ? hole.from : Math.max(hole.from, hole.cursor - shift);
  const sentence = refusal.message.slice(0, 1000);
  fetched.recovery({ source, tag: tag.id, from, to: hole.to, outcome: 'gone', sentence });
  return { ...hole, done: tag.id, cursor: null, lost: [], gone: hole.gone + 1, calls: hole.calls + 1 };
}

/** All tags of a hole were asked for: what holds for the source as a whole is said in one. */
export function settle(hole: Hole, source: number, fetched: Gathering): void {
  const { from, to } = hole;
  const say = (tag: number | null, outcome: RecoverySpan['outcome'], sentence = ''): void =>
    fetched.recovery({ source, tag, from, to, outcome, sentence });
  if (hole.tags === null) {
    if (hole.recovered > 0) say(null, 'recovered');
    else if (hole.gone > 0) say(null, 'gone', LOSSES.overwritten);
  }
  for (const tag of hole.tags ?? [null]) say(tag, 'settled');
}
