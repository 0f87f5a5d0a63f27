/** Long work: never twice at once, taken up when its worker is gone, stopped and paused. */
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { pino } from 'pino';
import { ROOT } from '../../../launch/ground.mjs';
import { openDatabase } from '../../src/ground/database/connect.ts';
import { Jobs } from '../../src/ground/jobs/jobs.ts';
import type { JobWork } from '../../src/ground/jobs/work.ts';
import { createDatabase } from './testDatabase.ts';

const silent = pino({ level: 'silent' });
const own = await createDatabase();
const database = await openDatabase(own.url, join(ROOT, 'server'), silent);
const { pool } = database;
const opened: Jobs[] = [];
afterAll(async () => {
  await Promise.all(opened.map((jobs) => jobs.close()));
  await pool.end();
  await own.drop();
});

/** A server's share of the jobs, with one kind of work. */
async function server<Plan, Cursor>(work: JobWork<Plan, Cursor>): Promise<Jobs> {
  const jobs = new Jobs(database, silent);
  jobs.register('import', work);
  await jobs.open();
  opened.push(jobs);
  return jobs;
}

async function until<Found>(look: () => Promise<Found | undefined | false>): Promise<Found> {
  for (;;) {
    const found = await look();
    if (found) return found;
    await wait(20);
  }
}

const start = (jobs: Jobs, key: string, again = false): Promise<{ id: number; started: boolean }> =>
  jobs.start({ kind: 'import', key, title: key, plan: { steps: 20 }, total: 20, by: 'test', again });
const ended = (jobs: Jobs, id: number, state = 'done'): Promise<unknown> =>
  until(async () => (await jobs.find(id))?.state === state);

/** Counts its steps in the database, in the transaction that they are committed with; begins a step with `before`. */
const counting = (
  before: (at: number) => Promise<void> = () => Promise.resolve(),
): JobWork<{ steps: number }, number> => ({
  unit: 'steps',
  tries: 'again and again',
  async run({ plan, cursor, step }) {
    for (let at = cursor ?? 0; at < plan.steps; at++) {
      await before(at);
      const goesOn = await step(async (client) => {
        await client.query('INSERT INTO step_done VALUES ($1)', [at]);
        return { done: at + 1, cursor: at + 1, sentence: `step ${at}` };
      });
      if (!goesOn) return 'not all';
    }
    return 'all';
  },
});
const stepsDone = async (): Promise<number[]> =>
  (await pool.query<{ at: number }>('SELECT at FROM step_done ORDER BY at')).rows.map(({ at }) => at);
const everyStep = Array.from({ length: 20 }, (_, at) => at);

beforeAll(() => pool.query('CREATE TABLE step_done (at integer)'));
beforeEach(() => pool.query('TRUNCATE step_done'));
afterEach(async () => {
  await Promise.all(opened.map((jobs) => jobs.close()));
  opened.length = 0;
});

test('a job is done once, whichever of three servers does it, and started once however often it is asked for', async () => {
  const servers = [await server(counting()), await server(counting()), await server(counting())];
  const starts = await Promise.all(servers.map((jobs) => start(jobs, 'once')));
  expect(new Set(starts.map(({ id }) => id)).size).toBe(1);
  await ended(servers[0]!, starts[0]!.id);
  expect(await stepsDone()).toEqual(everyStep);
});

test('what was asked for while it was being done is done once more', async () => {
  let reached!: () => void;
  const inTheMiddle = new Promise<void>((resolve) => (reached = resolve));
  let release!: () => void;
  const held = new Promise<void>((resolve) => (release = resolve));
  const jobs = await server(
    counting(async (at) => {
      if (at === 5) reached();
      if (at === 5) await held;
    }),
  );
  const { id } = await start(jobs, 'again');
  await inTheMiddle;
  expect(await start(jobs, 'again', true)).toEqual({ id, started: false });
  release();
  await until(async () => (await stepsDone()).length === 40);
  await ended(jobs, id);
  expect(await stepsDone()).toEqual(everyStep.flatMap((at) => [at, at]));
});

test('a worker that was frozen between two steps finds its job taken, and does no step more', async () => {
  let reached!: () => void;
  const frozen = new Promise<void>((resolve) => (reached = resolve));
  let thaw!: () => void;
  const thawed = new Promise<void>((resolve) => (thaw = resolve));
  const first = await server(
    counting(async (at) => {
      if (at !== 7) return;
      reached();
      await thawed;
    }),
  );
  const { id } = await start(first, 'frozen');
  await frozen;
  // Its hold is renewed by a timer, which a frozen process has none of: here it is taken away.
  await pool.query(
    "UPDATE job SET held_until = now() - interval '1 second', worker = gen_random_uuid() WHERE id = $1",
    [id],
  );
  const second = await server(counting());
  await ended(second, id);
  thaw();
  // It comes to its end, whatever it still does.
  await first.close();
  expect(await stepsDone()).toEqual(everyStep);
});

test('a worker that is frozen in the middle of a step keeps its job, since it has its row locked', async () => {
  const frozen = await pool.connect();
  const jobs = await server(counting());
  await pool.query(
    `INSERT INTO job (key, kind, title, state, done, total, unit, sentence, plan, worker, held_until)
       VALUES ('import held', 'import', 'held', 'running', 0, 20, 'steps', '', '{"steps": 20}', gen_random_uuid(), now() - interval '1 hour')`,
  );
  const { rows } = await pool.query<{ id: number }>("SELECT id FROM job WHERE key = 'import held'");
  await frozen.query('BEGIN');
  await frozen.query('SELECT FROM job WHERE id = $1 FOR UPDATE', [rows[0]!.id]);
  await start(jobs, 'another');
  await until(async () => (await stepsDone()).length === 20);
  expect((await jobs.find(rows[0]!.id))?.state).toBe('running');
  // It is killed: the lock goes with its connection, and somebody takes the job up where it was.
  frozen.release(true);
  await ended(jobs, rows[0]!.id);
  expect(await stepsDone()).toEqual(everyStep.flatMap((at) => [at, at]));
});

test('a job pauses and goes on from where it was; stopped, it does not', async () => {
  const jobs = await server(counting(() => wait(10)));
  const { id } = await start(jobs, 'reins');
  await until(async () => (await stepsDone()).length > 2);
  expect(await jobs.ask(id, 'pause')).toBe(true);
  await ended(jobs, id, 'paused');
  const before = await stepsDone();
  expect(before.length).toBeLessThan(20);
  await jobs.resume(id);
  await until(async () => (await stepsDone()).length > before.length);
  await jobs.ask(id, 'stop');
  await ended(jobs, id, 'stopped');
  const left = await stepsDone();
  expect(left).toEqual(everyStep.slice(0, left.length));
  expect(await jobs.resume(id)).toBe(false);
});

test('a server that closes leaves its job to the next one', async () => {
  const first = await server(counting(() => wait(10)));
  const { id } = await start(first, 'handed on');
  await until(async () => (await stepsDone()).length > 2);
  await first.close();
  opened.length = 0;
  expect(await stepsDone()).not.toHaveLength(20);
  const second = await server(counting());
  await ended(second, id);
  expect(await stepsDone()).toEqual(everyStep);
});

test('a failure is said, and tried again or final as its kind has it', async () => {
  let failures = 0;
  const failing: JobWork<unknown, unknown> = {
    unit: 'steps',
    tries: 'again and again',
    run: () =>
      failures++ === 0 ? Promise.reject(new Error('The store does not answer')) : Promise.resolve('done at last'),
  };
  const patient = await server(failing);
  const { id } = await start(patient, 'patient');
  const waiting = await until(async () => {
    const job = await patient.find(id);
    return job?.sentence.includes('tried again') && job;
  });
  expect(waiting).toMatchObject({ state: 'waiting', sentence: expect.stringContaining('The store does not answer.') });
  await ended(patient, id);
  await patient.close();
  opened.length = 0;
  const hasty = await server({ ...failing, tries: 'once', run: () => Promise.reject(new Error('No such file')) });
  const last = await start(hasty, 'hasty');
  await ended(hasty, last.id, 'failed');
  expect((await hasty.find(last.id))?.sentence).toBe('No such file');
});
