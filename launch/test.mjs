/** `npm test`: installs what is missing, then types, lint, and all tests with one summary at the end. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { checkEverything } from './checks.mjs';
import { ROOT, Trouble, freePort, tellTrouble } from './ground.mjs';
import { ensureBrowser, ensureModbusPeer, ensureNodePackages, ensurePostgres } from './packages.mjs';

await tellTrouble(async () => {
  ensureNodePackages();
  const programs = ensurePostgres();
  ensureBrowser();
  ensureModbusPeer();
  const only = process.argv.slice(2);
  if (only.length === 0) await checkEverything();
  const { buildInterface, buildPrograms } = await import('./build.mjs');
  const { startCluster } = await import('./postgres.mjs');
  await buildPrograms();
  await buildInterface();
  const data = mkdtempSync(join(tmpdir(), 'wide-ledger-test-'));
  const cluster = await startCluster(programs, data, await freePort());
  try {
    const { status } = spawnSync(
      process.execPath,
      [join(ROOT, 'node_modules/jest/bin/jest.js'), '--maxWorkers=2', '--testTimeout=300000', ...only],
      {
        cwd: ROOT,
        stdio: 'inherit',
        env: {
          ...process.env,
          NODE_OPTIONS: '--experimental-vm-modules --disable-warning=ExperimentalWarning',
          TEST_DATABASE_URL: cluster.url,
          TEST_POSTGRES_PROGRAMS: programs,
          SE_OFFLINE: 'true',
          // Building the interface sets it to what a browser gets.
          NODE_ENV: 'test',
        },
      },
    );
    if (status !== 0) throw new Trouble('Tests failed; the lines above say where.');
  } finally {
    await cluster.stop();
    rmSync(data, { recursive: true, force: true });
  }
});
