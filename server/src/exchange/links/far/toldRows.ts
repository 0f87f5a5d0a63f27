/** Carried samples as rows of values that stand: of each tag and time the last one counts, and what was removed goes. */
import type { CarriedTag } from '@wide-ledger/contract';
import { Status, formatInstant, describeStatus, wholeAt, type Frame } from '@wide-ledger/core';
import type { CarriedPart } from './farEnd.ts';

/** A value as people and other programs read it. */
export interface Row {
  readonly tag: CarriedTag;
  /** Microseconds. */
  readonly micros: number;
  readonly value: number | null;
  /** A text, or the digits of a whole number that a double does not hold. */
  readonly text: string | null;
  readonly status: number;
}

export const timeOf = ({ micros }: Row): string => formatInstant(micros);
export const qualityOf = ({ status }: Row): string => describeStatus(status);

/** What is to be written, and the tags and times that are to go. */
export interface Rows {
  readonly write: readonly Row[];
  readonly remove: readonly { readonly tag: CarriedTag; readonly micros: number }[];
}

/** @param tags by the link's numbers; what belongs to none of them is left out. */
export function rowsOf(entries: readonly CarriedPart[], tags: ReadonlyMap<number, CarriedTag>): Rows {
  const last = new Map<number, Map<number, readonly [Frame, number]>>();
  for (const { frame } of entries) {
    for (let i = 0; i < frame.times.length; i++) {
      const number = frame.tags![i]!;
      const known = last.get(number) ?? new Map<number, readonly [Frame, number]>();
      if (known.size === 0) last.set(number, known);
      known.set(frame.times[i]!, [frame, i]);
    }
  }
  const write: Row[] = [];
  const remove: Rows['remove'][number][] = [];
  for (const [number, times] of last) {
    const tag = tags.get(number);
    if (!tag) continue;
    for (const [micros, [frame, i]] of times) {
      if (frame.status[i] === Status.BadNoEntryExists) remove.push({ tag, micros });
      else write.push(rowAt(tag, frame, i));
    }
  }
  return { write, remove };
}

/** One sample of a frame. */
export function rowAt(tag: CarriedTag, frame: Frame, i: number): Row {
  const value = frame.values[i]!;
  const common = { tag, micros: frame.times[i]!, status: frame.status[i]! };
  if (frame.texts.length > 0) return { ...common, value: null, text: Number.isNaN(value) ? null : frame.texts[value]! };
  const whole = wholeAt(frame, i);
  return { ...common, value: Number.isNaN(value) ? null : value, text: whole === null ? null : String(whole) };
}
