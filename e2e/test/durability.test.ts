/** Nothing acknowledged is lost and nothing is there twice, whatever is killed. Real processes, kill -9, fsync on. */
import { packEntry, parseInstant } from '@wide-ledger/core';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import pg from 'pg';
import { DEVICE_PORTS, freePort, freePorts, ROOT } from '../../launch/ground.mjs';
import { clusterFolder, startCluster, type Cluster } from '../../launch/postgres.mjs';
import { startProgram, type Program } from '../../launch/processes.mjs';
import { frameOf, journalAgainstLedger } from '../../server/test/integration/testSite.ts';

const PASSWORD = 'only-for-tests';
const SAMPLES = 500;
const START = parseInstant('2026-01-01T00:00:00Z')!;

/** Set when the test is over, also when it failed: what still runs beside it then ends quietly. */
let over = false;

/** Waits until something is true; fails loudly instead of hanging. Long: after a kill disks and recovery take their time. */
async function until(what: string, check: () => Promise<boolean>, milliseconds = 240_000): Promise<void> {
  for (const end = performance.now() + milliseconds; performance.now() < end && !over; await wait(100)) {
    if (await check().catch(() => false)) return;
  }
  if (over) return;
  throw new Error(`Waited in vain until ${what}.`);
}

const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-durability-'));
let cluster: Cluster;
let databasePort: number;
let url: string;
let serverEnvironment: Record<string, string>;
let collectorEnvironment: Record<string, string>;
const running = new Set<Program>();
let server: Program;
let collector: Program;

function start(bundle: string, environment: Record<string, string>): Program {
  const program = startProgram(join(ROOT, bundle), environment);
  running.add(program);
  return program;
}

async function kill(program: Program): Promise<void> {
  program.child.kill('SIGKILL');
  await program.ended;
  running.delete(program);
}

const healthy = async (): Promise<boolean> => (await fetch(`${url}/api/v1/health`)).ok;

async function call<Body>(
  method: string,
  path: string,
  body: unknown,
  headers: Record<string, string>,
): Promise<{ body: Body; headers: Headers }> {
  const answer = await fetch(`${url}/api/v1${path}`, {
    method,
    headers: { 'content-type': 'application/json', ...headers },
    body: JSON.stringify(body),
  });
  if (!answer.ok) throw new Error(await answer.text());
  return { body: (await answer.json()) as Body, headers: answer.headers };
}

beforeAll(async () => {
  databasePort = await freePort();
  cluster = await startCluster(process.env.TEST_POSTGRES_PROGRAMS!, folder, databasePort);
  const port = await freePort();
  url = `http://127.0.0.1:${port}`;
  const devicePort = await freePorts(DEVICE_PORTS);
  serverEnvironment = {
    DATABASE_URL: `${cluster.url}/postgres`,
    WIDE_LEDGER_PORT: String(port),
    WIDE_LEDGER_DATA: folder,
    WIDE_LEDGER_ADMIN_PASSWORD: PASSWORD,
    WIDE_LEDGER_LOG: 'silent',
  };
  server = start('server/dist/main.mjs', serverEnvironment);
  await until('the server is healthy', healthy);
  start('bench/dist/main.mjs', {
    WIDE_LEDGER_BENCH_PORT: String(await freePort()),
    WIDE_LEDGER_DEVICE_PORT: String(devicePort),
    WIDE_LEDGER_DATA: folder,
  });
  const signedIn = await call('POST', '/session', { name: 'admin', password: PASSWORD }, {});
  const cookie = signedIn.headers.getSetCookie()[0]!.split(';')[0]!;
  const { body: made } = await call<{ key: string }>(
    'POST',
    '/keys',
    { name: 'all', scopes: ['collect', 'admin', 'write', 'correct', 'read'] },
    { cookie },
  );
  collectorEnvironment = {
    WIDE_LEDGER_SERVER: url,
    WIDE_LEDGER_KEY: made.key,
    WIDE_LEDGER_COLLECTOR_DATA: join(folder, 'collector'),
    WIDE_LEDGER_LOG: 'silent',
  };
  const key = { authorization: `Bearer ${made.key}` };
  await call(
    'PUT',
    '/sources',
    { name: 'Device', kind: 'modbus-tcp', connection: { host: '127.0.0.1', port: devicePort, unit: 1 } },
    key,
  );
  await call(
    'PUT',
    '/sources',
    { name: 'Controller', kind: 'opc-ua', connection: { endpoint: `opc.tcp://127.0.0.1:${devicePort + 2}` } },
    key,
  );
  // A hundred registers every 50 ms: as fast as the collector goes.
  const collected = Array.from({ length: 100 }, (_, i) => ({
    name: `R${i}`,
    type: 'integer',
    collection: {
      source: 'Device',
      address: { area: 'holding', address: i % 74, type: 'uint16' },
      intervalMilliseconds: 50,
    },
  }));
  await call(
    'POST',
    '/tags',
    [
      ...collected,
      {
        name: 'Flow',
        collection: { source: 'Controller', address: { node: 'ns=1;s=Network.Flow' }, intervalMilliseconds: 500 },
      },
      ...Array.from({ length: 4 }, (_, i) => ({ name: `W${i}` })),
      { name: 'Old' },
    ],
    key,
  );
  const admin = new pg.Client(`${cluster.url}/postgres`);
  await admin.connect();
  await admin.query('CREATE DATABASE second');
  await admin.end();
  await call('POST', '/stores', { name: 'Second', url: `${cluster.url}/second` }, key);
  collector = start('collector/dist/main.mjs', collectorEnvironment);
}, 240_000);

afterAll(async () => {
  over = true;
  await Promise.all([...running].map((program) => program.stop()));
  await cluster.stop();
  rmSync(clusterFolder(folder), { recursive: true, force: true });
  rmSync(folder, { recursive: true, force: true });
}, 60_000);

/** Months to keep so that what lies before a month of 2020 goes. */
function monthsSince2020(month: number): number {
  const now = new Date();
  return (now.getUTCFullYear() - 2020) * 12 + now.getUTCMonth() - month;
}

test('after kill -9 of server, collector and PostgreSQL every acknowledged value is there exactly once, while values are corrected, a tag moves between stores and months are dropped', async () => {
  const client = (): pg.Client => {
    const asking = new pg.Client(`${cluster.url}/postgres`);
    // It is killed with the rest, also while nobody asks it anything.
    asking.on('error', () => undefined);
    return asking;
  };
  const ask = async <Row>(sql: string): Promise<Row> => {
    const asking = client();
    await asking.connect();
    try {
      return (await asking.query(sql)).rows[0] as Row;
    } finally {
      await asking.end();
    }
  };
  const { first_id } = await ask<{ first_id: number }>("SELECT id AS first_id FROM tag WHERE name = 'W0'");
  const oldTag = first_id + 4;
  const key = { authorization: `Bearer ${collectorEnvironment.WIDE_LEDGER_KEY}` };
  /** Repeats a call until it is answered, as a person or a program would. */
  const insist = async (method: string, path: string, body: unknown): Promise<void> => {
    while (!over && !(await call(method, path, body, key).catch(() => null))) await wait(50);
  };

  // Writers that count: each repeats an entry until it is acknowledged, as collectors and links do.
  let writing = true;
  const goesOn = (): boolean => writing && !over;
  const acknowledged = [0, 0, 0, 0];
  const writers = acknowledged.map(async (_, w) => {
    for (let sequence = 1; goesOn(); sequence++) {
      const rows = Array.from({ length: SAMPLES }, (_, i): [number, number] => [
        START + (sequence * SAMPLES + i) * 1000,
        sequence + i / 1000,
      ]);
      const packed = packEntry({ writer: `writer-${w}`, sequence, origin: 'live' }, frameOf(first_id + w, rows));
      while (!over) {
        const answer = await fetch(`${url}/api/v1/entries`, {
          method: 'POST',
          headers: { authorization: `Bearer ${collectorEnvironment.WIDE_LEDGER_KEY}` },
          body: Buffer.from(packed),
          signal: AbortSignal.timeout(20_000),
        }).catch(() => null);
        if (answer?.ok) break;
        await wait(50);
      }
      acknowledged[w] = sequence;
    }
  });
  // Corrections of the second writer's values, by way of the interface: the sample of each entry gets its number.
  let corrected = 0;
  const correcting = (async () => {
    for (let n = 1; goesOn(); n++) {
      while (goesOn() && acknowledged[1]! < n) await wait(20);
      if (!goesOn()) break;
      const time = new Date((START + n * SAMPLES * 1000) / 1000).toISOString();
      await insist('POST', '/history/corrections', { tag: 'W1', reason: `Check ${n}`, samples: [{ time, value: -n }] });
      corrected = n;
      await wait(20);
    }
  })();
  // The fourth writer's tag moves to and fro.
  const storeOf = async (): Promise<string> =>
    (
      await ask<{ name: string }>(
        `SELECT s.name FROM tag t JOIN store s ON s.id = t.store_id WHERE t.id = ${first_id + 3} AND NOT EXISTS (SELECT 1 FROM tag_move)`,
      )
    ).name;
  const moveTo = async (store: string): Promise<void> => {
    await insist('POST', '/stores/moves', { tags: ['W3'], store });
    await until(`the tag is in ${store}`, async () => (await storeOf()) === store);
  };
  let moves = 0;
  const moving = (async () => {
    for (; goesOn(); moves++) await moveTo(moves % 2 === 0 ? 'Second' : 'Embedded');
  })();
  // A month of 2020 after the other is dropped.
  const old = Array.from({ length: 6 }, (_, m) => ({ tag: 'Old', time: `2020-0${m + 1}-15T00:00:00Z`, value: m }));
  await insist('POST', '/samples', { samples: old });
  await until('the old months are posted', async () => {
    const { n } = await ask<{ n: string }>(`SELECT count(*) AS n FROM every_block WHERE tag_id = ${oldTag}`);
    return Number(n) > 0;
  });
  const dropping = (async () => {
    for (let month = 1; month <= 4; month++) {
      await insist('PUT', '/stores/1/retention', { months: monthsSince2020(month) });
      await wait(1000);
    }
  })();
  const progress = (): number => acknowledged.reduce((sum, one) => sum + one, 0);
  const moved = async (): Promise<void> => {
    const before = progress();
    await until('the writers get on', () => Promise.resolve(progress() > before + 40));
  };

  const collecting = async (): Promise<void> => {
    const count = async (): Promise<number> =>
      Number((await ask<{ n: string }>("SELECT count(*) AS n FROM journal_entry WHERE writer LIKE 'collector%'")).n);
    const before = await count();
    await until('the collector gets on', async () => (await count()) > before + 8);
  };

  await collecting();
  await moved();
  // Both sources have to be watched, so that what comes is about the collector; the bench takes its time to start.
  await until('both sources are watched', async () => {
    const answer = await fetch(`${url}/api/v1/sources`, { headers: key });
    const { sources } = (await answer.json()) as { sources: { state: { state: string; since: number } | null }[] };
    return sources.every(({ state }) => state?.state === 'watching' && Date.now() - state.since > 3000);
  });
  await collecting();
  // Frozen, as a paused virtual machine is: nothing is read, and nothing ends.
  collector.child.kill('SIGSTOP');
  const frozenAt = Date.now();
  await wait(4_000);
  collector.child.kill('SIGCONT');
  await collecting();
  await kill(server);
  server = start('server/dist/main.mjs', serverEnvironment);
  await until('the server is back', healthy);
  await moved();
  // Killed while a version is being put in force that concerns it: it runs that one, or takes it when it is back.
  const { body: edited } = await call<{ draft: { id: number } }>(
    'POST',
    '/drafts',
    { changes: [{ kind: 'tag', id: first_id - 100, set: { settings: { intervalMilliseconds: 100 } } }] },
    key,
  );
  const putting = call<{ version: number }>(
    'POST',
    `/drafts/${edited.draft.id}/force`,
    { reason: 'While killed' },
    key,
  );
  await kill(collector);
  const { body: forced } = await putting;
  collector = start('collector/dist/main.mjs', collectorEnvironment);
  await until('the collector runs the version that was put in force while it was killed', async () => {
    const answer = await fetch(`${url}/api/v1/desk`, { headers: key });
    const { collectors } = (await answer.json()) as { collectors: { version: number | null; present: boolean }[] };
    return collectors.some(({ version, present }) => present && version === forced.version);
  });
  await collecting();
  await moved();
  await cluster.kill();
  cluster = await startCluster(process.env.TEST_POSTGRES_PROGRAMS!, folder, databasePort);
  await moved();
  writing = false;
  await Promise.all([...writers, correcting, moving, dropping]);
  await moveTo('Embedded');

  // The collector leaves in peace: everything on its spool is delivered.
  await collecting();
  await until('the collector has delivered', async () => {
    const answer = await fetch(`${url}/api/v1/desk`, {
      headers: { authorization: `Bearer ${collectorEnvironment.WIDE_LEDGER_KEY}` },
    });
    const { collectors } = (await answer.json()) as { collectors: { spooledEntries: number }[] };
    return collectors[0]!.spooledEntries <= 2;
  });
  await collector.stop();
  running.delete(collector);
  await until(
    'everything is posted',
    async () =>
      (
        await ask<{ n: string }>('SELECT count(*) AS n FROM journal_entry j, posting p WHERE j.id > p.entry')
      ).n.toString() === '0',
  );

  for (const [w, sequence] of acknowledged.entries()) {
    const { samples, distinct_times } = await ask<{ samples: string; distinct_times: string }>(
      `SELECT count(*) AS samples, count(DISTINCT d.micros) AS distinct_times FROM every_block b, history.decode_frame(b.frame) d WHERE b.tag_id = ${first_id + w}`,
    );
    // The last entry may have been committed without its acknowledgement getting through, never the other way round.
    const possible = [sequence * SAMPLES, (sequence + 1) * SAMPLES].map((most) => ({ writer: w, samples: most }));
    expect(possible).toContainEqual({ writer: w, samples: Number(samples) });
    expect(distinct_times).toBe(samples);
  }
  const twice = await ask<{ n: string }>(
    'SELECT count(*) AS n FROM (SELECT 1 FROM journal_entry WHERE sequence IS NOT NULL GROUP BY writer, sequence HAVING count(*) > 1) AS twice',
  );
  expect(Number(twice.n)).toBe(0);
  const holes = await ask<{ n: string }>(
    // A collector's numbers go on over its starts, under a name that ends with another epoch each time.
    `SELECT count(*) AS n FROM (SELECT max(sequence) - count(*) AS hole FROM journal_entry WHERE sequence IS NOT NULL
       GROUP BY regexp_replace(writer, '\\.[^./]*$', '')) AS w WHERE hole <> 0`,
  );
  expect(Number(holes.n)).toBe(0);
  const compared = await ask<Record<string, string>>(journalAgainstLedger(oldTag));
  expect({ missing: Number(compared.missing), extra: Number(compared.extra) }).toEqual({ missing: 0, extra: 0 });
  // Corrections stand, each with its old value once; the tag moved at least there and back; old months are gone.
  expect(corrected).toBeGreaterThan(10);
  const checked = await ask<{ standing: string; kept: string; once: string }>(
    `SELECT count(*) FILTER (WHERE s.value = -n) AS standing,
            (SELECT count(*) FROM history.modified WHERE tag = 'W1') AS kept,
            (SELECT count(DISTINCT time) FROM history.modified WHERE tag = 'W1') AS once
     FROM generate_series(1, ${corrected}) AS n, history.sample('W1', history.instant(${START} + n * ${SAMPLES} * 1000::bigint),
       history.instant(${START} + n * ${SAMPLES} * 1000::bigint + 1)) AS s`,
  );
  expect(Number(checked.standing)).toBe(corrected);
  expect(checked.kept).toBe(checked.once);
  expect([corrected, corrected + 1]).toContain(Number(checked.kept));
  expect(moves).toBeGreaterThan(1);
  const left = await ask<{ months: string[] }>(
    "SELECT array_agg(to_char(time, 'YYYY-MM') ORDER BY time) AS months FROM history.sample('Old', '2020-01-01Z', '2021-01-01Z')",
  );
  expect(left.months).toEqual(['2020-05', '2020-06']);
  // The freeze is a gap of its own, to the second, and no aggregate takes the held value for a measured one.
  const stop = await ask<{ n: string; seconds: string }>(
    `SELECT count(*) AS n, max(extract(epoch FROM least(until, to_timestamp(${(frozenAt + 4_000) / 1000})) - greatest(since, to_timestamp(${frozenAt / 1000})))) AS seconds
     FROM history.gap WHERE source = 'Device' AND tag IS NULL AND sentence LIKE 'The collector did not read for a while%'
       AND until > to_timestamp(${(frozenAt + 500) / 1000}) AND since < to_timestamp(${(frozenAt + 3_500) / 1000})`,
  );
  expect(Number(stop.n)).toBe(1);
  expect(Number(stop.seconds)).toBeGreaterThan(3);
  // A controller that tells changes kept them for the frozen collector: nothing of that time is missing, nothing a gap.
  const told = await ask<{ values: string; gaps: string }>(
    `SELECT (SELECT count(*) FROM history.sample('Flow', to_timestamp(${frozenAt / 1000}), to_timestamp(${(frozenAt + 4_000) / 1000}))
             WHERE quality = 'Good') AS values,
            (SELECT count(*) FROM history.gap WHERE source = 'Controller'
               AND until > to_timestamp(${(frozenAt + 500) / 1000}) AND since < to_timestamp(${(frozenAt + 3_500) / 1000})) AS gaps`,
  );
  expect(Number(told.values)).toBeGreaterThanOrEqual(6);
  expect(Number(told.gaps)).toBe(0);
  // The collector's death is in the coverage, with its cause.
  const outage = await ask<{ n: string }>(
    "SELECT count(*) AS n FROM outage WHERE cause = 'collector' AND sentence LIKE 'The collector ended without notice%' GROUP BY source_id ORDER BY source_id LIMIT 1",
  );
  expect(Number(outage.n)).toBe(1);
}, 900_000);
