/** Where a tag's values came in a window, and where they stayed away, told by the values alone. */
import { MAXIMUM_TIME, PresenceBook, isBad, originName, rhythmOf, type Frame, type Span } from '@wide-ledger/core';
import type { FoundPresence, SourcelessTag } from '../../coverage/sourceless.ts';
import type { Stores } from '../../stores/stores.ts';
import { EVERY_SAMPLE, type TagLedger } from '../tagLedger.ts';
import { askLedger } from './pieces.ts';

/** The rhythm is that of the last so many values up to the window's end, and of those behind it where these are fewer. */
const LOOKED_AT = 1000;
/** A window is looked through in steps of this share: what is shorter than one cannot be seen in a strip. */
const FINEST = 2000;

/** @param longestSilence of the tag, in seconds. */
export const presenceOf = (stores: Stores, tag: Omit<SourcelessTag, 'name'>, window: Span): Promise<FoundPresence> =>
  askLedger(stores, tag, async (ledger) => {
    const { rhythm, origin } = await rhythmNear(ledger, tag, window.to);
    // Without a rhythm each value stands for itself.
    const longest = Math.max(rhythm?.longest ?? 0, (window.to - window.from) / FINEST);
    const book = new PresenceBook(window, longest);
    const reader = {
      ...EVERY_SAMPLE,
      takesWhole: (first: number, last: number) => last - first <= longest,
      neighbours: true,
      usesUncertain: true,
    };
    for await (const piece of ledger.pieces(window.from, window.to, reader)) {
      if (piece.kind === 'summaries') {
        for (let i = 0; i < piece.runs.length; i++) book.take(piece.runs.firstTime(i), piece.runs.lastTime(i));
      } else for (const time of valueTimes(piece.frame)) book.take(time);
    }
    return { ...book.finish(), rhythm, origin };
  });

interface KnownRhythm extends Pick<FoundPresence, 'rhythm' | 'origin'> {
  readonly moment: number;
  readonly longestSilence: number | null;
  /** By the counter that nobody sets. Milliseconds. */
  readonly foundAt: number;
}

/** Rhythms that this thread found: whoever looks at a live window asks every second, and they change slowly. */
const known = new Map<number, KnownRhythm>();
const KNOWN_MILLISECONDS = 30_000;
const SAME_MOMENT = 60_000_000;
const MOST_KNOWN = 10_000;

async function rhythmNear(
  ledger: TagLedger,
  { id, longestSilence }: Omit<SourcelessTag, 'name'>,
  moment: number,
): Promise<KnownRhythm> {
  const before = known.get(id);
  const holds =
    before?.longestSilence === longestSilence &&
    performance.now() - before.foundAt < KNOWN_MILLISECONDS &&
    Math.abs(moment - before.moment) < SAME_MOMENT;
  if (holds) return before;
  const { times, origin } = await valuesAround(ledger, moment);
  const rhythm = rhythmOf(times, longestSilence === null ? null : longestSilence * 1e6);
  const found = { rhythm, origin, moment, longestSilence, foundAt: performance.now() };
  // What was found first goes first.
  if (known.size >= MOST_KNOWN) known.delete(known.keys().next().value!);
  known.delete(id);
  known.set(id, found);
  return found;
}

/** The times of the last values before a moment, and of the first after it where these are few; and how most got in. */
async function valuesAround(
  ledger: TagLedger,
  moment: number,
): Promise<{ times: number[]; origin: FoundPresence['origin'] }> {
  const start = await ledger.startOfLast(LOOKED_AT, -MAXIMUM_TIME, moment);
  const counts = new Map<number, number>();
  const read = async (from: number, to: number, most: number): Promise<number[]> => {
    const times: number[] = [];
    const reader = { ...EVERY_SAMPLE, neighbours: false, usesUncertain: true };
    for await (const piece of ledger.pieces(from, to, reader)) {
      if (piece.kind !== 'samples') continue;
      times.push(...valueTimes(piece.frame).filter((time) => time >= from && time < to));
      for (const origin of piece.frame.origins ?? []) counts.set(origin, (counts.get(origin) ?? 0) + 1);
      if (times.length >= most) break;
    }
    return times;
  };
  const before = (await read(start, moment, Infinity)).slice(-LOOKED_AT);
  const wanted = LOOKED_AT - before.length;
  const after = wanted > 0 ? (await read(moment, MAXIMUM_TIME, wanted)).slice(0, wanted) : [];
  const [most] = [...counts].sort(([, a], [, b]) => b - a);
  return { times: [...before, ...after], origin: originName(most?.[0] ?? 0) };
}

/** A sample that says that there is no value is none. */
const valueTimes = ({ times, status }: Frame): number[] => Array.from(times).filter((_, i) => !isBad(status[i]!));
