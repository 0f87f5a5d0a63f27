/** What a source holds for its tags at this moment, and something else in its place. */
import type { ConfiguredTag, DeviceValue, Held, Written } from '@wide-ledger/contract';
import { describeStatus } from '@wide-ledger/core';
import { WriteRefused, toldOf, type Sample, type Session } from '../kinds/kind.ts';

/** What a source holds for its tags, asked and written one after the other. */
export class DeviceValues {
  /** The last writing, done or not. */
  private writing: Promise<unknown> = Promise.resolve();

  /** @param reach the tag of a number, and the session that stands. @throws WriteRefused where there is none */
  constructor(private readonly reach: (tag: number) => readonly [Session, ConfiguredTag]) {}

  /** @throws SourceAway, WriteRefused */
  holds(tag: number): Promise<Held> {
    return holds(...this.reach(tag));
  }

  /** Writes a value while the source holds what was seen. @throws SourceAway, WriteRefused where it was not tried */
  writeOver(tag: number, value: DeviceValue, seen: DeviceValue | null): Promise<Written> {
    // Two who saw the same are not both to find it unchanged.
    const written = this.writing.then(() => writeOver(...this.reach(tag), value, seen));
    this.writing = written.catch(() => undefined);
    return written;
  }
}

function heldOf({ value, status, fault }: Sample): Held {
  if (fault) throw new WriteRefused(fault.sentence, fault.code);
  return { value: toldOf(value), status, quality: describeStatus(status) };
}

const notWritable = (): WriteRefused =>
  new WriteRefused('Values cannot be written into a source of this kind.', 'NOT_WRITABLE');

/** @throws SourceAway, WriteRefused */
async function holds(session: Session, tag: ConfiguredTag): Promise<Held> {
  if (!session.readNow) throw notWritable();
  return heldOf(await session.readNow(tag));
}

/** A value as it was told, as one of the tag. @throws WriteRefused */
function valueOf({ type }: ConfiguredTag, value: DeviceValue): number | bigint | string {
  if (type === 'text') return String(value);
  if (typeof value === 'number') return value;
  if (type === 'integer' && /^-?\d{1,20}$/.test(value)) return BigInt(value);
  throw new WriteRefused(`"${value}" is no number.`, 'NO_NUMBER');
}

/**
 * Writes a value while the source holds what was seen, and reads back.
 * @param seen what somebody was shown; null: no value. @throws SourceAway, WriteRefused where it was not tried
 */
async function writeOver(
  session: Session,
  tag: ConfiguredTag,
  given: DeviceValue,
  seen: DeviceValue | null,
): Promise<Written> {
  if (!session.write) throw notWritable();
  const value = valueOf(tag, given);
  const before = await holds(session, tag);
  if (before.value !== seen)
    return {
      outcome: 'changed meanwhile',
      sentence: `It holds ${before.value ?? 'no value'} by now, not ${seen ?? 'no value'}: nothing was written.`,
      before,
      after: null,
    };
  const unknown = (sentence: string): Written => ({ outcome: 'not known', sentence, before, after: null });
  try {
    await session.write(tag, value);
  } catch (error) {
    const { message } = error as Error;
    if (error instanceof WriteRefused) return { outcome: 'refused', sentence: message, before, after: null };
    return unknown(`Whether it was written is not known. ${message} Read again what it holds.`);
  }
  let after: Held;
  try {
    after = await holds(session, tag);
  } catch (error) {
    return unknown(`It was taken, and could not be read back. ${(error as Error).message}`);
  }
  return isAsWritten(tag, value, after.value)
    ? { outcome: 'written', sentence: '', before, after }
    : {
        outcome: 'differs',
        sentence: `It was taken, and what is read back is ${after.value ?? 'no value'}: the device limits it, or goes on changing it.`,
        before,
        after,
      };
}

/** Registers have steps: what was read back may be the nearest that they can hold. */
function isAsWritten({ reading }: ConfiguredTag, value: number | bigint | string, after: DeviceValue | null): boolean {
  if (typeof value !== 'number' || typeof after !== 'number') return after === toldOf(value);
  const { factor = 1, ranges } = reading.scaling ?? {};
  const step = Math.abs(ranges ? (ranges.high - ranges.low) / (ranges.rawHigh - ranges.rawLow) : factor);
  const wide = Math.max(Math.abs(value) * 2 ** -23, step / 2);
  return Math.abs(after - value) <= wide * (1 + 1e-9);
}
