/** Which samples may be archived. Pure: those that may not come back with the reason, to be set aside. */
import {
  wholeAt,
  HOUR,
  MAXIMUM_TIME,
  REMOVED,
  formatInstant,
  isGood,
  parseInstant,
  parseStatus,
  selectSamples,
  toWhole,
  type Frame,
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

type FindTag<Key> = (key: Key) => TagRow | undefined;

/** Since when a tag's store keeps values; null: since ever. */
type KeepsSince = (tag: TagRow) => number | null;

function reasonAgainstStore(tag: TagRow, time: number, keepsSince: KeepsSince): string | null {
  const since = keepsSince(tag);
  if (since === null || time >= since) return null;
  return `The time stamp ${formatInstant(time)} lies before ${formatInstant(since)}, since when the store of ${tag.name} keeps values.`;
}

function reasonAgainstTime(time: number, now: number): string | null {
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
function reasonAgainstText(tag: TagRow, text: string): string | null {
  if (text.includes('\0')) return `${tag.name}: the text holds the character U+0000, which is no text.`;
  return text.isWellFormed() ? null : `${tag.name}: the text holds half of a surrogate pair, which is no character.`;
}

/** The status by which a deletion travels is nobody's to send as a value. */
const reasonAgainstStatus = (status: number): string | null =>
  status === REMOVED ? 'The status Bad_NoEntryExists says that there is no value. Use the call for removals.' : null;

/** NaN is a value of a real tag; to every other type, and where nothing was sent, it says that there is none. */
const reasonAgainstNothing = (tag: TagRow, value: number, status: number, nothing: boolean): string | null =>
  Number.isNaN(value) && isGood(status) && (nothing || tag.type !== 'real')
    ? `${tag.name}: there is no value, and the status is Good. A sample without a value needs a Bad status, such as Bad_NoData.`
    : null;

/** Looks at every sample of a frame that came with an entry. */
export function admitFrame(
  frame: Frame,
  tagById: FindTag<number>,
  keepsSince: KeepsSince,
  now: number,
  mayRemove = false,
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
        (mayRemove ? null : reasonAgainstStatus(status[i]!)))
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

interface Row {
  readonly tag: number;
  readonly time: number;
  readonly value: number;
  readonly status: number;
  readonly textual: boolean;
  /** With all its digits, where a double does not hold them. */
  readonly given: number | bigint;
}

interface GivenSample {
  readonly tag?: unknown;
  readonly time?: unknown;
  readonly value?: unknown;
  readonly status?: unknown;
}

const MEMBERS = ['tag', 'time', 'value', 'status'];

/** A member that means nothing here was meant to mean something: `quality: "Bad"` would be archived as Good. */
function reasonAgainstMembers(sample: object): string | null {
  const unknown = Object.keys(sample).find((name) => !MEMBERS.includes(name));
  if (unknown === undefined) return null;
  const hint = unknown === 'quality' ? ' The quality of a sample is its status, such as "Bad" or 2147483648.' : '';
  return `"${unknown}" is no member of a sample: it has tag, time, value and status.${hint}`;
}

/**
 * Looks at samples as they came in JSON. Every tag's samples stay in one frame and in their order, so that of two values
 * with one time the later one stands.
 */
export function admitSamples(
  samples: readonly unknown[],
  tagByName: FindTag<string>,
  keepsSince: KeepsSince,
  now: number,
): Admission {
  const rows: Row[] = [];
  const refused: RefusedSample[] = [];
  const texts = new Map<string, number>();
  const textPosition = (text: string): number => {
    const position = texts.get(text) ?? texts.size;
    texts.set(text, position);
    return position;
  };
  samples.forEach((given, index) => {
    const sample = (typeof given === 'object' && given !== null ? given : {}) as GivenSample;
    const tag = typeof sample.tag === 'string' ? tagByName(sample.tag) : undefined;
    const time = typeof sample.time === 'string' ? parseInstant(sample.time) : undefined;
    const status = sample.status === undefined ? 0 : statusOf(sample.status);
    const refuse = (reason: string): void => {
      refused.push({
        index,
        tag: typeof sample.tag === 'string' ? sample.tag : '',
        time: time ?? null,
        value: JSON.stringify(sample.value ?? null),
        status: status ?? null,
        reason,
      });
    };
    if (!tag)
      return refuse(typeof sample.tag === 'string' ? `There is no tag "${sample.tag}".` : 'The sample names no tag.');
    if (time === undefined)
      return refuse(`"${String(sample.time)}" is not a date-time with its offset, such as 2026-11-22T06:00:00Z.`);
    if (status === undefined)
      return refuse(`${JSON.stringify(sample.status)} is neither a known status name nor a 32-bit number.`);
    const wrong =
      reasonAgainstMembers(sample) ??
      reasonAgainstTime(time, now) ??
      reasonAgainstStore(tag, time, keepsSince) ??
      reasonAgainstStatus(status);
    if (wrong) return refuse(wrong);
    const value = numberOf(sample.value, tag, textPosition);
    if (typeof value === 'string') return refuse(value);
    const nothing = reasonAgainstNothing(
      tag,
      Number(value),
      status,
      sample.value === null || sample.value === undefined,
    );
    if (nothing) return refuse(nothing);
    rows.push({ tag: tag.id, time, value: Number(value), status, textual: tag.type === 'text', given: value });
  });
  const frames = [
    frameOf(
      rows.filter((row) => !row.textual),
      [],
    ),
    frameOf(
      rows.filter(({ textual }) => textual),
      [...texts.keys()],
    ),
  ];
  return { frames: frames.filter((frame) => frame !== null), refused };
}

const statusOf = (given: unknown): number | undefined =>
  typeof given === 'string' || typeof given === 'number' ? parseStatus(given) : undefined;

function frameOf(rows: readonly Row[], texts: readonly string[]): Frame | null {
  if (rows.length === 0) return null;
  const wide = rows.some(({ given }) => typeof given === 'bigint');
  return {
    tags: Uint32Array.from(rows, (row) => row.tag),
    times: Float64Array.from(rows, (row) => row.time),
    values: Float64Array.from(rows, (row) => row.value),
    status: Uint32Array.from(rows, (row) => row.status),
    origins: null,
    texts,
    wholes: wide ? BigInt64Array.from(rows, ({ given }) => (typeof given === 'bigint' ? given : toWhole(given))) : null,
  };
}

/**
 * A JSON value as the number that a frame keeps, or the sentence that says why it cannot be one. Integers beyond what
 * JSON's readers hold exactly come as text and go on as bigint.
 */
function numberOf(value: unknown, tag: TagRow, textPosition: (text: string) => number): number | bigint | string {
  if (value === null || value === undefined) return NaN;
  const shown = JSON.stringify(value);
  switch (tag.type) {
    case 'text':
      if (typeof value !== 'string') return `${tag.name} keeps text, and ${shown} is none.`;
      return reasonAgainstText(tag, value) ?? textPosition(value);
    case 'boolean':
      return typeof value === 'boolean' ? Number(value) : `${tag.name} keeps true or false, and ${shown} is neither.`;
    case 'state': {
      const named = Object.entries(tag.states ?? {}).find(([, name]) => name === value);
      if (named) return Number(named[0]);
      return Number.isSafeInteger(value)
        ? (value as number)
        : `${tag.name} keeps a state, and ${shown} is no number or name of one.`;
    }
    case 'integer':
      if (Number.isSafeInteger(value)) return value as number;
      return wholeNumber(value) ?? `${tag.name} keeps 64-bit whole numbers, and ${shown} is none. ${AS_TEXT}`;
    case 'real':
      if (typeof value === 'number') return value;
      if (value === 'NaN' || value === 'Infinity' || value === '-Infinity') return Number(value);
      return `${tag.name} keeps numbers, and ${shown} is none.`;
  }
}

const AS_TEXT = 'Send those beyond 9007199254740991 as text, such as "9223372036854775807".';

/** A whole number given as text; as bigint only where a double does not hold it. */
function wholeNumber(value: unknown): number | bigint | null {
  if (typeof value !== 'string' || !/^[+-]?\d{1,19}$/.test(value)) return null;
  const whole = BigInt(value);
  if (BigInt.asIntN(64, whole) !== whole) return null;
  return Number.isSafeInteger(Number(whole)) ? Number(whole) : whole;
}
