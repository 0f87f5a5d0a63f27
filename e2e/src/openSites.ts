import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from '../../launch/ground.mjs';
import { clusterFolder, startCluster } from '../../launch/postgres.mjs';
import { ensureDatabase, startSite, type RunningSite } from '../../launch/site.mjs';

/** Of the administrator of every site. */
export const SITE_PASSWORD = 'only-for-tests';

/** Several sites beside each other on one PostgreSQL cluster, as one launcher starts them. */
export interface OpenSites {
  readonly sites: readonly RunningSite[];
  /** Ends all of them, and removes what they wrote. */
  close(): Promise<void>;
}

/** @param given names and zones. */
export async function openSites(given: readonly (readonly [name: string, zone: string])[]): Promise<OpenSites> {
  const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-sites-'));
  const cluster = await startCluster(process.env.TEST_POSTGRES_PROGRAMS!, folder, await freePort());
  const sites: RunningSite[] = [];
  const close = async (): Promise<void> => {
    await Promise.all(sites.map((site) => site.stop()));
    await cluster.stop();
    rmSync(clusterFolder(folder), { recursive: true, force: true });
    rmSync(folder, { recursive: true, force: true });
  };
  try {
    for (const [name, zone] of given)
      sites.push(
        await startSite({
          name,
          zone,
          port: await freePort(),
          data: join(folder, name),
          databaseUrl: await ensureDatabase(cluster.url, name.toLowerCase()),
          password: SITE_PASSWORD,
          reader: { name: `reader_of_${name.toLowerCase()}`, password: `reader-of-${name}` },
          log: 'silent',
        }),
      );
    return { sites, close };
  } catch (error) {
    await close();
    throw error;
  }
}
