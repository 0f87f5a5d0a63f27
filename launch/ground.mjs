/** Where everything stands, and how trouble is told. */
import { createServer } from 'node:net';
import { dirname, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = resolve(dirname(fileURLToPath(import.meta.url)), '..');

/** Something that a person can mend: its message is all they need to see. */
export class Trouble extends Error {}

/** Ends the program with a sentence instead of a stack where the cause is known. */
export async function tellTrouble(main) {
  try {
    await main();
  } catch (error) {
    console.error(error instanceof Trouble ? `\n${error.message}\n` : error);
    process.exit(1);
  }
}

/** @throws Trouble when something listens there already. */
export function needFreePort(port, what, setting) {
  return new Promise((done, fail) => {
    const probe = createServer();
    probe.once('error', () =>
      fail(
        new Trouble(
          `Port ${port}, meant for ${what}, is taken by another program. Stop that one, or set ${setting} to a free port.`,
        ),
      ),
    );
    probe.listen(port, '127.0.0.1', () => probe.close(() => done()));
  });
}

/**
 * Where tests and measures look for ports: below those from which the system takes one for every connection that
 * goes out (from 32,768 on Linux), for a port found free up there may be such a connection's a moment later.
 */
const PORTS_TO_TRY = [12_000, 32_000];

/** The ports that the test bench's devices and their lines take, from the first one on. */
export const DEVICE_PORTS = 9;

/** The first of several free ports in a row, anywhere in the range, so that two programs hardly pick the same. */
export async function freePorts(count) {
  const [least, most] = PORTS_TO_TRY;
  for (;;) {
    const first = least + Math.floor(Math.random() * (most - least - count));
    const probes = Array.from({ length: count }, (_, i) => needFreePort(first + i, '', ''));
    if ((await Promise.allSettled(probes)).every(({ status }) => status === 'fulfilled')) return first;
  }
}

/** A free port, for tests that run beside whatever else runs here. */
export const freePort = () => freePorts(1);
