/** `npm test`: installs what is missing, then types, lint, and all tests with one summary at the end. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT, Trouble, freePort, tellTrouble } from './ground.mjs';
import { ensureBrowser, ensureModbusPeer, ensureNodePackages, ensurePostgres } from './packages.mjs';

function step(name, command, args, environment = {}) {
  const started = performance.now();
  const { status } = spawnSync(command, args, { cwd: ROOT, stdio: 'inherit', env: { ...process.env, ...environment } });
  // The tests' own summary is the last word.
  if (name !== 'Tests') {
    console.log(`— ${name}: ${status === 0 ? 'clean' : 'failed'} (${Math.round((performance.now() - started) / 1000)} s)
`);
  }
  if (status !== 0) throw new Trouble(`${name} failed; the lines above say where.`);
}

await tellTrouble(async () => {
  ensureNodePackages();
  const programs = ensurePostgres();
  ensureBrowser();
  ensureModbusPeer();
  const only = process.argv.slice(2);
  const bin = (name) => join(ROOT, 'node_modules', '.bin', name);
  if (only.length === 0) {
    step('Types', bin('tsc'), ['--build']);
    step('Lint', bin('eslint'), ['.']);
    step('Dependency rules', bin('depcruise'), [
      '--config',
      'dependency-rules.cjs',
      'core',
      'contract',
      'vault',
      'server',
      'collector',
      'bench',
      'web/src',
      'e2e',
    ]);
    step('Format', bin('prettier'), ['--check', '.', '--log-level', 'warn']);
  }
  const { buildInterface, buildPrograms } = await import('./build.mjs');
  const { startCluster } = await import('./postgres.mjs');
  await buildPrograms();
  await buildInterface();
  const data = mkdtempSync(join(tmpdir(), 'wide-ledger-test-'));
  const cluster = await startCluster(programs, data, await freePort());
  try {
    step(
      'Tests',
      process.execPath,
      [join(ROOT, 'node_modules/jest/bin/jest.js'), '--maxWorkers=2', '--testTimeout=300000', ...only],
      {
        NODE_OPTIONS: '--experimental-vm-modules --disable-warning=ExperimentalWarning',
        TEST_DATABASE_URL: cluster.url,
        TEST_POSTGRES_PROGRAMS: programs,
        SE_OFFLINE: 'true',
        // Building the interface sets it to what a browser gets.
        NODE_ENV: 'test',
      },
    );
  } finally {
    await cluster.stop();
    rmSync(data, { recursive: true, force: true });
  }
});
