/** What is looked at without running anything: types, lint, dependency rules, format; beside each other, as cores allow. */
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ROOT, Trouble } from './ground.mjs';

const CHECKS = [
  ['Types', 'tsc', ['--build']],
  ['Lint', 'eslint', ['.']],
  [
    'Dependency rules',
    'depcruise',
    ['--config', 'dependency-rules.cjs', 'core', 'contract', 'vault', 'server', 'collector', 'bench', 'web/src', 'e2e'],
  ],
  ['Format', 'prettier', ['--check', '.', '--log-level', 'warn']],
];

/** Runs one; what it says comes in one piece when it is over. @returns whether it is clean. */
function check([name, program, args]) {
  const started = performance.now();
  return new Promise((done) => {
    const child = spawn(join(ROOT, 'node_modules', '.bin', program), args, {
      cwd: ROOT,
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let said = '';
    child.stdout.on('data', (part) => (said += part));
    child.stderr.on('data', (part) => (said += part));
    child.on('close', (status) => {
      if (said.trim()) console.log(said.trim());
      const seconds = Math.round((performance.now() - started) / 1000);
      console.log(`— ${name}: ${status === 0 ? 'clean' : 'failed'} (${seconds} s)\n`);
      done(status === 0);
    });
  });
}

/** @throws Trouble with the names of those that are not clean. */
export async function checkEverything() {
  const clean = await Promise.all(CHECKS.map(check));
  const failed = CHECKS.filter((_, i) => !clean[i]).map(([name]) => name);
  if (failed.length > 0) throw new Trouble(`${failed.join(', ')} failed; the lines above say where.`);
}
