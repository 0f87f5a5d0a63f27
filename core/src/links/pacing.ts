/** How much a link sends at a time, and how fast: by what the line was measured to bear, and by what is allowed. */

/** How much may be sent between two times of day; the same twice: all day. */
export interface LinkLimit {
  /** `HH:MM` in the site's zone. */
  readonly from: string;
  readonly to: string;
  readonly kilobytesPerSecond: number;
}

/** Whether a time of day lies in a span of the clock, which may go over midnight. */
function holdsAt({ from, to }: LinkLimit, clock: string): boolean {
  if (from === to) return true;
  return from < to ? from <= clock && clock < to : clock >= from || clock < to;
}

/**
 * What may be sent at a time of day.
 * @param clock `HH:MM` in the site's zone.
 * @returns bytes a second, the least of all that hold; null for no limit.
 */
export function limitAt(limits: readonly LinkLimit[], clock: string): number | null {
  const holding = limits.filter((limit) => holdsAt(limit, clock)).map((limit) => limit.kilobytesPerSecond * 1000);
  return holding.length === 0 ? null : Math.min(...holding);
}

/** Samples of one request: below, asking costs more than carrying; above, one that is lost is sent again for too long. */
export const LEAST_STRETCH = 2_000;
export const MOST_STRETCH = 200_000;
/** Milliseconds that a request should take. */
const WANTED = 1_000;

/**
 * How many samples the next request should carry, so that it takes about a second on this line: at most twice as many as
 * the last one, at least half as many.
 * @param size how many the last one was allowed. @param samples that it carried. @param milliseconds that it took.
 */
export function nextSize(size: number, samples: number, milliseconds: number): number {
  // One that was neither full nor slow says nothing of what the line bears.
  if (samples < size / 2 && milliseconds <= WANTED) return size;
  const fitting = (samples * WANTED) / Math.max(1, milliseconds);
  const next = Math.min(2 * size, Math.max(size / 2, fitting));
  return Math.round(Math.min(MOST_STRETCH, Math.max(LEAST_STRETCH, next)));
}

/** How a link stood at a moment. */
export interface LinkMoment {
  /** Seconds. */
  readonly at: number;
  /** Values behind what is acknowledged. */
  readonly waiting: number;
  /** Values and bytes that were sent since it was made. */
  readonly samples: number;
  readonly bytes: number;
}

export interface LinkRate {
  readonly valuesPerSecond: number;
  readonly bytesPerSecond: number;
  /** Until nothing waits, as it goes now; 0 where nothing does, null where it falls behind or stands. */
  readonly catchUpSeconds: number | null;
}

/** What a link does, between the first and the last of some moments. */
export function rateOf(moments: readonly LinkMoment[]): LinkRate {
  const first = moments[0];
  const last = moments.at(-1);
  const seconds = first && last ? last.at - first.at : 0;
  if (!first || !last || seconds <= 0)
    return { valuesPerSecond: 0, bytesPerSecond: 0, catchUpSeconds: last?.waiting === 0 ? 0 : null };
  const caughtUp = (first.waiting - last.waiting) / seconds;
  return {
    // A link that was made anew begins to count anew.
    valuesPerSecond: Math.max(0, last.samples - first.samples) / seconds,
    bytesPerSecond: Math.max(0, last.bytes - first.bytes) / seconds,
    catchUpSeconds: last.waiting === 0 ? 0 : caughtUp > 0 ? last.waiting / caughtUp : null,
  };
}
