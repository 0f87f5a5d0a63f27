/**
 * What the pool loads into a reading thread. The pool loads synchronously, and a thread that is stopped meanwhile, such
 * as by a server that stops right after its start, would then end the whole process. This is loaded in no time, and
 * the program itself without holding up the thread.
 */
import type { ReadTask } from './thread.ts';

interface Program {
  readonly default: (task: ReadTask) => Promise<void>;
}

/** Beside this file when both are built. */
const PROGRAM = './reading.mjs';

const program = import(PROGRAM) as Promise<Program>;
// Whoever asks for a reading is told.
program.catch(() => undefined);

export default async (task: ReadTask): Promise<void> => (await program).default(task);
