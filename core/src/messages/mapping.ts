/**
 * From a message to values of tags: which of its fields each tag takes, when the value was, and how good it is. What
 * cannot be a value is told with the reason, and loses nothing of the others.
 */
import { clockInstants, dateNumbers, type DateOrder } from '../files/clock.ts';
import { Status, isGood, parseStatus } from '../status/codes.ts';
import { parseInstant } from '../time/instants.ts';
import { exactJsonText, numberInText } from './exactJson.ts';
import { leafAt, type MessagePath } from './messagePath.ts';

/** Where in a message a tag's value lies. */
export interface MessageField<Tag> {
  readonly tag: Tag;
  readonly field: MessagePath;
}

/** By whose clock times without an offset are told, and in which order they name the day. */
export interface MessageClock {
  readonly zone: string;
  readonly dates: Exclude<DateOrder, 'undecided'>;
}

/** What is said of all messages of a source: where their time and their status lie; null: nowhere. */
export interface MessageTerms {
  readonly time: MessagePath | null;
  readonly status: MessagePath | null;
  /** Nothing where nobody said it: then times without an offset are not read. */
  readonly clock?: MessageClock | null;
}

/** How a message came. */
export interface Arrival {
  /** Microseconds, by whoever took it. */
  readonly at: number;
  /** Kept by the broker from before: its value is of whenever it was sent. */
  readonly retained: boolean;
}

export interface MessageRow<Tag> {
  readonly tag: Tag;
  readonly value: number | bigint | string | null;
  readonly status: number;
  /** Microseconds; null where the message does not say: it is of when it came. */
  readonly time: number | null;
  /** Why there is no value, or none that can be trusted. */
  readonly trouble: string | null;
}

/** The values of a message. */
export const rowsOfMessage = <Tag>(
  message: unknown,
  fields: readonly MessageField<Tag>[],
  terms: MessageTerms,
  arrival: Pick<Arrival, 'retained'>,
): MessageRow<Tag>[] => fields.flatMap(({ tag, field }) => rowsOfField(message, tag, field, terms, arrival));

function rowsOfField<Tag>(
  message: unknown,
  tag: Tag,
  field: MessagePath,
  terms: MessageTerms,
  { retained }: Pick<Arrival, 'retained'>,
): MessageRow<Tag>[] {
  const each = field.indexOf(null);
  if (each === -1)
    return [rowOf(tag, leafAt(message, field), timeAt(message, terms), statusAt(message, terms), retained)];
  const list = leafAt(message, field.slice(0, each));
  if (!Array.isArray(list)) return [refused(tag, 'There is no list where one is gone through.', null)];
  return list.map((_, i) => {
    const at = (path: MessagePath | null): MessagePath | null => path && alongside(path, field, each, i);
    const own = { time: at(terms.time), status: at(terms.status) };
    return rowOf(tag, leafAt(message, at(field)!), timeAt(message, own), statusAt(message, own), retained);
  });
}

/** A path that goes through the same list, at one of its places; any other one is as it is. */
function alongside(path: MessagePath, list: MessagePath, each: number, place: number): MessagePath {
  const same = path.indexOf(null) === each && path.slice(0, each).every((step, i) => step === list[i]);
  return same ? [...path.slice(0, each), place, ...path.slice(each + 1)] : path;
}

type Found<What> = { readonly is: What | null; readonly trouble: string | null };

function rowOf<Tag>(
  tag: Tag,
  found: unknown,
  time: Found<number>,
  status: Found<number>,
  retained: boolean,
): MessageRow<Tag> {
  if (found === undefined) return refused(tag, 'The message does not have this field.', time.is);
  if (found === null) return { tag, value: null, status: status.is ?? Status.BadNoData, time: time.is, trouble: null };
  if (typeof found === 'object' || typeof found === 'function')
    return refused(tag, 'This field holds others: pick one of them.', time.is);
  const value = typeof found === 'boolean' ? Number(found) : (found as number | bigint | string);
  // What a broker kept from before is of nobody knows when, unless it says so itself; nor is a value whose time cannot be read.
  const kept = retained && time.is === null ? Status.UncertainLastUsableValue : Status.Good;
  const own = time.trouble === null ? kept : Status.Uncertain;
  // A status that the message says stands, but no better than its time is known.
  const as = status.is !== null && (time.trouble === null || !isGood(status.is)) ? status.is : own;
  return { tag, value, status: as, time: time.is, trouble: time.trouble ?? status.trouble };
}

const refused = <Tag>(tag: Tag, trouble: string, time: number | null): MessageRow<Tag> => ({
  tag,
  value: null,
  status: Status.BadConfigurationError,
  time,
  trouble,
});

const NOTHING = { is: null, trouble: null } as const;

/** What becomes of a value whose time nobody can tell. */
const WHEN_IT_CAME = 'its values are archived with the time of arrival, as Uncertain';

function timeAt(message: unknown, { time, clock }: MessageTerms): Found<number> {
  if (time === null) return NOTHING;
  const said = leafAt(message, time);
  if (said === undefined || said === null)
    return { is: null, trouble: `The message does not say its time: ${WHEN_IT_CAME}.` };
  const is = instantSaid(said) ?? (typeof said === 'string' && clock ? clockSaid(said, clock) : undefined);
  if (is !== undefined) return { is, trouble: null };
  const why =
    typeof said === 'string' && dateNumbers(said) !== null
      ? clock
        ? `is not a time in the zone ${clock.zone} (dates: ${clock.dates})`
        : 'has no offset: set Zone and Dates of this source'
      : 'is not a time';
  return { is: null, trouble: `${shown(said)} ${why}; ${WHEN_IT_CAME}.` };
}

/** A time by the clock of a zone. In an hour that the clock shows twice it is the first: messages do not tell. */
const clockSaid = (said: string, { zone, dates }: MessageClock): number | undefined =>
  clockInstants(said, dates, zone)[0];

function statusAt(message: unknown, { status }: MessageTerms): Found<number> {
  if (status === null) return NOTHING;
  const said = leafAt(message, status);
  if (said === undefined)
    return { is: Status.Uncertain, trouble: 'The message does not say its status: the value is taken for uncertain.' };
  const is = statusSaid(said);
  return is === undefined
    ? { is: Status.Uncertain, trouble: `${shown(said)} is no status: the value is taken for uncertain.` }
    : { is, trouble: null };
}

const shown = (said: unknown): string => (exactJsonText(said) || 'That').slice(0, 60);

/** Since 1970 in which unit a number is, told by its size: each covers the years 1990 to 2255 without meeting another. */
const UNITS: readonly (readonly [most: number, micros: number])[] = [
  [9e9, 1e6],
  [9e12, 1e3],
  [9e15, 1],
  [9e18, 1e-3],
];
/** Below it a number of seconds would lie before 1990, and may be anything. */
const LEAST = 631_152_000;

/** A time as messages have it: RFC 3339, or a number of seconds, milliseconds, microseconds or nanoseconds since 1970. */
export function instantSaid(said: unknown): number | undefined {
  if (typeof said === 'string')
    return /^\d+(\.\d+)?$/.test(said) ? instantSaid(numberInText(said)) : parseInstant(withColon(said));
  // Only nanoseconds have so many digits.
  if (typeof said === 'bigint') return said < 9n * 10n ** 18n ? Number((said + 500n) / 1000n) : undefined;
  if (typeof said !== 'number' || said < LEAST) return undefined;
  const unit = UNITS.find(([most]) => said < most);
  return unit && Math.round(said * unit[1]);
}

/** ISO 8601 allows offsets without a colon, RFC 3339 does not. */
const withColon = (text: string): string => text.replace(/([T ]\d{2}:.*[+-]\d{2})(\d{2})$/, '$1:$2');

/** A status as messages have it: a code or name of OPC UA, true and false, or one of the usual words. */
export function statusSaid(said: unknown): number | undefined {
  if (typeof said === 'boolean') return said ? Status.Good : Status.Bad;
  if (typeof said === 'number') return parseStatus(said);
  if (typeof said !== 'string') return undefined;
  return parseStatus(said) ?? WORDS[said.trim().toLowerCase()];
}

const WORDS: Readonly<Record<string, number>> = {
  ok: Status.Good,
  valid: Status.Good,
  suspect: Status.Uncertain,
  questionable: Status.Uncertain,
  invalid: Status.Bad,
  error: Status.Bad,
  fault: Status.BadDeviceFailure,
};
