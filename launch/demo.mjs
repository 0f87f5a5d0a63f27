/** The demo: one site with its database, server, test bench and collector. What `npm start` and the browser tests run. */
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { buildInterface, buildPrograms } from './build.mjs';
import { DEVICE_PORTS, ROOT, Trouble, needFreePort } from './ground.mjs';
import { ensurePostgres } from './packages.mjs';
import { clusterFolder, startCluster } from './postgres.mjs';
import { startProgram } from './processes.mjs';
import { startSite } from './site.mjs';

export const DEMO_PASSWORD = 'emberfold';

function portSetting(name, standard) {
  const given = process.env[name];
  if (given === undefined || given === '') return standard;
  const port = Number(given);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Trouble(`${name}=${given} is no port. A port is a whole number from 1 to 65535.`);
  return port;
}

/** The demo's settings: from the environment, or the standard ones. */
export function demoSettings() {
  return {
    data: process.env.WIDE_LEDGER_DATA ?? join(ROOT, '.data'),
    port: portSetting('WIDE_LEDGER_PORT', 4860),
    databasePort: portSetting('WIDE_LEDGER_DATABASE_PORT', 4861),
    benchPort: portSetting('WIDE_LEDGER_BENCH_PORT', 4870),
    devicePort: portSetting('WIDE_LEDGER_DEVICE_PORT', 4871),
    password: process.env.WIDE_LEDGER_ADMIN_PASSWORD ?? DEMO_PASSWORD,
    readerPassword: process.env.WIDE_LEDGER_READER_PASSWORD ?? 'read-the-ledger',
    databaseUrl: process.env.DATABASE_URL,
    site: process.env.WIDE_LEDGER_SITE ?? 'Thornmere',
    zone: process.env.WIDE_LEDGER_ZONE ?? 'Europe/Berlin',
    log: process.env.WIDE_LEDGER_LOG ?? 'warn',
    withPast: true,
  };
}

/** Starts everything. @returns the address, and how to stop it all again. */
export async function startDemo(settings, say = () => undefined) {
  const { data, port, databasePort, benchPort, devicePort } = settings;
  if (!settings.databaseUrl) await needFreePort(databasePort, 'the database', 'WIDE_LEDGER_DATABASE_PORT');
  await needFreePort(benchPort, 'the test bench', 'WIDE_LEDGER_BENCH_PORT');
  for (let after = 0; after < DEVICE_PORTS; after++) {
    const which = after === 0 ? '' : ` (port ${after} after WIDE_LEDGER_DEVICE_PORT)`;
    await needFreePort(devicePort + after, `the test bench's devices${which}`, 'WIDE_LEDGER_DEVICE_PORT');
  }
  mkdirSync(data, { recursive: true });

  const stops = [];
  const stop = async () => {
    for (const one of stops.reverse()) await one();
  };
  try {
    let databaseUrl = settings.databaseUrl;
    let cluster = null;
    const programs = databaseUrl ? null : ensurePostgres();
    say('Building …');
    await buildPrograms();
    await buildInterface();
    if (programs) {
      say('Starting PostgreSQL …');
      cluster = await startCluster(programs, data, databasePort);
      stops.push(cluster.stop);
      databaseUrl = `${cluster.url}/postgres`;
    }
    const benchUrl = `http://127.0.0.1:${benchPort}`;
    const common = { WIDE_LEDGER_LOG: settings.log, WIDE_LEDGER_DATA: data };
    say('Starting the test bench and the site …');
    const bench = startProgram(join(ROOT, 'bench/dist/main.mjs'), {
      ...common,
      WIDE_LEDGER_BENCH_PORT: String(benchPort),
      WIDE_LEDGER_DEVICE_PORT: String(devicePort),
    });
    stops.push(bench.stop);
    const site = await startSite({
      name: settings.site,
      zone: settings.zone,
      port,
      data,
      databaseUrl,
      password: settings.password,
      reader: { name: 'history_reader', password: settings.readerPassword },
      benchUrl,
      log: settings.log,
    });
    stops.push(site.stop);
    const { url, keys } = site;
    if (settings.withPast) {
      const past = startProgram(join(ROOT, 'bench/dist/pastMain.mjs'), {
        ...common,
        WIDE_LEDGER_SERVER: url,
        WIDE_LEDGER_KEY: keys.bench,
        WIDE_LEDGER_DEVICE_PORT: String(devicePort),
      });
      stops.push(past.stop);
    }
    return { url, databaseUrl, keys, stop, programs: [bench, ...site.programs] };
  } catch (error) {
    await stop();
    throw error;
  }
}

/** Forgets everything that the demo has kept. */
export function forgetDemo(settings) {
  rmSync(clusterFolder(settings.data), { recursive: true, force: true });
  rmSync(settings.data, { recursive: true, force: true });
}
