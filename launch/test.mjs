/** `npm test`: installs what is missing, then types, lint, and all tests with one summary at the end. */
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT, Trouble, freePort, tellTrouble } from './ground.mjs';
import { ensureBroker, ensureBrowser, ensureModbusPeer, ensureNodePackages, ensurePostgres } from './packages.mjs';

/** The tests' own cluster need not outlive the machine; those of the demos that are killed in tests are as everywhere. */
const LAX = ['fsync=off', 'full_page_writes=off'];

/** Runs a step to its end. @returns what it printed, where it was not printed at once. @throws Trouble where it fails. */
function step(name, command, args, { environment = {}, at = 'once' } = {}) {
  const started = performance.now();
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd: ROOT,
      stdio: at === 'once' ? 'inherit' : ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, ...environment },
    });
    const printed = [];
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => printed.push(chunk));
    child.on('error', reject);
    child.on('close', (status) => {
      process.stdout.write(Buffer.concat(printed));
      // The tests' own summary is the last word.
      if (at === 'end')
        console.log(
          `— ${name}: ${status === 0 ? 'clean' : 'failed'} (${Math.round((performance.now() - started) / 1000)} s)\n`,
        );
      if (status === 0) resolve();
      else reject(new Trouble(`${name} failed; the lines above say where.`));
    });
  });
}

/** Types, lint, rules between packages, format: in the time that the tests beside them leave. @throws Trouble naming all that failed */
async function check() {
  const bin = (name) => join(ROOT, 'node_modules', '.bin', name);
  const packages = ['core', 'contract', 'vault', 'server', 'collector', 'bench', 'web/src', 'e2e'];
  const failed = [];
  for (const [name, command, ...args] of [
    ['Types', 'tsc', '--build'],
    ['Dependency rules', 'depcruise', '--config', 'dependency-rules.cjs', ...packages],
    ['Lint', 'eslint', '.'],
    ['Format', 'prettier', '--check', '.', '--log-level', 'warn'],
  ]) {
    const politely = ['-n', '5', bin(command), ...args];
    await step(name, 'nice', politely, { at: 'end' }).catch(() => failed.push(name));
  }
  if (failed.length > 0) throw new Trouble(`${failed.join(', ')} failed; lines among those of the tests say where.`);
}

/** @param only patterns of the files to run; none: all. @throws Trouble where a test fails */
async function runTests(programs, only) {
  const { startCluster } = await import('./postgres.mjs');
  const data = mkdtempSync(join(tmpdir(), 'wide-ledger-test-'));
  const cluster = await startCluster(programs, data, await freePort(), LAX);
  try {
    await step(
      'Tests',
      process.execPath,
      [join(ROOT, 'node_modules/jest/bin/jest.js'), '--maxWorkers=3', '--testTimeout=300000', ...only],
      {
        environment: {
          NODE_OPTIONS: '--experimental-vm-modules --disable-warning=ExperimentalWarning',
          TEST_DATABASE_URL: cluster.url,
          TEST_POSTGRES_PROGRAMS: programs,
          SE_OFFLINE: 'true',
          // Building the interface sets it to what a browser gets.
          NODE_ENV: 'test',
        },
      },
    );
  } finally {
    await cluster.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

await tellTrouble(async () => {
  ensureNodePackages();
  const programs = ensurePostgres();
  ensureBrowser();
  ensureModbusPeer();
  ensureBroker();
  const only = process.argv.slice(2);
  const { buildInterface, buildPrograms } = await import('./build.mjs');
  await buildPrograms();
  await buildInterface();
  const ended = await Promise.allSettled([only.length === 0 ? check() : undefined, runTests(programs, only)]);
  const reasons = ended.flatMap(({ reason }) => (reason ? [reason] : []));
  for (const unforeseen of reasons.filter((reason) => !(reason instanceof Trouble))) throw unforeseen;
  if (reasons.length > 0) throw new Trouble(reasons.map(({ message }) => message).join('\n'));
});
