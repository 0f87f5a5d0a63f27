/** `npm run soak`: the demo under load and faults, for a quarter of an hour or SOAK_MINUTES. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ROOT, tellTrouble } from './ground.mjs';
import { ensureNodePackages, ensurePostgres } from './packages.mjs';

await tellTrouble(async () => {
  ensureNodePackages();
  ensurePostgres();
  const { status } = spawnSync(process.execPath, ['--import', 'tsx', join(ROOT, 'soak/soak.ts')], {
    cwd: ROOT,
    stdio: 'inherit',
  });
  process.exit(status ?? 1);
});
