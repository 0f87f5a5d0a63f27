/** Tests of the whole: real processes and the real interface, in `test/`. */

/** How long something on screen may take before a test gives up: generous, for a busy machine. */
export const WAIT_MILLISECONDS = 60_000;
