/** Sessions and keys end at once, a collector's key speaks for its collector alone, and SQL tools stay within their limits. */
import type { KnownKey, OpenSession } from '@wide-ledger/contract';
import { packEntry, parseInstant } from '@wide-ledger/core';
import { Seal } from '@wide-ledger/vault';
import { randomBytes } from 'node:crypto';
import pg from 'pg';
import { pino } from 'pino';
import { ReaderRole } from '../../src/people/reader/reader.ts';
import { setTimeout as wait } from 'node:timers/promises';
import { SILENT_REPORT, PASSWORD, TestSite, frameOf } from './testSite.ts';

/** A role belongs to the whole cluster, on which other tests run. */
const READER = `reader_${randomBytes(4).toString('hex')}`;

let site: TestSite;
beforeAll(async () => {
  site = await TestSite.open({ WIDE_LEDGER_READER: READER });
}, 60_000);
afterAll(() => site.close());

const signIn = async (agent = 'a browser'): Promise<string> => {
  const headers = { 'user-agent': agent };
  const answer = await site.call('POST', '/session', { name: 'admin', password: PASSWORD }, headers);
  return answer.headers.getSetCookie()[0]!.split(';')[0]!;
};
const keyFor = async (body: object): Promise<{ id: number; headers: { authorization: string; cookie: string } }> => {
  const made = await site.call<{ id: number; key: string }>('POST', '/keys', body);
  return { id: made.body.id, headers: { authorization: `Bearer ${made.body.key}`, cookie: '' } };
};

describe('sessions', () => {
  test('are seen with whence and since when, and end at once: by signing out, and by somebody else', async () => {
    const cookie = await signIn('Chromium of the control room');
    const list = async () => (await site.call<{ sessions: OpenSession[] }>('GET', '/sessions')).body.sessions;
    const mine = (await list()).find(({ agent }) => agent === 'Chromium of the control room')!;
    expect(mine).toMatchObject({ name: 'admin', own: false });
    expect((await list()).filter(({ own }) => own)).toHaveLength(1);
    expect((await site.call('GET', '/session', undefined, { cookie })).status).toBe(200);
    expect((await site.call('DELETE', `/sessions/${mine.id}`)).status).toBe(204);
    expect((await site.call('GET', '/session', undefined, { cookie })).status).toBe(401);
    // A cookie that was copied is worth nothing after signing out.
    const copied = await signIn();
    expect((await site.call('DELETE', '/session', undefined, { cookie: copied })).status).toBe(204);
    expect((await site.call('GET', '/session', undefined, { cookie: copied })).status).toBe(401);
    expect((await site.call('DELETE', `/sessions/${mine.id}`)).status).toBe(404);
    expect((await site.call('DELETE', '/sessions/none')).status).toBe(404);
  });

  test('survive a restart of the server', async () => {
    const cookie = await signIn();
    await site.restart();
    expect((await site.call('GET', '/session', undefined, { cookie })).status).toBe(200);
  });

  test.each([
    ['http://127.0.0.1:1', 'another port of this host'],
    ['https://example.org', 'another host'],
    ['null', 'a page without an origin'],
  ])('change nothing for a page of %s: %s', async (origin) => {
    const refused = await site.call<{ detail: string }>('POST', '/keys', { name: 'x', scopes: ['read'] }, { origin });
    expect(refused.status).toBe(403);
    expect(refused.body.detail).toContain('comes from a page of');
    expect((await site.call('GET', '/tags', undefined, { origin })).status).toBe(200);
    const own = { origin: new URL(site.site.url).origin };
    expect((await site.call('POST', '/keys', { name: 'x', scopes: ['read'] }, own)).status).toBe(201);
  });
});

describe('keys', () => {
  test('are listed with their last use, end when they were to end, and are revoked at once', async () => {
    const key = await keyFor({ name: 'reports', scopes: ['read'] });
    const find = async () =>
      (await site.call<{ keys: KnownKey[] }>('GET', '/keys')).body.keys.find(({ id }) => id === key.id);
    expect(await find()).toMatchObject({ name: 'reports', scopes: ['read'], by: 'admin', lastUse: null, ends: null });
    expect((await site.call('GET', '/tags', undefined, key.headers)).status).toBe(200);
    expect((await find())!.lastUse).not.toBeNull();
    expect((await site.call('DELETE', `/keys/${key.id}`)).status).toBe(204);
    expect((await site.call('GET', '/tags', undefined, key.headers)).status).toBe(401);
    expect(await find()).toBeUndefined();
    const past = await site.call<{ detail: string }>('POST', '/keys', {
      name: 'old',
      scopes: ['read'],
      ends: '2020-01-01T00:00:00Z',
    });
    expect(past.body.detail).toBe('ends: this has passed. A key ends later.');
    const soon = await keyFor({ name: 'soon', scopes: ['read'], ends: new Date(Date.now() + 3_600_000).toISOString() });
    expect((await site.call('GET', '/tags', undefined, soon.headers)).status).toBe(200);
    await site.query("UPDATE access_key SET ends_at = now() - interval '1 second' WHERE id = $1", [soon.id]);
    // A server remembers a key for a second.
    for (let status = 200; status !== 401; await wait(50))
      status = (await site.call('GET', '/tags', undefined, soon.headers)).status;
  });

  const T0 = parseInstant('2026-01-01T00:00:00Z')!;
  const deliver = (tag: number, writer: string, sequence: number, headers: object, origin = 'live') =>
    site.call<{ detail: string }>(
      'POST',
      '/entries',
      packEntry({ writer, sequence, origin }, frameOf(tag, [[T0 + sequence, 1]])),
      headers as Record<string, string>,
    );

  test('of a collector write under its name alone, and with its origins alone', async () => {
    const tag = await site.tag({ name: 'K.1' });
    const one = await keyFor({ name: 'one', scopes: ['collect'], collector: 'north' });
    const two = await keyFor({ name: 'two', scopes: ['collect'] });
    expect((await deliver(tag, 'north/spool', 1, one.headers)).status).toBe(200);
    // The first name that a key without one is used for is its own from then on, unless another key has it.
    const taken = await deliver(tag, 'north/spool', 1_000_000, two.headers);
    expect([taken.status, taken.body.detail]).toEqual([
      403,
      'The collector north has another key. Make one for it, with its name, or use that of another collector.',
    ]);
    expect((await deliver(tag, 'south/spool', 1, two.headers)).status).toBe(200);
    const foreign = await deliver(tag, 'west/spool', 1, two.headers);
    expect(foreign.body.detail).toBe('The key two belongs to the collector south, and cannot speak as west.');
    // Nobody was silenced by a number that was not theirs.
    expect((await deliver(tag, 'north/spool', 2, one.headers)).body).toMatchObject({ accepted: 1, repeated: false });
    for (const origin of ['corrected', 'entered', 'derived', 'carried']) {
      const { status, body } = await deliver(tag, 'north/spool', 3, one.headers, origin);
      expect([origin, status]).toEqual([origin, 403]);
      expect(body.detail).toContain(`Values that are ${origin} need the scope`);
    }
    const report = { ...SILENT_REPORT, name: 'north' };
    expect((await site.call('POST', '/collector/report', report, two.headers)).status).toBe(403);
    expect((await site.call('POST', '/collector/report', report, one.headers)).status).toBe(200);
    const position = await site.call('GET', '/entries/position?writer=north%2Fspool', undefined, two.headers);
    expect(position.status).toBe(403);
  });

  test('correct only with the scope for it', async () => {
    await site.tag({ name: 'K.2' });
    const body = { tag: 'K.2', reason: 'a try', samples: [{ time: '2026-01-01T00:00:00Z', value: 1 }] };
    const writing = await keyFor({ name: 'writing', scopes: ['write'] });
    const refused = await site.call<{ detail: string }>('POST', '/history/corrections', body, writing.headers);
    expect([refused.status, refused.body.detail]).toEqual([
      403,
      'This needs the scope "correct"; key writing has write.',
    ]);
    const correcting = await keyFor({ name: 'correcting', scopes: ['write', 'correct'] });
    expect((await site.call('POST', '/history/corrections', body, correcting.headers)).status).toBe(200);
  });
});

describe('the role for SQL tools', () => {
  const connect = async (password = 'reader-for-tests', role = READER): Promise<pg.Client> => {
    const url = new URL(site.databaseUrl);
    url.username = role;
    url.password = password;
    const client = new pg.Client(url.toString());
    client.on('error', () => undefined);
    await client.connect();
    return client;
  };

  test('reads the views, and takes neither room nor locks, whatever its session sets', async () => {
    const client = await connect();
    try {
      await client.query('SELECT * FROM history.tag');
      await client.query('SET default_transaction_read_only = off; SET statement_timeout = 0');
      for (const statement of [
        'CREATE TEMPORARY TABLE t (a int)',
        'CREATE TABLE public.t (a int)',
        'SELECT lo_create(0)',
        'SELECT lo_from_bytea(0, $$x$$)',
        'SELECT pg_advisory_lock(7000, 0)',
        'SELECT pg_try_advisory_lock(7000)',
        'SELECT * FROM public.account',
        'GRANT pg_read_all_data TO CURRENT_USER',
      ]) {
        await expect(client.query(statement).then(() => statement)).rejects.toThrow(
          /permission denied|must have admin/,
        );
      }
    } finally {
      await client.end();
    }
  });

  test('is ended from outside when a transaction stays open beyond the limit', async () => {
    const pool = new pg.Pool({ connectionString: site.databaseUrl, max: 2 });
    const limits = { seconds: 1, grace: 0, every: 50 };
    const role = new ReaderRole(
      pool,
      new Seal(randomBytes(32)),
      `${READER}_hurried`,
      pino({ level: 'silent' }),
      limits,
    );
    await role.prepare('reader-for-tests');
    const client = await connect('reader-for-tests', `${READER}_hurried`);
    const ended = new Promise((done) => client.once('end', done));
    await client.query('SET idle_in_transaction_session_timeout = 0; SET statement_timeout = 0; BEGIN; SELECT 1');
    await ended;
    role.stop();
    await pool.query(`DROP OWNED BY ${READER}_hurried_rights; DROP OWNED BY ${READER}_hurried`);
    await pool.query(`DROP ROLE ${READER}_hurried; DROP ROLE ${READER}_hurried_rights`);
    await pool.end();
  });

  test('gets another password in the application, which a restart does not take back', async () => {
    const password = 'another-one-of-its-own';
    expect((await site.call('PUT', '/reader/password', { password })).status).toBe(204);
    await expect(connect()).rejects.toThrow('password authentication failed');
    await (await connect(password)).end();
    await site.restart();
    await (await connect(password)).end();
  });
});
