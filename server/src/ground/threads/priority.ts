/** Which threads the system runs first. */
import { readlinkSync } from 'node:fs';
import { setPriority } from 'node:os';

/** Lets the system run this thread after others. Where that cannot be said, all are alike. @param niceness 0 to 19. */
export function stepBack(niceness: number): void {
  const thread = systemThread();
  if (thread === null) return;
  try {
    setPriority(thread, niceness);
  } catch {
    // Not allowed here.
  }
}

/** The number by which the system knows this thread; null where it does not tell (it does on Linux). */
function systemThread(): number | null {
  try {
    const thread = Number(readlinkSync('/proc/thread-self').split('/').at(-1));
    return Number.isInteger(thread) ? thread : null;
  } catch {
    return null;
  }
}
