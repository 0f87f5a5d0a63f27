/** Mixing words of 32 bits. Each step can be undone, so that nothing which differs in one word comes out the same. */

/** One round of MurmurHash3 (Austin Appleby, public domain) over a word. */
export function mixed(state: number, word: number): number {
  let k = Math.imul(word, 0xcc9e2d51);
  k = (k << 15) | (k >>> 17);
  const h = state ^ Math.imul(k, 0x1b873593);
  return (Math.imul((h << 13) | (h >>> 19), 5) + 0xe6546b64) | 0;
}

/** The same with other constants, for the second state (those of xxHash32, Yann Collet, BSD). */
export function mixedToo(state: number, word: number): number {
  const h = (state + Math.imul(word, 0xc2b2ae3d)) | 0;
  return Math.imul((h << 17) | (h >>> 15), 0x27d4eb2f);
}

/** MurmurHash3's ending: every bit of what goes in concerns every bit of what comes out, and nothing is lost. */
export function finished(state: number): number {
  let h = state ^ (state >>> 16);
  h = Math.imul(h, 0x85ebca6b);
  h ^= h >>> 13;
  h = Math.imul(h, 0xc2b2ae35);
  return h ^ (h >>> 16);
}
