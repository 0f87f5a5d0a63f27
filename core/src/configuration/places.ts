/** Places by their paths, `site / area / unit`. */

/** Whether a place is another one, or lies in it; all lie in none. */
export const liesIn = (place: string, outer: string): boolean =>
  outer === '' || place === outer || place.startsWith(`${outer} / `);
