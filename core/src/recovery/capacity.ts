/** How long buffers last, and how long it takes to catch up. Plain arithmetic, the same for people and for plans. */

/** What fills a buffer. */
export interface Filling {
  /** Values that it holds. */
  readonly capacity: number;
  /** Values that wait in it already. */
  readonly held: number;
  readonly valuesPerSecond: number;
}

/** Seconds until it is full; infinite where nothing fills it. */
export function untilFull({ capacity, held, valuesPerSecond }: Filling): number {
  const room = Math.max(0, capacity - held);
  return valuesPerSecond > 0 ? room / valuesPerSecond : Infinity;
}

/** How a backlog is worked off. */
export interface CatchingUp {
  /** Values that wait. */
  readonly backlog: number;
  readonly valuesPerCall: number;
  readonly callsPerSecond: number;
  /** What comes meanwhile and goes the same way. */
  readonly liveValuesPerSecond: number;
}

/** Seconds until it is worked off; infinite where more comes than goes. */
export function untilCaughtUp({ backlog, valuesPerCall, callsPerSecond, liveValuesPerSecond }: CatchingUp): number {
  if (backlog <= 0) return 0;
  const net = valuesPerCall * callsPerSecond - liveValuesPerSecond;
  return net > 0 ? backlog / net : Infinity;
}
