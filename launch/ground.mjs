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
 * Where tests and measures look for ports: below those from which the system takes one for every connection that goes
 * out (from 32,768 on Linux), for a port found free up there may be such a connection's a moment later. Tests that run
 * beside each other have ranges of their own: a port may be one's that does not listen just now, being cut or restarted.
 */
const FIRST_PORT = 12_000;
const PORTS_EACH = 4_000;
const RANGES = 5;

/** The ports that the test bench's devices and their lines take, from the first one on. */
export const DEVICE_PORTS = 17;

/** Ports that were given to somebody, who may not listen there yet. */
const given = new Set();

/** The first of several free ports in a row; each is given once. */
export async function freePorts(count) {
  const least = FIRST_PORT + (Number(process.env.JEST_WORKER_ID ?? 0) % RANGES) * PORTS_EACH;
  for (;;) {
    const first = least + Math.floor(Math.random() * (PORTS_EACH - count));
    const ports = Array.from({ length: count }, (_, i) => first + i);
    if (ports.some((port) => given.has(port))) continue;
    for (const port of ports) given.add(port);
    const probes = ports.map((port) => needFreePort(port, '', ''));
    if ((await Promise.allSettled(probes)).every(({ status }) => status === 'fulfilled')) return first;
  }
}

/** A free port, for tests that run beside whatever else runs here. */
export const freePort = () => freePorts(1);
