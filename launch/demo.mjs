/** The demo: one site with its database, server, test bench and collector. What `npm start` and the browser tests run. */
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { buildInterface, buildPrograms } from './build.mjs';
import { ROOT, Trouble, needFreePort } from './ground.mjs';
import { ensurePostgres } from './packages.mjs';
import { clusterFolder, startCluster } from './postgres.mjs';
import { startProgram } from './processes.mjs';

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

async function untilHealthy(url, server) {
  for (let attempt = 0; attempt < 300; attempt++) {
    if (server.child.exitCode !== null) throw new Trouble('The server ended; the lines above say why.');
    const answer = await fetch(`${url}/api/v1/health`).catch(() => null);
    if (answer?.ok) return;
    await wait(50);
  }
  throw new Trouble(`The server did not become healthy within 15 s: ${url}/api/v1/health says what is missing.`);
}

/** Keys for the collector and the bench, made once through the interface like anybody's. */
async function programKeys(url, password, file) {
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8'));
  const post = async (path, body, cookie) => {
    const answer = await fetch(`${url}/api/v1${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', ...(cookie ? { cookie } : {}) },
      body: JSON.stringify(body),
    });
    if (!answer.ok)
      throw new Trouble(`Keys for the demo's programs could not be made: ${(await answer.json()).detail}`);
    return answer;
  };
  const signedIn = await post('/session', { name: 'admin', password });
  const cookie = signedIn.headers
    .getSetCookie()
    .map((one) => one.split(';')[0])
    .join('; ');
  const key = async (name, scopes) => (await (await post('/keys', { name, scopes }, cookie)).json()).key;
  const keys = {
    collector: await key('collector-1', ['collect']),
    bench: await key('test bench', ['read', 'write', 'collect', 'admin']),
  };
  writeFileSync(file, JSON.stringify(keys), { mode: 0o600 });
  return keys;
}

/** Starts everything. @returns the address, and how to stop it all again. */
export async function startDemo(settings, say = () => undefined) {
  const { data, port, databasePort, benchPort, devicePort } = settings;
  await needFreePort(port, 'the web address', 'WIDE_LEDGER_PORT');
  if (!settings.databaseUrl) await needFreePort(databasePort, 'the database', 'WIDE_LEDGER_DATABASE_PORT');
  await needFreePort(benchPort, 'the test bench', 'WIDE_LEDGER_BENCH_PORT');
  await needFreePort(devicePort, "the test bench's device", 'WIDE_LEDGER_DEVICE_PORT');
  await needFreePort(
    devicePort + 1,
    "the test bench's device (the port after WIDE_LEDGER_DEVICE_PORT)",
    'WIDE_LEDGER_DEVICE_PORT',
  );
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
    const url = `http://127.0.0.1:${port}`;
    const benchUrl = `http://127.0.0.1:${benchPort}`;
    const common = { WIDE_LEDGER_LOG: settings.log, WIDE_LEDGER_DATA: data };
    say('Starting the server …');
    const startServer = () =>
      startProgram(join(ROOT, 'server/dist/main.mjs'), {
        ...common,
        DATABASE_URL: databaseUrl,
        WIDE_LEDGER_PORT: String(port),
        WIDE_LEDGER_SITE: settings.site,
        WIDE_LEDGER_ZONE: settings.zone,
        WIDE_LEDGER_ADMIN_PASSWORD: settings.password,
        WIDE_LEDGER_READER_PASSWORD: settings.readerPassword,
        WIDE_LEDGER_BENCH_URL: benchUrl,
        WIDE_LEDGER_WEB: join(ROOT, 'web/dist'),
      });
    const server = startServer();
    stops.push(server.stop);
    await untilHealthy(url, server);
    const keys = await programKeys(url, settings.password, join(data, 'keys.json'));
    const bench = startProgram(join(ROOT, 'bench/dist/main.mjs'), {
      ...common,
      WIDE_LEDGER_BENCH_PORT: String(benchPort),
      WIDE_LEDGER_DEVICE_PORT: String(devicePort),
    });
    stops.push(bench.stop);
    const collector = startProgram(join(ROOT, 'collector/dist/main.mjs'), {
      ...common,
      WIDE_LEDGER_SERVER: url,
      WIDE_LEDGER_KEY: keys.collector,
      WIDE_LEDGER_COLLECTOR_DATA: join(data, 'collector'),
    });
    stops.push(collector.stop);
    if (settings.withPast) {
      const past = startProgram(join(ROOT, 'bench/dist/pastMain.mjs'), {
        ...common,
        WIDE_LEDGER_SERVER: url,
        WIDE_LEDGER_KEY: keys.bench,
        WIDE_LEDGER_DEVICE_PORT: String(devicePort),
      });
      stops.push(past.stop);
    }
    return { url, databaseUrl, keys, stop, programs: [server, bench, collector] };
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
