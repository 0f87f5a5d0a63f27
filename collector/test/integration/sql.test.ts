/** A table of another logger in a real PostgreSQL: read on by time and by number, committed late, cut off, refused. */
import { sqlConnection, type RecordAddress } from '@wide-ledger/contract';
import { Status, parseInstant } from '@wide-ledger/core';
import fc from 'fast-check';
import pg from 'pg';
import { BOILER_LOG, BoilerLogDevice, writtenDown } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { createDatabase, type TestDatabase } from '../../../server/test/integration/testDatabase.ts';
import { SourceAway, sql, type SourceOf, type Surroundings } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { RecordReader, type ConnectionOf } from '../recordReader.ts';
import { tagAt } from '../tags.ts';

type Connection = ConnectionOf<'sql'>;

let database: TestDatabase;
let client: pg.Client;
let around: Surroundings;
let place: Pick<Connection, 'host' | 'port' | 'database' | 'user' | 'password'>;

beforeAll(async () => {
  database = await createDatabase();
  client = new pg.Client(database.url);
  await client.connect();
  const { hostname, port, username, password, pathname } = new URL(database.url);
  around = { ...ALONE, secret: (id) => (id === 1 ? decodeURIComponent(password) : id === 2 ? 'wrong' : null) };
  place = {
    host: hostname,
    port: Number(port),
    database: pathname.slice(1),
    user: decodeURIComponent(username),
    password: 1,
  };
});
afterAll(async () => {
  await client.end();
  await database.drop();
});
beforeEach(async () => {
  await client.query(`
    DROP TABLE IF EXISTS history;
    CREATE TABLE history (number bigint GENERATED ALWAYS AS IDENTITY, time timestamptz, point text, value numeric, quality int)`);
});

const source = (over: Partial<Connection> = {}): SourceOf<'sql'> => ({
  name: 'Logger',
  kind: 'sql',
  connection: sqlConnection.parse({
    ...place,
    series: 'point',
    status: 'quality',
    statusIs: 'byte',
    delaySeconds: 0,
    ...over,
  }),
});
const tag = (id: number, series: string, type = 'real') => tagAt<RecordAddress>(id, { series }, { type });
const open = async (over: Partial<Connection> = {}, tags = [tag(1, 'flow')]): Promise<RecordReader<'sql'>> =>
  new RecordReader(await sql.open(source(over), around), tags);
const add = (time: string, value: number | null, point = 'flow', quality = 192): Promise<unknown> =>
  client.query('INSERT INTO history (time, point, value, quality) VALUES ($1, $2, $3, $4)', [
    time,
    point,
    value,
    quality,
  ]);
const at = (second: number): string => `2026-11-27T12:00:${String(second).padStart(2, '0')}.123456Z`;

test('rows are read once, to the microsecond, by their time', async () => {
  await add(at(1), 1.5);
  await add(at(2), 2.5, 'other');
  await add(at(3), null, 'flow', 0);
  const reader = await open();
  expect((await reader.rest()).map(({ value, status, sourceTime }) => [value, status, sourceTime])).toEqual([
    [1.5, Status.Good, parseInstant(at(1))],
    [null, Status.Bad, parseInstant(at(3))],
  ]);
  await add(at(4), 4);
  expect(await reader.values()).toEqual([4]);
  expect(await reader.values()).toEqual([]);
  reader.session.close();
});

test('late values are read by a number that grows; by the time they are missed once all transactions of then have ended', async () => {
  await add(at(5), 5);
  const [byTime, byNumber] = [await open(), await open({ progress: 'number' })];
  expect([await byTime.values(), await byNumber.values()]).toEqual([[5], [5]]);
  await add(at(2), 2);
  expect([await byTime.values(), await byNumber.values()]).toEqual([[], [2]]);
  for (const { session } of [byTime, byNumber]) session.close();
});

test('a row that is committed after those behind it is not missed: young rows are left alone for a while', async () => {
  const now = Date.now();
  const ago = (seconds: number): string => new Date(now - seconds * 1000).toISOString();
  await add(ago(60), 1);
  const slow = new pg.Client(database.url);
  await slow.connect();
  await slow.query('BEGIN');
  await slow.query("INSERT INTO history (time, point, value, quality) VALUES ($1, 'flow', 2, 192)", [ago(20)]);
  await add(ago(10), 3);
  const reader = await open({ progress: 'number', delaySeconds: 30 });
  expect(await reader.values()).toEqual([1]);
  await slow.query('COMMIT');
  await slow.end();
  const later = await open({ progress: 'number', delaySeconds: 0 });
  later.cursor = reader.cursor;
  // While it was read a transaction was open: whoever goes on after a restart begins before that.
  expect(await later.values()).toEqual([1, 2, 3]);
  for (const { session } of [reader, later]) session.close();
});

test('a row with a time in the future holds up none behind it', async () => {
  const ahead = (seconds: number): string => new Date(Date.now() + seconds * 1000).toISOString();
  await add(ahead(-60), 1);
  await add(ahead(86_400), 2);
  await add(ahead(-50), 3);
  const reader = await open({ progress: 'number', delaySeconds: 5 });
  expect(await reader.values()).toEqual([1, 2, 3]);
  reader.session.close();
});

test('columns are those of each answer: one that is dropped gives nothing of its neighbour, and that is told', async () => {
  await client.query('ALTER TABLE history ADD COLUMN first numeric; ALTER TABLE history ADD COLUMN second numeric');
  const row = (names: string, ...values: (string | number)[]): Promise<unknown> =>
    client.query(
      `INSERT INTO history (time, ${names}) VALUES (${values.map((_, i) => `$${i + 1}`).join(', ')})`,
      values,
    );
  const reader = await open({ series: '', status: '', progress: 'number' }, [tag(1, 'first'), tag(2, 'second')]);
  const told = async () => (await reader.rest()).map(({ tag: id, value }) => [id, value]);
  await row('first, second', at(1), 1, 2);
  expect(await told()).toEqual([
    [1, 1],
    [2, 2],
  ]);
  await client.query('ALTER TABLE history DROP COLUMN first');
  await row('second', at(2), 20);
  expect(await told()).toEqual([[2, 20]]);
  expect(reader.troubles).toEqual(['The columns of the query have changed: first is gone.']);
  await client.query('ALTER TABLE history ADD COLUMN first numeric');
  await row('first, second', at(3), 100, 200);
  expect((await told()).toSorted()).toEqual([
    [1, 100],
    [2, 200],
  ]);
  reader.session.close();
});

test('whole numbers of exact types keep every digit', async () => {
  await client.query("INSERT INTO history (time, point, value) VALUES ($1, 'flow', 9007199254740993)", [at(1)]);
  const reader = await open({ status: '' }, [tag(1, 'flow', 'integer')]);
  expect(await reader.values()).toEqual([9007199254740993n]);
  reader.session.close();
});

test('rows of one place stay together, though one of them is too young', async () => {
  const ago = (seconds: number): string => new Date(Date.now() - seconds * 1000).toISOString();
  const batches = { query: "SELECT 1 + (point = 'b')::int AS batch, * FROM history", progress: 'batch', series: '' };
  await add(ago(60), 1, 'a');
  await add(ago(50), 2, 'b');
  await add(ago(1), 3, 'b');
  const reader = await open({ ...batches, delaySeconds: 30 }, [tag(1, 'value')]);
  expect(await reader.values()).toEqual([1]);
  const later = await open({ ...batches, delaySeconds: 0 }, [tag(1, 'value')]);
  later.cursor = reader.cursor;
  expect(await later.values()).toEqual([2, 3]);
  for (const { session } of [reader, later]) session.close();
});

test('whatever the order in which transactions get their numbers and are committed, every row is read once, also over restarts', async () => {
  const others = await Promise.all(
    [0, 1, 2].map(async () => {
      const other = new pg.Client(database.url);
      await other.connect();
      return other;
    }),
  );
  const step = fc.oneof(
    {
      weight: 5,
      arbitrary: fc.record({ who: fc.nat(2), what: fc.constantFrom('insert', 'insert', 'commit', 'undo') }),
    },
    { weight: 3, arbitrary: fc.constant({ who: 0, what: 'poll' }) },
    { weight: 1, arbitrary: fc.constant({ who: 0, what: 'restart' }) },
  );
  let lateOnes = 0;
  try {
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 20, maxLength: 60 }), async (steps) => {
        await client.query('TRUNCATE history RESTART IDENTITY');
        let reader = await open({ progress: 'number', value: 'number' });
        const read = new Map<unknown, number>();
        let restarts = 0;
        let highest = 0;
        const poll = async (): Promise<void> => {
          for (const { value } of await reader.rest()) {
            read.set(value, (read.get(value) ?? 0) + 1);
            if (Number(value) < highest) lateOnes++;
            highest = Math.max(highest, Number(value));
          }
        };
        const begun = new Set<number>();
        const end = async (who: number, how: 'COMMIT' | 'ROLLBACK'): Promise<void> => {
          if (begun.delete(who)) await others[who]!.query(how);
        };
        for (const { who, what } of steps) {
          if (what === 'poll') await poll();
          else if (what === 'restart') {
            restarts++;
            reader.session.close();
            const again = await open({ progress: 'number', value: 'number' });
            again.cursor = reader.cursor;
            reader = again;
          } else if (what === 'insert') {
            if (!begun.has(who)) await others[who]!.query('BEGIN');
            begun.add(who);
            await others[who]!.query(
              `INSERT INTO history (time, point, value, quality) VALUES (now() - interval '1 h', 'flow', 0, 192)`,
            );
          } else await end(who, what === 'commit' ? 'COMMIT' : 'ROLLBACK');
        }
        for (const who of [0, 1, 2]) await end(who, 'COMMIT');
        await poll();
        await poll();
        const { rows } = await client.query<{ number: string }>('SELECT number FROM history ORDER BY number');
        expect([...read.keys()].map(Number).toSorted((a, b) => a - b)).toEqual(
          rows.map(({ number }) => Number(number)),
        );
        // What a restart reads again is the same value of the same time once more.
        for (const times of read.values()) expect(times).toBeLessThanOrEqual(1 + restarts);
        reader.session.close();
      }),
      { numRuns: 12 },
    );
    expect(lateOnes).toBeGreaterThan(0);
  } finally {
    await Promise.all(others.map((other) => other.end()));
  }
}, 120_000);

test('many rows of one time stay together, however many are read at a time', async () => {
  await client.query(`
    INSERT INTO history (time, point, value, quality)
      SELECT '2026-11-27T12:00:00Z'::timestamptz + (n / 7000) * interval '1 s', 'p' || n % 7000, n, 192
      FROM generate_series(0, 20999) AS n`);
  const reader = await open({}, [tag(1, 'p0'), tag(2, 'p6999')]);
  const samples = await reader.rest();
  expect(samples.filter((one) => one.tag === 1).map(({ value }) => value)).toEqual([0, 7000, 14000]);
  expect(samples.filter((one) => one.tag === 2).map(({ value }) => value)).toEqual([6999, 13999, 20999]);
  reader.session.close();
});

test('a column for each value, times by the clock of a zone, and every type as it is', async () => {
  await client.query(`
    DROP TABLE history;
    CREATE TABLE history (time timestamp, whole bigint, "on" boolean, note text, exact numeric(12, 3));
    INSERT INTO history VALUES ('2026-11-27 13:00:00', 9007199254740993, true, '007', 1.125)`);
  const tags = [tag(1, 'whole', 'integer'), tag(2, 'on', 'boolean'), tag(3, 'note', 'text'), tag(4, 'exact')];
  const reader = await open({ series: '', status: '', zone: 'Europe/Berlin' }, tags);
  const samples = await reader.rest();
  expect(samples.map(({ value }) => value)).toEqual([9007199254740993n, 1, '007', 1.125]);
  expect(samples[0]!.sourceTime).toBe(parseInstant('2026-11-27T12:00:00Z'));
  expect(
    (await sql.browse!(source({ series: '', status: '' }), null, around)).nodes.map(({ name, type }) => [name, type]),
  ).toEqual([
    ['whole', 'integer'],
    ['on', 'boolean'],
    ['note', 'text'],
    ['exact', 'real'],
  ]);
  reader.session.close();
});

test('at its end, only what comes is read; another query begins anew', async () => {
  await add(at(1), 1);
  const reader = await open({ begin: 'at its end' });
  expect(await reader.values()).toEqual([]);
  await add(at(2), 2);
  expect(await reader.values()).toEqual([2]);
  const other = await open({ query: 'SELECT time, point, value * 10 AS value, quality FROM history' });
  other.cursor = reader.cursor;
  expect(await other.values()).toEqual([10, 20]);
  for (const { session } of [reader, other]) session.close();
});

test('nothing can be changed, and what is refused is told with what to do', async () => {
  await add(at(1), 1);
  const refused = async (over: Partial<Connection>): Promise<string> => {
    try {
      const reader = await open(over);
      await reader.session.look().finally(() => reader.session.close());
      return '';
    } catch (error) {
      expect(error).toBeInstanceOf(SourceAway);
      return (error as Error).message;
    }
  };
  expect(sqlConnection.safeParse({ query: 'SELECT 1; DROP TABLE history' }).success).toBe(false);
  await client.query('CREATE FUNCTION emptied() RETURNS int LANGUAGE sql AS $$ DELETE FROM history RETURNING 1 $$');
  const emptied = await open({ query: 'SELECT time, point, value, emptied() AS quality FROM history' });
  await expect(emptied.rest()).rejects.toThrow('The query wants to change something.');
  emptied.session.close();
  expect((await client.query('SELECT FROM history')).rowCount).toBe(1);
  expect(await refused({ password: 2 })).toMatch(/^The password is wrong\..*Check user and password\.$/);
  expect(await refused({ database: 'nowhere' })).toMatch(/^There is no such database\./);
  expect(await refused({ query: 'SELECT * FROM nothing' })).toContain('There is no such table.');
  expect(await refused({ query: 'SELEC * FROM history' })).toMatch(/^The query is no SQL.*at letter/);
  expect(await refused({ value: 'reading' })).toContain('There is no column reading.');
  expect(await refused({ progress: 'serial' })).toContain('There is no column serial by which');
  expect(await refused({ query: 'SELECT *, pg_sleep(5) FROM history', timeoutMilliseconds: 300 })).toBe('');
  const slow = await open({ query: 'SELECT *, pg_sleep(5) FROM history', timeoutMilliseconds: 300 });
  await expect(slow.rest()).rejects.toThrow('The query took longer than it was given.');
  slow.session.close();
  expect(await refused({ port: await freePort() })).toContain('Nothing answers');
});

test('the path check, and a look at the rows with what reading on takes', async () => {
  const { rungs } = await sql.check(source(), around, () => undefined);
  expect(rungs.map(({ sentence }) => sentence)).toEqual([
    expect.stringContaining('is an address'),
    expect.stringContaining('accepts connections'),
    expect.stringContaining('lets'),
    'The query has the columns number, time, point, value, quality.',
    'The query has no rows yet.',
  ]);
  for (let second = 1; second < 30; second++) await add(at(second), second, second % 2 ? 'flow' : 'level');
  const looked = await sql.rows!(source({ progress: 'number' }), around);
  expect(looked).toMatchObject({
    read: 29,
    series: ['flow', 'level'],
    troubles: [],
    said: 'Without an index on number all rows are sorted each time: give it one.',
  });
  expect(looked.columns[1]).toEqual({ name: 'time', type: 'timestamp with time zone' });
  expect([looked.rows.length, looked.rows.at(-1)![3]]).toEqual([20, '29']);
  await client.query('CREATE UNIQUE INDEX ON history (number); SET enable_seqscan = on; ANALYZE history');
  expect((await sql.rows!(source({ query: 'SELECT 1 AS x' }), around)).said).toContain(
    'There is no column time by which',
  );
});

test('the bench’s boiler log over its line: each beat of each point, also after the line was cut', async () => {
  let now = Math.floor(Date.now() / 1000) - 60;
  const port = await freePort();
  const log = new BoilerLogDevice('127.0.0.1', port, { url: database.url, password: 'boiler-for-tests' }, () => now);
  await log.start();
  const boiler = { ...around, secret: () => 'boiler-for-tests' };
  const connection = sqlConnection.parse({
    port,
    database: place.database,
    user: BOILER_LOG.reader,
    password: 1,
    query: `SELECT * FROM ${BOILER_LOG.table}`,
    progress: 'number',
    time: 'logged_at',
    series: 'point',
    status: 'quality',
    statusIs: 'byte',
    delaySeconds: 0,
  });
  const tags = BOILER_LOG.points.map(({ series }, i) => tag(i, series));
  const connect = async () =>
    new RecordReader(await sql.open({ name: 'Boiler', kind: 'sql', connection }, boiler), tags);
  const written = async (rows: number): Promise<void> => {
    for (
      const end = performance.now() + 30_000;
      performance.now() < end;
      await new Promise((done) => setTimeout(done, 50))
    )
      if ((await client.query(`SELECT FROM ${BOILER_LOG.table}`)).rowCount === rows) return;
    throw new Error('The log was not written.');
  };
  const first = await connect();
  now += 10;
  await written(6);
  const samples = await first.rest();
  await log.line.set({ kind: 'cut' });
  await expect(first.rest()).rejects.toThrow(SourceAway);
  now += 10;
  await written(12);
  await log.line.set(null);
  const second = await connect();
  second.cursor = first.cursor;
  samples.push(...(await second.rest()));
  expect(samples).toHaveLength(12);
  for (const { tag: id, sourceTime, value } of samples)
    expect(value).toBe(writtenDown(BOILER_LOG.points[id]!, sourceTime! / 1e6));
  for (const { session } of [first, second]) session.close();
  await log.stop();
});
