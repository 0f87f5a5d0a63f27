/** The programs of a site as child processes. */
import { spawn } from 'node:child_process';
import { ROOT } from './ground.mjs';
import { endingWithParent } from './parent.mjs';

/**
 * Starts a bundled program. Its own group: Ctrl+C reaches the launcher alone, which stops the programs in order.
 * @returns the process with `ended`, which resolves with its exit code, and `stop`, which asks it to end and waits.
 */
export function startProgram(bundle, environment) {
  const [program, args] = endingWithParent('TERM', process.execPath, ['--enable-source-maps', bundle]);
  const child = spawn(program, args, {
    cwd: ROOT,
    env: { ...process.env, ...environment },
    stdio: ['ignore', 'inherit', 'inherit'],
    detached: true,
  });
  const ended = new Promise((done) => child.once('exit', (code) => done(code)));
  const stop = async () => {
    if (child.exitCode === null && child.signalCode === null) child.kill('SIGTERM');
    const impatient = setTimeout(() => child.kill('SIGKILL'), 30_000);
    await ended;
    clearTimeout(impatient);
  };
  return { child, ended, stop };
}
