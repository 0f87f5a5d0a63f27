/**
 * What is kept of one series, sample by sample: by its deadband, or along lines. One place for collectors and for whoever
 * tries settings on what was recorded, so that both do the same.
 */
import type { Range } from '../samples/range.ts';
import { SECOND } from '../time/instants.ts';
import { deadbandWidth, isKept, lineWidth, type Deadband, type KeptSample } from './deadband.ts';
import { SwingingDoor } from './swingingDoor.ts';

/** A sample is held back for so long at most where no longest silence is set. Microseconds. */
const LONGEST_HELD = 600 * SECOND;

export interface KeepingSettings {
  readonly deadband: Deadband;
  /** Microseconds; null: for ever. */
  readonly longestSilence: number | null;
  /** Of the tag, for what is given in percent of it. */
  readonly range: Range | null;
}

/** Times are microseconds; a value that is none is NaN. */
export class SeriesKeeping<Sample extends KeptSample> {
  private last: Sample | null = null;
  private readonly width: number;
  private readonly silence: number | null;
  private readonly door: SwingingDoor<Sample & { readonly value: number }> | null;

  constructor({ deadband, longestSilence, range }: KeepingSettings) {
    this.width = deadbandWidth(deadband, range);
    const along = lineWidth(deadband, range);
    this.door = along === null ? null : new SwingingDoor(along);
    this.silence = longestSilence ?? (this.door ? LONGEST_HELD : null);
  }

  /** The last sample that was kept. */
  get lastKept(): Sample | null {
    return this.last;
  }

  /** @returns what is kept now that this one came, oldest first: often nothing, and the one before it along lines. */
  take(sample: Sample): readonly Sample[] {
    const { door } = this;
    if (!door) {
      if (!isKept(sample, this.last ?? undefined, this.width, this.silence)) return [];
      this.last = sample;
      return [sample];
    }
    const goesOn = this.last !== null && sample.status === this.last.status && isNumber(sample) && isNumber(this.last);
    return goesOn ? this.along(door, sample) : this.anew(door, sample);
  }

  /** The series is interrupted: the next sample is kept, whatever it is. @returns what was held back, and is kept */
  end(): Sample | null {
    this.last = null;
    return this.door?.end() ?? null;
  }

  /** Goes on from a sample that is kept for another reason; what was held back is passed over. */
  begin(sample: Sample): void {
    this.last = sample;
    if (isNumber(sample)) this.door?.begin(sample);
  }

  /** What is held back at the moment: it is known, and not yet kept. */
  get held(): Sample | null {
    return this.door?.held ?? null;
  }

  private along(door: SwingingDoor<Sample & { readonly value: number }>, sample: Sample & { readonly value: number }) {
    const bent = door.offer(sample);
    const silent = this.silence !== null && sample.time - (bent ?? this.last)!.time >= this.silence;
    const kept = bent === null ? [] : [bent];
    if (silent && bent !== sample) {
      kept.push(sample);
      door.begin(sample);
    }
    if (kept.length > 0) this.last = kept.at(-1)!;
    return kept;
  }

  /** A change of quality, a text, or no number always passes, and what was held back before it. */
  private anew(door: SwingingDoor<Sample & { readonly value: number }>, sample: Sample): Sample[] {
    const held = door.end();
    const silent = this.silence !== null && this.last !== null && sample.time - this.last.time >= this.silence;
    // Without a value the same status again is no news.
    if (
      this.last !== null &&
      sample.status === this.last.status &&
      Object.is(sample.value, this.last.value) &&
      held === null &&
      !silent
    )
      return [];
    this.begin(sample);
    return held === null ? [sample] : [held, sample];
  }
}

const isNumber = <Sample extends KeptSample>(sample: Sample): sample is Sample & { readonly value: number } =>
  typeof sample.value === 'number' && Number.isFinite(sample.value);
