/**
 * By how much another clock is ahead of this one: it was read somewhere between asking and the answer, most likely in the
 * middle. All of them in one unit.
 * @param shown by the other clock. @param asked when, and @param answered when, by this clock.
 */
export const clockAhead = (shown: number, asked: number, answered: number): number => shown - (asked + answered) / 2;
