/** What is kept of what was read: a tag's deadband and longest silence, against its last kept sample. */
import type { ConfiguredTag } from '@wide-ledger/contract';
import { SECOND, deadbandWidth, isKept, type KeptSample } from '@wide-ledger/core';
import type { Fault, Value } from '../kinds/kind.ts';

/** What a filter compares: of a 64-bit integer the double next to it, of no value NaN. */
const comparable = (value: Value): number | string =>
  typeof value === 'string' ? value : value === null ? NaN : Number(value);

/** The last sample of a tag that was kept, its value as it came. */
interface LastKept extends KeptSample {
  readonly tag: number;
  readonly given: Value;
}

/** The last kept samples of a source's tags. */
export class Keeping {
  private readonly last = new Map<number, LastKept>();

  get all(): Iterable<LastKept> {
    return this.last.values();
  }

  /** Whether a sample is worth keeping; if so it is what the next one is compared with. @param time microseconds. */
  keeps(tag: ConfiguredTag, time: number, value: Value, status: number, fault: Fault | null): boolean {
    const sample = { tag: tag.id, time, value: comparable(value), given: value, status };
    const { deadband, longestSilenceSeconds } = tag.reading;
    const range = tag.low !== null && tag.high !== null ? { low: tag.low, high: tag.high } : null;
    const silence = longestSilenceSeconds === null ? null : longestSilenceSeconds * SECOND;
    const last = this.last.get(tag.id);
    // The same fault again is no news, though nothing else would filter it.
    if (last && fault && last.status === status) return false;
    if (!isKept(sample, last, deadbandWidth(deadband, range), silence)) return false;
    this.last.set(tag.id, sample);
    return true;
  }

  /** The next sample of a tag is kept, whatever it is. */
  forget(tag: number): void {
    this.last.delete(tag);
  }

  forgetAll(): void {
    this.last.clear();
  }
}
