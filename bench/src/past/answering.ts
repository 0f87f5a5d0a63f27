/** Waiting for devices: those of the bench take seconds to start, and whoever reads them sooner begins with a gap. */
import { setTimeout as wait } from 'node:timers/promises';
import { listens } from '../relay/listens.ts';

/** After that they are read as they are. Milliseconds. */
const PATIENCE = 60_000;

/** Waits until something listens on each of the ports, one after the other. */
export async function untilAllAnswer(ports: readonly number[]): Promise<void> {
  const until = performance.now() + PATIENCE;
  for (const port of ports) while (performance.now() < until && !(await listens(port))) await wait(100);
}
