/** Randomness that depends on nothing but a seed and a moment: the plant's past and its present agree. */

/** A number in [0, 1) from two whole numbers; a 32-bit mix after Murmur3's finaliser. */
export function chance(seed: number, moment: number): number {
  let h = (seed ^ Math.imul(moment | 0, 0x9e3779b1) ^ Math.imul(Math.floor(moment / 0x100000000), 0x85ebca6b)) | 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 0x100000000;
}

/** About normal, mean 0, deviation 1: the sum of four chances. */
export function normal(seed: number, moment: number): number {
  let sum = -2;
  for (let i = 0; i < 4; i++) sum += chance(seed * 31 + i, moment);
  return sum * Math.sqrt(3);
}

/** A wander that is smooth over `seconds`: cosine between one chance and the next, between −1 and 1. */
export function wander(seed: number, seconds: number, at: number): number {
  const step = Math.floor(at / seconds);
  const share = (1 - Math.cos(Math.PI * (at / seconds - step))) / 2;
  const from = chance(seed, step) * 2 - 1;
  const to = chance(seed, step + 1) * 2 - 1;
  return from + (to - from) * share;
}
