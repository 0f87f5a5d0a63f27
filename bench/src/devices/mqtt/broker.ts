/** A broker of another make, as a process of its own: the plant's, as Debian has it. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { mkdir, writeFile } from 'node:fs/promises';
import { userInfo } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { listens } from '../../relay/listens.ts';

const PROGRAM = '/usr/sbin/mosquitto';
/** Milliseconds. */
const PATIENCE = 20_000;

/** It drops messages of quality 1 beyond its limits: there are none here. */
const settingsFor = (port: number): string => `listener ${port} 127.0.0.1
user ${userInfo().username}
persistence false
max_queued_messages 0
max_inflight_messages 0
log_type error
`;

const ANYBODY = 'allow_anonymous true\n';

/** @param settings beyond the usual ones, a line each; without: anybody may. @returns how to stop it. @throws Error with a sentence where there is none. */
export async function startBroker(port: number, folder: string, settings = ANYBODY): Promise<() => Promise<void>> {
  if (!existsSync(PROGRAM)) throw new Error(`The bench needs a broker: install Debian's package mosquitto.`);
  await mkdir(folder, { recursive: true });
  const file = join(folder, `broker-${port}.conf`);
  await writeFile(file, settingsFor(port) + settings, { mode: 0o644 });
  // It ends with the bench, however that ends: also when that is killed, and can see to nothing.
  const child = spawn('setpriv', ['--pdeathsig', 'KILL', PROGRAM, '-c', file], { stdio: 'ignore' });
  const ended = once(child, 'exit');
  ended.catch(() => undefined);
  for (const until = performance.now() + PATIENCE; !(await listens(port));) {
    if (child.exitCode !== null || performance.now() > until)
      throw new Error(`The broker did not start on port ${port}.`);
    await wait(50);
  }
  return async () => {
    child.kill('SIGTERM');
    await ended;
  };
}
