/** Tests of the whole: real processes and the real interface. What they share stands in `test/`. */
export const WAIT_MILLISECONDS = 20_000;
