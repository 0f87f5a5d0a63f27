/** What is kept of what was read: each tag's deadband and longest silence, against what was kept of it before. */
import type { ConfiguredTag } from '@wide-ledger/contract';
import { SECOND, SeriesKeeping, type KeptSample } from '@wide-ledger/core';
import type { Fault, Value } from '../kinds/kind.ts';

/** What a filter compares: of a 64-bit integer the double next to it, of no value NaN. */
const comparable = (value: Value): number | string =>
  typeof value === 'string' ? value : value === null ? NaN : Number(value);

/** A sample on its way, its value as it came. */
export interface Kept extends KeptSample {
  readonly tag: number;
  readonly given: Value;
}

/** What is held back, as it is noted for a restart: tag, time, value with 64-bit integers in digits, status. */
export type HeldNote = readonly [tag: number, time: number, value: number | string, status: number];

/** What was noted, as it was held back: texts never are, so that digits are an integer. */
export const keptOf = (notes: readonly HeldNote[]): Kept[] =>
  notes.map(([tag, time, value, status]) => {
    const given = typeof value === 'string' ? BigInt(value) : value;
    return { tag, time, value: comparable(given), given, status };
  });

/** A tag as it was when its filter was made. */
interface Filtered {
  tag: ConfiguredTag;
  readonly settings: string;
  readonly series: SeriesKeeping<Kept>;
}

const settingsOf = ({ reading: { deadband, longestSilenceSeconds }, low, high }: ConfiguredTag): string =>
  JSON.stringify([deadband, longestSilenceSeconds, low, high]);

/** The filters of a source's tags. */
export class Keeping {
  private readonly filters = new Map<number, Filtered>();

  /** What is to be kept now that a sample came, oldest first. @param time microseconds. */
  take(tag: ConfiguredTag, time: number, value: Value, status: number, fault: Fault | null): readonly Kept[] {
    const known = this.filters.get(tag.id);
    const held = known && known.tag !== tag ? this.retune(known, tag) : null;
    const { series } = this.filters.get(tag.id) ?? this.tune(tag);
    const before = held === null ? [] : [held];
    // The same fault again is no news, though nothing else would filter it.
    if (fault && value === null && series.lastKept?.status === status) return before;
    return [...before, ...series.take({ tag: tag.id, time, value: comparable(value), given: value, status })];
  }

  /** When the last sample is from that was kept or is held back, in microseconds; long ago where there is none. */
  lastOf(tag: number): number {
    const series = this.filters.get(tag)?.series;
    return (series?.held ?? series?.lastKept)?.time ?? -Infinity;
  }

  /** What is held back at this moment: a restart keeps it. */
  get held(): HeldNote[] {
    return [...this.filters.values()].flatMap(({ series: { held } }) =>
      held
        ? [[held.tag, held.time, typeof held.given === 'bigint' ? String(held.given) : Number(held.given), held.status]]
        : [],
    );
  }

  /** The next sample of a tag is kept, whatever it is. @returns what was held back of it until now */
  forget(tag: number): Kept | null {
    const held = this.filters.get(tag)?.series.end() ?? null;
    this.filters.delete(tag);
    return held;
  }

  /** The same of all tags. */
  forgetAll(): Kept[] {
    return [...this.filters.keys()].flatMap((tag) => this.forget(tag) ?? []);
  }

  /**
   * What is known of each tag at a moment, to be said anew: the last sample by then, at that moment; what was held back
   * and is of later, as it is. The filters go on from these. @param at microseconds.
   */
  restated(at: number): Kept[] {
    return [...this.filters.values()].flatMap(({ series }) => {
      const known = series.held ?? series.lastKept;
      if (!known || (known.time > at && series.held === null)) return [];
      const said = known.time > at ? known : { ...known, time: at };
      series.begin(said);
      return [said];
    });
  }

  private tune(tag: ConfiguredTag): Filtered {
    const { low, high, reading } = tag;
    const filtered = {
      tag,
      settings: settingsOf(tag),
      series: new SeriesKeeping<Kept>({
        deadband: reading.deadband,
        longestSilence: reading.longestSilenceSeconds === null ? null : reading.longestSilenceSeconds * SECOND,
        range: low !== null && high !== null ? { low, high } : null,
      }),
    };
    this.filters.set(tag.id, filtered);
    return filtered;
  }

  /** A tag in another version: where it is filtered otherwise, what was held back is kept. */
  private retune(known: Filtered, tag: ConfiguredTag): Kept | null {
    known.tag = tag;
    return known.settings === settingsOf(tag) ? null : this.forget(tag.id);
  }
}
