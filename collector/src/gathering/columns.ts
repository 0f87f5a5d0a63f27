/** Samples in columns as they come, and as a frame once they are handed over. */
import { emptyFrame, toWhole, wholeAt, type Frame } from '@wide-ledger/core';
import type { Value } from '../kinds/kind.ts';

/** Numbers, or texts; the two are never in one. */
export class Columns {
  private readonly tags: number[] = [];
  private readonly times: number[] = [];
  private readonly values: Value[] = [];
  private readonly status: number[] = [];

  add(tag: number, time: number, value: Value, status: number): void {
    this.tags.push(tag);
    this.times.push(time);
    this.values.push(value);
    this.status.push(status);
  }

  get length(): number {
    return this.tags.length;
  }

  /** Samples stand by tag, then time: alike stays together. Null where there are none. */
  frame(): Frame | null {
    const { tags, times, values, status } = this;
    if (tags.length === 0) return null;
    const order = Uint32Array.from(tags.keys()).sort((a, b) => tags[a]! - tags[b]! || times[a]! - times[b]!);
    const frame = emptyFrame(tags.length, { tags: true });
    const texts: string[] = [];
    const positions = new Map<string, number>();
    const wholes = values.some((value) => typeof value === 'bigint') ? new BigInt64Array(tags.length) : null;
    const numberOf = (value: Value, at: number): number => {
      if (value === null) return NaN;
      if (typeof value === 'string') {
        const known = positions.get(value) ?? texts.push(value) - 1;
        positions.set(value, known);
        return known;
      }
      if (wholes) wholes[at] = typeof value === 'bigint' ? value : toWhole(value);
      return Number(value);
    };
    order.forEach((from, to) => {
      frame.tags![to] = tags[from]!;
      frame.times[to] = times[from]!;
      frame.values[to] = numberOf(values[from]!, to);
      frame.status[to] = status[from]!;
    });
    return { ...frame, texts, ...(wholes ? { wholes } : {}) };
  }
}

/** The value at a position of a frame, as it was added. */
export function valueAt(frame: Frame, index: number): Value {
  const value = frame.values[index]!;
  if (Number.isNaN(value)) return null;
  if (frame.texts.length > 0) return frame.texts[value] ?? null;
  return wholeAt(frame, index) ?? value;
}
