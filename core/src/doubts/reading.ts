/** Whether a tag is read as often as its movements need. Times in microseconds. */
import { firstAtOrAfter, type Columns } from '../aggregates/series.ts';
import type { Span } from '../coverage/spans.ts';
import { MOST_SAMPLED, fastestMovement, sampledAt } from '../sampling/check.ts';
import type { ReadBadly } from './doubt.ts';

/** Gathers the newest samples of a tag: those by which its fastest movement is found. */
export class ReadingBook {
  private readonly kept: Columns[] = [];
  private count = 0;

  /** @param intervalMilliseconds at which the tag is read */
  constructor(
    private readonly window: Span,
    private readonly intervalMilliseconds: number,
  ) {}

  /** Samples that follow those before; those outside the window are left out. */
  take({ times, values, status }: Columns): void {
    const [first, end] = [firstAtOrAfter(times, this.window.from), firstAtOrAfter(times, this.window.to)];
    if (first === end) return;
    this.kept.push({
      times: times.subarray(first, end),
      values: values.subarray(first, end),
      status: status.subarray(first, end),
    });
    this.count += end - first;
    while (this.count - this.kept[0]!.times.length >= MOST_SAMPLED) this.count -= this.kept.shift()!.times.length;
  }

  /** What was recorded can tell of no movement that is faster than two of its samples. */
  finish(): ReadBadly | null {
    const recorded = joined(this.kept, this.count);
    // What only ever grows counts: the steps in which it does so are no movement.
    if (onlyGrows(recorded.values)) return null;
    const movement = fastestMovement(recorded);
    if (!movement) return null;
    const { verdict, proposed } = sampledAt(movement, this.intervalMilliseconds / 1000);
    const mends = verdict === 'too slow' ? proposed < this.intervalMilliseconds : proposed > this.intervalMilliseconds;
    if (verdict === 'fits' || !mends) return null;
    const { times } = recorded;
    return {
      kind: verdict,
      from: times[Math.max(0, times.length - MOST_SAMPLED)]!,
      to: times.at(-1)!,
      intervalMilliseconds: this.intervalMilliseconds,
      proposedMilliseconds: proposed,
      movement,
    };
  }
}

function onlyGrows(values: Float64Array): boolean {
  for (let i = 1; i < values.length; i++) if (values[i]! < values[i - 1]!) return false;
  return true;
}

function joined(parts: readonly Columns[], count: number): Columns {
  const [times, values, status] = [new Float64Array(count), new Float64Array(count), new Uint32Array(count)];
  let at = 0;
  for (const part of parts) {
    times.set(part.times, at);
    values.set(part.values, at);
    status.set(part.status, at);
    at += part.times.length;
  }
  return { times, values, status };
}
