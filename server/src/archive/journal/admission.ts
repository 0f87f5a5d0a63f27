/** Which samples may be archived. Pure: those that may not come back with the reason, to be set aside. */
import {
  wholeAt,
  HOUR,
  MAXIMUM_TIME,
  REMOVED,
  formatInstant,
  isGood,
  parseInstant,
  selectSamples,
  type Frame,
  type Origin,
} from '@wide-ledger/core';
import type { TagRow } from '../../configuration/index.ts';

/** A value refused but not lost. */
export interface RefusedSample {
  readonly index: number;
  readonly tag: string;
  readonly time: number | null;
  readonly value: string;
  readonly status: number | null;
  readonly reason: string;
}

export interface Admission {
  /** What may be archived: numbers and text apart, since a frame holds one or the other. */
  readonly frames: readonly Frame[];
  readonly refused: readonly RefusedSample[];
}

/** A clock may run ahead by this much before its stamps are taken for nonsense. */
const AHEAD = HOUR;
/** What can be kept begins here. Series older than any instrument of a plant are history too. */
const EARLIEST = parseInstant('1700-01-01T00:00:00Z')!;

export type FindTag<Key> = (key: Key) => TagRow | undefined;

/** Since when a tag's store keeps values; null: since ever. */
export type KeepsSince = (tag: TagRow) => number | null;

export function reasonAgainstStore(tag: TagRow, time: number, keepsSince: KeepsSince): string | null {
  const since = keepsSince(tag);
  if (since === null || time >= since) return null;
  return `The time stamp ${formatInstant(time)} lies before ${formatInstant(since)}, since when the store of ${tag.name} keeps values.`;
}

export function reasonAgainstTime(time: number, now: number): string | null {
  if (!Number.isSafeInteger(time) || Math.abs(time) > MAXIMUM_TIME)
    return 'The time stamp is outside what can be kept (1700 to 2255).';
  if (time > now + AHEAD)
    return `The time stamp ${formatInstant(time)} lies in the future. Check the clock of the sender.`;
  if (time < EARLIEST) return `The time stamp ${formatInstant(time)} lies before 1700. Check the unit of the times.`;
  return null;
}

/** Text in a tag of numbers, or a number in a tag of text; a sample without a value fits both. */
function reasonAgainstKind(tag: TagRow, textual: boolean, value: number): string | null {
  if (Number.isNaN(value) || textual === (tag.type === 'text')) return null;
  return textual
    ? `${tag.name} keeps ${tag.type} values, and text was sent.`
    : `${tag.name} keeps text, and a number was sent.`;
}

const MOST_WHOLE = 2 ** 63;

/**
 * Whether a number is one that a tag's type can hold. "No value" fits every type.
 * @param wide whether the whole number itself stands beside its double.
 */
function holds({ type }: TagRow, value: number, wide: boolean): boolean {
  if (Number.isNaN(value)) return true;
  switch (type) {
    case 'real':
    case 'text':
      return true;
    case 'boolean':
      return value === 0 || value === 1;
    case 'state':
      return Number.isSafeInteger(value);
    case 'integer':
      // 2^63 is the double next to the greatest whole number.
      return Number.isInteger(value) && value >= -MOST_WHOLE && (value < MOST_WHOLE || (wide && value === MOST_WHOLE));
  }
}

const KEPT_BY_TYPE = {
  real: 'numbers',
  integer: '64-bit whole numbers',
  boolean: 'true or false (1 or 0)',
  state: 'a state by its number',
  text: 'text',
} as const;

const reasonAgainstType = (tag: TagRow, value: number, wide: boolean): string | null =>
  holds(tag, value, wide) ? null : `${tag.name} keeps ${KEPT_BY_TYPE[tag.type]}, and ${value} is none.`;

/** A text that cannot be given back as it is by everything that reads it is refused, rather than changed. */
export function reasonAgainstText(tag: TagRow, text: string): string | null {
  if (text.includes('\0')) return `${tag.name}: the text holds the character U+0000, which is no text.`;
  return text.isWellFormed() ? null : `${tag.name}: the text holds half of a surrogate pair, which is no character.`;
}

/** The status by which a deletion travels is nobody's to send as a value. */
export const reasonAgainstStatus = (status: number): string | null =>
  status === REMOVED ? 'The status Bad_NoEntryExists says that there is no value. Use the call for removals.' : null;

/** NaN is a value of a real tag; to every other type, and where nothing was sent, it says that there is none. */
export const reasonAgainstNothing = (tag: TagRow, value: number, status: number, nothing: boolean): string | null =>
  Number.isNaN(value) && isGood(status) && (nothing || tag.type !== 'real')
    ? `${tag.name}: there is no value, and the status is Good. A sample without a value needs a Bad status, such as Bad_NoData.`
    : null;

/** Whether samples of an origin may say that there is no value any more: corrections, and what takes the marks of an outage away. */
export const mayRemove = (origin: Origin): boolean => origin === 'corrected' || origin === 'backfilled';

/** Looks at every sample of a frame that came with an entry. */
export function admitFrame(
  frame: Frame,
  tagById: FindTag<number>,
  keepsSince: KeepsSince,
  now: number,
  removes = false,
): Admission {
  const { tags, times, values, status } = frame;
  const textual = frame.texts.length > 0;
  const wide = Boolean(frame.wholes);
  const latest = Math.min(now + AHEAD, MAXIMUM_TIME);
  const refused: RefusedSample[] = [];
  let tag: TagRow | undefined;
  let earliest = EARLIEST;
  let fits = false;
  const badTexts = frame.texts.map((text) => text.includes('\0') || !text.isWellFormed());
  for (let i = 0; i < times.length; i++) {
    if (i === 0 || tags![i] !== tags![i - 1]) {
      tag = tagById(tags![i]!);
      earliest = Math.max(EARLIEST, (tag && keepsSince(tag)) ?? EARLIEST);
      fits = tag !== undefined && textual === (tag.type === 'text');
    }
    const time = times[i]!;
    const value = values[i]!;
    // Nearly every sample leaves here: the reasons are only sought for the others.
    if (
      fits &&
      time >= earliest &&
      time <= latest &&
      Number.isInteger(time) &&
      status[i] !== REMOVED &&
      (textual ? !badTexts[value] : holds(tag!, value, wide)) &&
      !(Number.isNaN(value) && tag!.type !== 'real' && isGood(status[i]!))
    )
      continue;
    const reason = tag
      ? (reasonAgainstTime(time, now) ??
        reasonAgainstStore(tag, time, keepsSince) ??
        reasonAgainstKind(tag, textual, value) ??
        (textual ? reasonAgainstText(tag, frame.texts[value] ?? '') : reasonAgainstType(tag, value, wide)) ??
        reasonAgainstNothing(tag, value, status[i]!, false) ??
        (removes ? null : reasonAgainstStatus(status[i]!)))
      : `There is no tag number ${tags![i]!}.`;
    if (reason === null) continue;
    // As it came, not as the type would have it: that is what it does not fit.
    const shown = textual ? (frame.texts[value] ?? null) : (wholeAt(frame, i) ?? value);
    refused.push({
      index: i,
      tag: tag?.name ?? `number ${tags![i]!}`,
      time,
      value: String(shown),
      status: status[i]!,
      reason,
    });
  }
  if (refused.length === 0) return { frames: [frame], refused };
  if (refused.length === times.length) return { frames: [], refused };
  const unwanted = new Set(refused.map(({ index }) => index));
  return { frames: [selectSamples(frame, (i) => !unwanted.has(i))], refused };
}
