/** How a value got into the archive. The position in the list is the number kept in frames: append only. */
export const ORIGINS = ['live', 'buffered', 'backfilled', 'entered', 'corrected', 'derived', 'carried'] as const;
export type Origin = (typeof ORIGINS)[number];

/** The number by which an origin is kept. */
export const originCode = (origin: Origin): number => ORIGINS.indexOf(origin);

/** @throws RangeError when the number stands for no origin, as in a frame from a newer version. */
export function originName(code: number): Origin {
  const name = ORIGINS[code];
  if (name === undefined) throw new RangeError(`${code} is no origin; known are 0 to ${ORIGINS.length - 1}`);
  return name;
}
