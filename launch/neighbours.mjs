/** The demo's other sites: two of the plant, and the region to which all of them carry. */
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { ROOT } from './ground.mjs';
import { startProgram } from './processes.mjs';
import { ensureDatabase, startSite } from './site.mjs';

/** Where everything arrives; it has no devices of its own. */
export const REGION = { name: 'Emberfold Region', folder: 'region', collects: false };
export const NEIGHBOURS = [
  { name: 'Kilnbank', folder: 'kilnbank', collects: true },
  { name: 'Saltquay', folder: 'saltquay', collects: true },
  REGION,
];

/** Starts them beside each other. @param databaseUrl of the demo's own site, on whose cluster they are, too. */
export function startNeighbours(
  { data, neighbourPort, password, readerPassword, zone, log },
  databaseUrl,
  bench,
  supervisor,
) {
  const cluster = databaseUrl.replace(/\/[^/]*$/, '');
  return Promise.all(
    NEIGHBOURS.map(async ({ name, folder, collects }, after) => ({
      name,
      ...(await startSite(
        {
          name,
          zone,
          port: neighbourPort + after,
          data: join(data, 'sites', folder),
          databaseUrl: await ensureDatabase(cluster, folder),
          password,
          reader: { name: `reader_of_${folder}`, password: readerPassword },
          ...(collects ? { bench } : {}),
          collects,
          log,
        },
        supervisor,
      )),
    })),
  );
}

/** The database of Kilnbank's boiler log, a logger of another make, on the demo's own cluster. */
const BOILER_LOG = 'boiler_log';

/**
 * Where Kilnbank writes down what it does, as the test bench takes it: into the folder that its collector reads, and into
 * a database. The password to read that is made once.
 */
export async function recordPlaces(data, databaseUrl) {
  const file = join(data, 'boiler-log.key');
  if (!existsSync(file)) writeFileSync(file, randomBytes(18).toString('base64url'), { mode: 0o600 });
  return {
    WIDE_LEDGER_RECORDER_FOLDER: resolve(data, 'sites', 'kilnbank', 'collector', 'inbox'),
    WIDE_LEDGER_LOGGER_URL: await ensureDatabase(databaseUrl.replace(/\/[^/]*$/, ''), BOILER_LOG),
    WIDE_LEDGER_LOGGER_PASSWORD: readFileSync(file, 'utf8'),
  };
}

/** Gives each site what it reads, and links it to the region; what is there already is left as it is. */
export function joinNeighbours(own, neighbours, devicePort, common) {
  const at = ({ url, keys }) => ({ url, key: keys.bench });
  const [kilnbank, saltquay, region] = neighbours.map(at);
  return startProgram(join(ROOT, 'bench/dist/neighboursMain.mjs'), {
    ...common,
    WIDE_LEDGER_DEVICE_PORT: String(devicePort),
    WIDE_LEDGER_SITES: JSON.stringify({ thornmere: at(own), kilnbank, saltquay, region }),
  });
}
