/** A connection that the database ends, told as what it is whenever that is noticed. */
import { pino } from 'pino';
import { openPool } from '../../src/ground/database/connect.ts';
import { databaseFault } from '../../src/ground/http/databaseFaults.ts';
import { createDatabase } from './testDatabase.ts';

const own = await createDatabase();
const pool = openPool(own.url, pino({ level: 'silent' }));
afterAll(async () => {
  await pool.end();
  await own.drop();
});

/** The fault that a statement meets. */
const faultOf = (statement: Promise<unknown>) =>
  statement.then(
    () => null,
    (error: unknown) => databaseFault(error),
  );

test.each([
  ['while a statement runs', true],
  ['between two statements of one reading', false],
])('lost %s: the database does not answer', async (_when, asking) => {
  const client = await pool.connect();
  const { rows } = await client.query<{ pid: number }>('SELECT pg_backend_pid() AS pid');
  const lost = new Promise((done) => client.once('end', done));
  const running = asking ? faultOf(client.query('SELECT pg_sleep(60)')) : null;
  await pool.query('SELECT pg_terminate_backend($1)', [rows[0]!.pid]);
  await lost;
  const fault = await (running ?? faultOf(client.query('SELECT 1')));
  client.release(true);
  expect(fault).toMatchObject({ status: 503, title: 'The database does not answer' });
});
