/** The demo: a site with its database, server, test bench and collector, and its neighbours. What `npm start` and the browser tests run. */
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { buildInterface, buildPrograms } from './build.mjs';
import { forgetData, prepareData } from './data.mjs';
import { DEVICE_PORTS, ROOT, Trouble, needFreePort } from './ground.mjs';
import { ensureBroker, ensurePostgres } from './packages.mjs';
import { startCluster } from './postgres.mjs';
import { startProgram } from './processes.mjs';
import { NEIGHBOURS, REGION, joinNeighbours, recordPlaces, startNeighbours } from './neighbours.mjs';
import { startSite } from './site.mjs';
import { supervise } from './supervision.mjs';

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
    neighbourPort: portSetting('WIDE_LEDGER_NEIGHBOUR_PORT', 4862),
    password: process.env.WIDE_LEDGER_ADMIN_PASSWORD ?? DEMO_PASSWORD,
    readerPassword: process.env.WIDE_LEDGER_READER_PASSWORD ?? 'read-the-ledger',
    databaseUrl: process.env.DATABASE_URL,
    site: process.env.WIDE_LEDGER_SITE ?? 'Thornmere',
    zone: process.env.WIDE_LEDGER_ZONE ?? 'Europe/Berlin',
    log: process.env.WIDE_LEDGER_LOG ?? 'warn',
    withPast: true,
    // They share the demo's own cluster: on somebody else's database there is the one site.
    withNeighbours: process.env.DATABASE_URL === undefined && process.env.WIDE_LEDGER_NEIGHBOURS !== 'none',
  };
}

/** The demo's passwords are printed wherever it is started: they are for this machine alone. @throws Trouble */
function needOwnPasswords({ databaseUrl }) {
  const host = process.env.WIDE_LEDGER_HOST ?? '127.0.0.1';
  const open = !isLoopback(host);
  const foreign = databaseUrl !== undefined && !isLoopback(new URL(databaseUrl).hostname);
  if (!open && !foreign) return;
  const missing = ['WIDE_LEDGER_ADMIN_PASSWORD', 'WIDE_LEDGER_READER_PASSWORD'].filter((name) => !process.env[name]);
  if (missing.length === 0) return;
  const why = open ? `WIDE_LEDGER_HOST=${host} is reached from other machines` : 'DATABASE_URL names another machine';
  throw new Trouble(`${why}, and the standard passwords are known to everybody. Set ${missing.join(' and ')}.`);
}

const isLoopback = (host) => ['localhost', '[::1]', '::1', ''].includes(host) || /^127\./.test(host);

/** Starts everything. @returns the address, and how to stop it all again. */
export async function startDemo(settings, say = () => undefined) {
  const { data, port, databasePort, benchPort, devicePort, neighbourPort, withNeighbours } = settings;
  needOwnPasswords(settings);
  if (!settings.databaseUrl) await needFreePort(databasePort, 'the database', 'WIDE_LEDGER_DATABASE_PORT');
  await needFreePort(benchPort, 'the test bench', 'WIDE_LEDGER_BENCH_PORT');
  for (let after = 0; after < DEVICE_PORTS; after++) {
    const which = after === 0 ? '' : ` (port ${after} after WIDE_LEDGER_DEVICE_PORT)`;
    await needFreePort(devicePort + after, `the test bench's devices${which}`, 'WIDE_LEDGER_DEVICE_PORT');
  }
  if (withNeighbours)
    for (const [after, { name }] of NEIGHBOURS.entries())
      await needFreePort(neighbourPort + after, `the site ${name}`, 'WIDE_LEDGER_NEIGHBOUR_PORT');
  prepareData(data);

  const supervisor = supervise(join(data, 'restarts.json'), (sentence) => console.error(sentence));
  try {
    let databaseUrl = settings.databaseUrl;
    const programs = databaseUrl ? null : ensurePostgres();
    ensureBroker();
    say('Building …');
    await buildPrograms();
    await buildInterface();
    if (programs) {
      say('Starting PostgreSQL …');
      const cluster = await supervisor.keep('PostgreSQL', () => startCluster(programs, data, databasePort));
      databaseUrl = `${cluster.url}/postgres`;
    }
    const bench = { url: `http://127.0.0.1:${benchPort}`, token: randomBytes(24).toString('base64url') };
    const common = { WIDE_LEDGER_LOG: settings.log, WIDE_LEDGER_DATA: data };
    say(withNeighbours ? 'Starting the test bench and the sites …' : 'Starting the test bench and the site …');
    const records = withNeighbours ? await recordPlaces(data, databaseUrl) : {};
    await supervisor.keep('The test bench', async () =>
      startProgram(join(ROOT, 'bench/dist/main.mjs'), {
        ...common,
        ...records,
        WIDE_LEDGER_BENCH_PORT: String(benchPort),
        WIDE_LEDGER_BENCH_TOKEN: bench.token,
        WIDE_LEDGER_DEVICE_PORT: String(devicePort),
        ...(withNeighbours ? { WIDE_LEDGER_REGION_PORT: String(neighbourPort + NEIGHBOURS.indexOf(REGION)) } : {}),
      }),
    );
    const own = startSite(
      {
        name: settings.site,
        zone: settings.zone,
        port,
        data,
        databaseUrl,
        password: settings.password,
        reader: { name: 'history_reader', password: settings.readerPassword },
        bench,
        log: settings.log,
      },
      supervisor,
    );
    // Beside each other: each waits for its database most of the time.
    const [{ url, keys }, neighbours] = await Promise.all([
      own,
      withNeighbours ? startNeighbours(settings, databaseUrl, bench, supervisor) : [],
    ]);
    let past = null;
    if (settings.withPast) {
      past = startProgram(join(ROOT, 'bench/dist/pastMain.mjs'), {
        ...common,
        WIDE_LEDGER_SERVER: url,
        WIDE_LEDGER_KEY: keys.bench,
        WIDE_LEDGER_DEVICE_PORT: String(devicePort),
      });
    }
    const joining = withNeighbours
      ? joinNeighbours({ url, keys }, neighbours, devicePort, { ...common, ...records })
      : null;
    const stop = async () => {
      await joining?.stop();
      await past?.stop();
      await supervisor.stop();
    };
    return { url, databaseUrl, keys, neighbours: neighbours.map(({ name, url }) => ({ name, url })), stop };
  } catch (error) {
    await supervisor.stop();
    throw error;
  }
}

/** Forgets everything that the demo has kept. */
export const forgetDemo = ({ data }) => forgetData(data);
