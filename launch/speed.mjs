/** `npm run speed`: ingest, size, reading and aggregates beside the alternatives, on the same data in one run. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DEVICE_PORTS, ROOT, freePort, freePorts, tellTrouble } from './ground.mjs';
import { ensureBroker, ensureBrowser, ensureNodePackages, ensurePostgres } from './packages.mjs';

await tellTrouble(async () => {
  ensureNodePackages();
  const programs = ensurePostgres();
  ensureBrowser();
  ensureBroker();
  const { clusterFolder, startCluster } = await import('./postgres.mjs');
  const { buildPrograms } = await import('./build.mjs');
  await buildPrograms();
  const data = mkdtempSync(join(tmpdir(), 'wide-ledger-speed-'));
  const cluster = await startCluster(programs, data, await freePort());
  try {
    spawnSync(process.execPath, ['--import', 'tsx', join(ROOT, 'speed/speed.ts')], {
      cwd: ROOT,
      stdio: 'inherit',
      env: {
        ...process.env,
        SPEED_DATABASE_URL: cluster.url,
        WIDE_LEDGER_DATA: data,
        SPEED_PORT: String(await freePort()),
        SPEED_DEVICE_PORT: String(await freePorts(DEVICE_PORTS)),
      },
    });
  } finally {
    await cluster.stop();
    rmSync(clusterFolder(data), { recursive: true, force: true });
    rmSync(data, { recursive: true, force: true });
  }
});
