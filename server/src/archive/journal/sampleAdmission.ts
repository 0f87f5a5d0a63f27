/** Which samples of a request in JSON may be archived, and what becomes of them. Pure but for taking turns. */
import {
  emptyFrame,
  exactJsonText,
  isWhole64,
  parseInstant,
  parseStatus,
  toWhole,
  type Frame,
} from '@wide-ledger/core';
import type { TagRow } from '../../configuration/index.ts';
import { Turns } from '../../ground/index.ts';
import {
  reasonAgainstNothing,
  reasonAgainstStatus,
  reasonAgainstStore,
  reasonAgainstText,
  reasonAgainstTime,
  type Admission,
  type FindTag,
  type KeepsSince,
  type RefusedSample,
} from './admission.ts';

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

/** How many samples are looked at before others get their turn. */
const AT_ONCE = 2000;

/**
 * Looks at samples as they came in JSON, one after the other. Every tag's samples stay in one frame and in their order, so
 * that of two values with one time the later one stands.
 */
class SampleAdmission {
  private readonly rows: Row[] = [];
  private readonly refused: RefusedSample[] = [];
  private readonly texts = new Map<string, number>();

  constructor(
    private readonly tagByName: FindTag<string>,
    private readonly keepsSince: KeepsSince,
    private readonly now: number,
  ) {}

  take(given: unknown, index: number): void {
    const sample = (typeof given === 'object' && given !== null ? given : {}) as GivenSample;
    const tag = typeof sample.tag === 'string' ? this.tagByName(sample.tag) : undefined;
    const time = typeof sample.time === 'string' ? parseInstant(sample.time) : undefined;
    const status = sample.status === undefined ? 0 : statusOf(sample.status);
    const reason = this.reasonAgainst(sample, tag, time, status);
    const value = reason ?? numberOf(sample.value, tag!, this.textPosition);
    const wrong = typeof value === 'string' ? value : this.nothingIn(sample, tag!, Number(value), status!);
    if (wrong === null) {
      const number = value as number | bigint;
      const textual = tag!.type === 'text';
      this.rows.push({ tag: tag!.id, time: time!, value: Number(number), status: status!, textual, given: number });
      return;
    }
    this.refused.push({
      index,
      tag: typeof sample.tag === 'string' ? sample.tag : '',
      time: time ?? null,
      value: typeof sample.value === 'bigint' ? String(sample.value) : exactJsonText(sample.value ?? null),
      status: status ?? null,
      reason: wrong,
    });
  }

  finish(): Admission {
    const frames = [
      frameOf(
        this.rows.filter((row) => !row.textual),
        [],
      ),
      frameOf(
        this.rows.filter(({ textual }) => textual),
        [...this.texts.keys()],
      ),
    ];
    return { frames: frames.filter((frame) => frame !== null), refused: this.refused };
  }

  private readonly textPosition = (text: string): number => {
    const position = this.texts.get(text) ?? this.texts.size;
    this.texts.set(text, position);
    return position;
  };

  private reasonAgainst(
    sample: GivenSample,
    tag: TagRow | undefined,
    time: number | undefined,
    status: number | undefined,
  ): string | null {
    if (!tag) return typeof sample.tag === 'string' ? `There is no tag "${sample.tag}".` : 'The sample names no tag.';
    if (time === undefined)
      return `"${String(sample.time)}" is not a date-time with its offset, such as 2026-11-22T06:00:00Z.`;
    if (status === undefined)
      return `${JSON.stringify(sample.status)} is neither a known status name nor a 32-bit number.`;
    return (
      reasonAgainstMembers(sample) ??
      reasonAgainstTime(time, this.now) ??
      reasonAgainstStore(tag, time, this.keepsSince) ??
      reasonAgainstStatus(status)
    );
  }

  private nothingIn({ value: given }: GivenSample, tag: TagRow, value: number, status: number): string | null {
    return reasonAgainstNothing(tag, value, status, given === null || given === undefined);
  }
}

/** Looks at samples all at once: at a batch of a file, or the few of a correction. */
export function admitSamples(
  samples: readonly unknown[],
  tagByName: FindTag<string>,
  keepsSince: KeepsSince,
  now: number,
): Admission {
  const admission = new SampleAdmission(tagByName, keepsSince, now);
  samples.forEach((sample, index) => admission.take(sample, index));
  return admission.finish();
}

/** The same, letting others have their turn now and then: for as many as a request may bring. */
export async function admitManySamples(
  samples: readonly unknown[],
  tagByName: FindTag<string>,
  keepsSince: KeepsSince,
  now: number,
): Promise<Admission> {
  const admission = new SampleAdmission(tagByName, keepsSince, now);
  const turns = new Turns(AT_ONCE);
  for (let at = 0; at < samples.length; at++) {
    admission.take(samples[at], at);
    await turns.after(1);
  }
  return admission.finish();
}

const statusOf = (given: unknown): number | undefined =>
  typeof given === 'string' || typeof given === 'number' ? parseStatus(given) : undefined;

function frameOf(rows: readonly Row[], texts: readonly string[]): Frame | null {
  if (rows.length === 0) return null;
  const frame = emptyFrame(rows.length, { tags: true });
  const wholes = rows.some(({ given }) => typeof given === 'bigint') ? new BigInt64Array(rows.length) : null;
  for (let i = 0; i < rows.length; i++) {
    const { tag, time, value, status, given } = rows[i]!;
    frame.tags![i] = tag;
    frame.times[i] = time;
    frame.values[i] = value;
    frame.status[i] = status;
    if (wholes) wholes[i] = typeof given === 'bigint' ? given : toWhole(given);
  }
  return { ...frame, texts, wholes };
}

/**
 * A JSON value as the number that a frame keeps, or the sentence that says why it cannot be one. Integers beyond what
 * JSON's readers hold exactly come as text and go on as bigint.
 */
function numberOf(value: unknown, tag: TagRow, textPosition: (text: string) => number): number | bigint | string {
  if (value === null || value === undefined) return NaN;
  const shown = typeof value === 'bigint' ? String(value) : exactJsonText(value);
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
      return wholeNumber(value) ?? `${tag.name} keeps 64-bit whole numbers, and ${shown} is none.`;
    case 'real':
      if (typeof value === 'number' || typeof value === 'bigint') return Number(value);
      if (value === 'NaN' || value === 'Infinity' || value === '-Infinity') return Number(value);
      return `${tag.name} keeps numbers, and ${shown} is none.`;
  }
}

/** A whole number of many digits, or given as text; as bigint only where a double does not hold it. */
function wholeNumber(value: unknown): number | bigint | null {
  if (typeof value !== 'bigint' && (typeof value !== 'string' || !/^[+-]?\d{1,19}$/.test(value))) return null;
  const whole = BigInt(value);
  if (!isWhole64(whole)) return null;
  return Number.isSafeInteger(Number(whole)) ? Number(whole) : whole;
}
