/** What is tried, and what comes of it: between the screen and the worker beside it. Pure. */
import type { EnvelopeAnswer } from '@wide-ledger/contract';
import {
  KeepingRehearsal,
  fastestMovement,
  proposeDeadband,
  spectrumOf,
  type Columns,
  type HourlyDifference,
  type Movement,
  type ProposedDeadband,
  type RehearsedKeeping,
  type SpectrumBand,
} from '@wide-ledger/core';

export interface TriedTag {
  readonly tag: string;
  readonly stepped: boolean;
  readonly settings: RehearsedKeeping;
}

export interface Trial {
  /** Milliseconds since 1970. */
  readonly from: number;
  readonly to: number;
  readonly tags: readonly TriedTag[];
  /** The one that is drawn. */
  readonly drawn: string;
}

export interface TrialRow {
  readonly tag: string;
  readonly samples: number;
  readonly kept: number;
  readonly bytes: number;
  readonly bytesBefore: number;
  readonly days: number;
  readonly largestError: number;
  readonly meanError: number;
  readonly hourly: readonly HourlyDifference[];
  readonly proposed: ProposedDeadband | null;
  /** The fastest that matters. */
  readonly movement: Movement | null;
  /** The window holds more than is looked at: it ends here. Milliseconds. */
  readonly cutAt: number | null;
}

/** What was recorded and what is kept of it, as trends draw it. */
export interface Drawing {
  readonly tag: string;
  readonly recorded: EnvelopeAnswer;
  readonly kept: EnvelopeAnswer;
  /** What of it moves how fast. */
  readonly spectrum: readonly SpectrumBand[];
}

export type TrialAnswer =
  | {
      readonly is: 'loading';
      readonly tag: string;
      readonly loaded: number;
      readonly done: number;
      readonly of: number;
    }
  | {
      readonly is: 'tried';
      readonly rows: readonly TrialRow[];
      readonly drawing: Drawing | null;
      readonly milliseconds: number;
    }
  | { readonly is: 'failed'; readonly sentence: string };

/** Columns of a wide chart, each of a few pixels: what is dense is then drawn as its range. */
const COLUMNS = 700;

/** Samples as a trend: all of them where they are few, else the first, least, greatest and last of each column of pixels. */
export function trendOf(
  tag: string,
  { times, values }: Pick<Columns, 'times' | 'values'>,
  { from, to }: Pick<Trial, 'from' | 'to'>,
): EnvelopeAnswer {
  const drawn: number[] = [];
  const columnOf = (i: number): number => Math.floor(((times[i]! / 1000 - from) / (to - from)) * COLUMNS);
  for (let i = 0; i < times.length;) {
    const column = columnOf(i);
    let [least, most, end] = [i, i, i];
    for (; end < times.length && columnOf(end) === column; end++) {
      if (values[end]! < values[least]!) least = end;
      if (values[end]! > values[most]!) most = end;
    }
    drawn.push(...new Set([i, Math.min(least, most), Math.max(least, most), end - 1]));
    i = end;
  }
  const orNull = (value: number): number | null => (Number.isFinite(value) ? value : null);
  return {
    tag,
    from,
    to,
    samples: times.length,
    times: drawn.map((i) => times[i]! / 1000),
    values: drawn.map((i) => orNull(values[i]!)),
    gaps: [],
  };
}

const DAY = 86_400e6;

/** What was recorded of a tag, and what of it does not depend on settings. */
export class RecordedTag {
  private readonly rehearsal: KeepingRehearsal;
  private readonly proposed: ProposedDeadband | null;
  private readonly movement: Movement | null;
  private readonly days: number;
  /** Once it was drawn. */
  private spectrum: readonly SpectrumBand[] | null = null;

  constructor(
    private readonly recorded: Columns,
    stepped: boolean,
    private readonly cutAt: number | null,
  ) {
    this.rehearsal = new KeepingRehearsal(recorded, stepped);
    this.movement = fastestMovement(recorded);
    this.proposed = proposeDeadband(recorded, this.movement);
    const { times } = recorded;
    this.days = times.length < 2 ? 0 : (times.at(-1)! - times[0]!) / DAY;
  }

  /** @param drawn whether lines are wanted, and over which window */
  try(
    { tag, settings }: TriedTag,
    drawn: Pick<Trial, 'from' | 'to'> | null,
  ): { readonly row: TrialRow; readonly drawing: Drawing | null } {
    const { recorded, proposed, movement, days, cutAt } = this;
    const { kept, ...outcome } = this.rehearsal.try(settings);
    const { times, values } = recorded;
    const row = { ...outcome, tag, samples: times.length, kept: kept.length, days, proposed, movement, cutAt };
    if (!drawn) return { row, drawing: null };
    const some = {
      times: Float64Array.from(kept, (i) => times[i]!),
      values: Float64Array.from(kept, (i) => values[i]!),
    };
    const spectrum = (this.spectrum ??= spectrumOf(recorded));
    return {
      row,
      drawing: { tag, recorded: trendOf('recorded', recorded, drawn), kept: trendOf('kept', some, drawn), spectrum },
    };
  }
}
