/** One site: its server and its collector, on a database of its own. Several run beside each other on one cluster. */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import pg from 'pg';
import { prepareData } from './data.mjs';
import { ROOT, Trouble, needFreePort } from './ground.mjs';
import { startProgram } from './processes.mjs';

/** A busy machine takes its time; a server that cannot start ends, and is not waited for. Milliseconds. */
const PATIENCE = 90_000;

async function untilHealthy(url, server) {
  for (const until = performance.now() + PATIENCE; performance.now() < until;) {
    if (server.child.exitCode !== null) throw new Trouble('The server ended; the lines above say why.');
    const answer = await fetch(`${url}/api/v1/health`).catch(() => null);
    if (answer?.ok) return;
    await wait(50);
  }
  throw new Trouble(
    `The server did not become healthy within ${PATIENCE / 1000} s: ${url}/api/v1/health says what is missing.`,
  );
}

/** Keys for a site's own programs, made once through the interface like anybody's. */
async function programKeys(url, password, file) {
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8'));
  const post = async (path, body, cookie) => {
    const answer = await fetch(`${url}/api/v1${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', ...(cookie ? { cookie } : {}) },
      body: JSON.stringify(body),
    });
    if (!answer.ok)
      throw new Trouble(`Keys for the site's programs could not be made: ${(await answer.json()).detail}`);
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
  await fetch(`${url}/api/v1/session`, { method: 'DELETE', headers: { cookie } });
  return keys;
}

/** Makes a database on a cluster where there is none of its name. @returns its address. */
export async function ensureDatabase(clusterUrl, name) {
  const client = new pg.Client(`${clusterUrl}/postgres`);
  await client.connect();
  try {
    const { rows } = await client.query('SELECT FROM pg_database WHERE datname = $1', [name]);
    if (rows.length === 0) await client.query(`CREATE DATABASE ${client.escapeIdentifier(name)}`);
  } finally {
    await client.end();
  }
  return `${clusterUrl}/${name}`;
}

/** Without a supervisor a program that ends is not started again. */
const unsupervised = { keep: (_name, start) => start() };

/**
 * Starts a site's server, and its collector once the server is there.
 * @param site name, zone, port, data (a folder of its own), databaseUrl, password, reader (role and password of SQL
 * tools; a role belongs to the whole cluster, so each site has its own), bench (url and token), collects (whether it has
 * a collector), log.
 * @param supervisor keeps its programs running; its `stop` stops them.
 * @returns its address, its data folder, its programs' keys, and how to stop it.
 */
export async function startSite(
  { name, zone, port, data, databaseUrl, password, reader, bench, collects = true, log },
  supervisor = unsupervised,
) {
  await needFreePort(port, `the web address of ${name}`, 'WIDE_LEDGER_PORT');
  prepareData(data);
  const url = `http://127.0.0.1:${port}`;
  const common = { WIDE_LEDGER_LOG: log, WIDE_LEDGER_DATA: data };
  const server = await supervisor.keep(`The server of ${name}`, async () => {
    const program = startProgram(join(ROOT, 'server/dist/main.mjs'), {
      ...common,
      DATABASE_URL: databaseUrl,
      WIDE_LEDGER_PORT: String(port),
      WIDE_LEDGER_SITE: name,
      WIDE_LEDGER_ZONE: zone,
      WIDE_LEDGER_ADMIN_PASSWORD: password,
      WIDE_LEDGER_READER: reader.name,
      WIDE_LEDGER_READER_PASSWORD: reader.password,
      ...(bench ? { WIDE_LEDGER_BENCH_URL: bench.url, WIDE_LEDGER_BENCH_TOKEN: bench.token } : {}),
      WIDE_LEDGER_WEB: join(ROOT, 'web/dist'),
    });
    try {
      await untilHealthy(url, program);
    } catch (error) {
      await program.stop();
      throw error;
    }
    return program;
  });
  try {
    const keys = await programKeys(url, password, join(data, 'keys.json'));
    const startCollector = async () =>
      startProgram(join(ROOT, 'collector/dist/main.mjs'), {
        ...common,
        WIDE_LEDGER_SERVER: url,
        WIDE_LEDGER_KEY: keys.collector,
        WIDE_LEDGER_COLLECTOR_DATA: join(data, 'collector'),
      });
    const collector = collects ? await supervisor.keep(`The collector of ${name}`, startCollector) : null;
    const stop = async () => {
      await collector?.stop();
      await server.stop();
    };
    return { url, data, databaseUrl, keys, stop };
  } catch (error) {
    await server.stop();
    throw error;
  }
}
