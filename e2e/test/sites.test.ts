/** Two sites beside each other on one PostgreSQL cluster, as one launcher starts them: neither disturbs the other. */
import pg from 'pg';
import type { RunningSite } from '../../launch/site.mjs';
import { SITE_PASSWORD, openSites, type OpenSites } from '../src/index.ts';

let opened: OpenSites;
let sites: readonly RunningSite[];

beforeAll(async () => {
  opened = await openSites([
    ['Near', 'Europe/Berlin'],
    ['Far', 'UTC'],
  ]);
  ({ sites } = opened);
}, 120_000);

afterAll(() => opened?.close(), 60_000);

/** Cookies as a browser keeps them: by host, whatever the port. */
const jar = new Map<string, string>();

async function call<Body>(
  site: RunningSite,
  method: string,
  path: string,
  body?: unknown,
): Promise<{ status: number; body: Body }> {
  const answer = await fetch(`${site.url}/api/v1${path}`, {
    method,
    headers: {
      'content-type': 'application/json',
      cookie: [...jar].map(([name, value]) => `${name}=${value}`).join('; '),
    },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  for (const one of answer.headers.getSetCookie()) {
    const [, name, value] = /^([^=]+)=([^;]*)/.exec(one)!;
    jar.set(name!, value!);
  }
  const text = await answer.text();
  return { status: answer.status, body: (text === '' ? null : JSON.parse(text)) as Body };
}

test('one browser is signed in to both at once, and leaving one leaves the other', async () => {
  const [near, far] = sites as [RunningSite, RunningSite];
  for (const site of [near, far]) {
    expect((await call(site, 'POST', '/session', { name: 'admin', password: SITE_PASSWORD })).status).toBe(200);
  }
  for (const site of [near, far]) expect((await call(site, 'GET', '/session')).status).toBe(200);
  await call(far, 'DELETE', '/session');
  expect([(await call(near, 'GET', '/session')).status, (await call(far, 'GET', '/session')).status]).toEqual([
    200, 401,
  ]);
  await call(far, 'POST', '/session', { name: 'admin', password: SITE_PASSWORD });
});

test('each has its own name, zone, tags, values, versions and SQL role', async () => {
  const [near, far] = sites as [RunningSite, RunningSite];
  for (const [site, name, count] of [
    [near, 'Near', 300],
    [far, 'Far', 500],
  ] as const) {
    await call(site, 'POST', '/tags', [{ name: 'Shared' }, { name: `Only.${name}` }]);
    const samples = Array.from({ length: count }, (_, i) => ({
      tag: 'Shared',
      time: new Date(Date.UTC(2026, 0, 1) + i * 1000).toISOString(),
      value: i,
    }));
    const { body } = await call<{ accepted: number }>(site, 'POST', '/samples', { samples });
    expect(body.accepted).toBe(count);
  }
  const desk = (site: RunningSite) => call<{ site: string; zone: string }>(site, 'GET', '/desk');
  expect((await desk(near)).body).toMatchObject({ site: 'Near', zone: 'Europe/Berlin' });
  expect((await desk(far)).body).toMatchObject({ site: 'Far', zone: 'UTC' });
  expect((await call(near, 'GET', '/tags/Only.Far')).status).toBe(404);
  const counted = async (site: RunningSite, name: string): Promise<number> => {
    const url = new URL(site.databaseUrl);
    url.username = `reader_of_${name.toLowerCase()}`;
    url.password = `reader-of-${name}`;
    const client = new pg.Client(url.toString());
    await client.connect();
    try {
      const { rows } = await client.query<{ n: string }>(
        "SELECT count(*) AS n FROM history.sample('Shared', '2026-01-01Z', '2026-01-02Z')",
      );
      return Number(rows[0]!.n);
    } finally {
      await client.end();
    }
  };
  expect([await counted(near, 'Near'), await counted(far, 'Far')]).toEqual([300, 500]);
  // The role of one reads nothing of the other.
  await expect(counted({ ...near, databaseUrl: far.databaseUrl }, 'Near')).rejects.toThrow(/permission denied/);
});

test('a transaction that hangs in one holds up nothing in the other, and one goes on when the other has ended', async () => {
  const [near, far] = sites as [RunningSite, RunningSite];
  // Holds what an entry in the making, a posting, a gathering of months and the logbook hold, in one database.
  const hanging = new pg.Client(near.databaseUrl);
  await hanging.connect();
  await hanging.query('BEGIN');
  await hanging.query(
    'SELECT pg_advisory_xact_lock_shared(1), pg_advisory_xact_lock(7000, n) FROM generate_series(0, 4) AS n',
  );
  await hanging.query('SELECT FROM posting, configuration FOR UPDATE');
  const posted = async (): Promise<boolean> =>
    (await call<{ checks: { posting: string } }>(far, 'GET', '/health')).status === 200;
  const { body } = await call<{ accepted: number }>(far, 'POST', '/samples', {
    samples: [{ tag: 'Shared', time: '2026-02-01T00:00:00Z', value: 1 }],
  });
  expect(body.accepted).toBe(1);
  expect((await call(far, 'PATCH', '/tags/Shared', { description: 'Goes on' })).status).toBe(200);
  expect(await posted()).toBe(true);
  await hanging.query('ROLLBACK');
  await hanging.end();
  await near.stop();
  expect((await call<{ description: string }>(far, 'GET', '/tags/Shared')).body.description).toBe('Goes on');
});
