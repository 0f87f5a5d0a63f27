/** The launcher: what ends starts again, and when it ends itself, however that is, nothing is left behind. */
import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { DEVICE_PORTS, ROOT } from '../../launch/ground.mjs';
import { forgetData, prepareData } from '../../launch/data.mjs';
import { forgetDemo, type DemoSettings } from '../../launch/demo.mjs';
import { demoSettings } from '../src/demoSettings.ts';

let settings: DemoSettings;
let launcher: ChildProcess;
let said = '';

const environment = (): NodeJS.ProcessEnv => ({
  ...process.env,
  NODE_OPTIONS: '',
  WIDE_LEDGER_DATA: settings.data,
  WIDE_LEDGER_PORT: String(settings.port),
  WIDE_LEDGER_DATABASE_PORT: String(settings.databasePort),
  WIDE_LEDGER_BENCH_PORT: String(settings.benchPort),
  WIDE_LEDGER_DEVICE_PORT: String(settings.devicePort),
  WIDE_LEDGER_NEIGHBOURS: 'none',
  WIDE_LEDGER_ADMIN_PASSWORD: settings.password,
  WIDE_LEDGER_READER_PASSWORD: settings.readerPassword,
  WIDE_LEDGER_LOG: 'silent',
});

/** Runs the launcher as a person does. */
function launch(over: NodeJS.ProcessEnv = {}, ...args: string[]): ChildProcess {
  said = '';
  const child = spawn(process.execPath, [join(ROOT, 'launch/start.mjs'), ...args], {
    cwd: ROOT,
    env: { ...environment(), ...over },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (part) => (said += String(part)));
  return child;
}

async function until(what: string, check: () => boolean | Promise<boolean>): Promise<void> {
  for (const end = performance.now() + 240_000; performance.now() < end; await wait(100)) {
    if (await Promise.resolve(check()).catch(() => false)) return;
  }
  throw new Error(`Waited in vain until ${what}. The launcher said: ${said}`);
}

const ended = (child: ChildProcess): Promise<number | null> =>
  child.exitCode !== null ? Promise.resolve(child.exitCode) : new Promise((done) => child.once('exit', done));

const isTaken = (port: number): Promise<boolean> =>
  new Promise((done) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('connect', () => (socket.destroy(), done(true)));
    socket.once('error', () => done(false));
  });
const ports = (): number[] => [
  settings.port,
  settings.databasePort,
  settings.benchPort,
  ...Array.from({ length: DEVICE_PORTS }, (_, i) => settings.devicePort + i),
];
const allFree = async (): Promise<boolean> => !(await Promise.all(ports().map(isTaken))).includes(true);

/** Processes below the launcher by what they run. */
function pidOf(what: string): number {
  const children = readFileSync(`/proc/${launcher.pid}/task/${launcher.pid}/children`, 'utf8').trim().split(' ');
  const found = children.find((pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(what));
  return Number(found);
}

interface DeskPart {
  readonly restarts: { program: string; count: number }[];
  readonly collectors: { present: boolean; valuesPerSecond: number }[];
  readonly concerns: { sentence: string }[];
}
let cookie = '';
async function desk(): Promise<DeskPart> {
  const url = `http://127.0.0.1:${settings.port}/api/v1`;
  const ask = (): Promise<Response> => fetch(`${url}/desk`, { headers: { cookie } });
  let answer = await ask();
  if (answer.status === 401) {
    const body = JSON.stringify({ name: 'admin', password: settings.password });
    const signedIn = await fetch(`${url}/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body,
    });
    cookie = signedIn.headers.getSetCookie()[0]!.split(';')[0]!;
    answer = await ask();
  }
  return (await answer.json()) as DeskPart;
}
/** Everything works: values of the plant arrive. */
const works = async (): Promise<boolean> =>
  (await desk()).collectors.some(({ present, valuesPerSecond }) => present && valuesPerSecond > 5);

beforeAll(async () => {
  settings = await demoSettings();
  launcher = launch();
  await until('it is ready', () => said.includes('Wide Ledger is ready'));
}, 180_000);
afterAll(async () => {
  launcher.kill('SIGTERM');
  await ended(launcher);
  forgetDemo(settings);
}, 60_000);

test('the data are their owner’s alone', async () => {
  await until('all is well', works);
  const mode = (name: string): string => (statSync(join(settings.data, name)).mode & 0o777).toString(8);
  expect(mode('.')).toBe(process.getuid!() === 0 ? '711' : '700');
  for (const name of ['keys.json', 'session.key', 'seal.key', 'database.key'])
    expect([name, mode(name)]).toEqual([name, '600']);
  for (const name of ['collector', 'imports']) expect([name, mode(name)]).toEqual([name, '700']);
});

test.each([
  ['collector/dist/main.mjs', 'The collector of Thornmere'],
  ['bench/dist/main.mjs', 'The test bench'],
  ['server/dist/main.mjs', 'The server of Thornmere'],
  ['postgres', 'PostgreSQL'],
])(
  '%s, killed, is started again, and the desk says how often',
  async (what, name) => {
    await until('all is well', works);
    process.kill(pidOf(what), 'SIGKILL');
    await until('it is told', () => said.includes(`${name} ended by itself, killed from outside.`));
    await until('it is counted', async () =>
      (await desk()).restarts.some(({ program, count }) => program === name && count >= 1),
    );
    await until('values arrive again', works);
    expect((await desk()).concerns.some(({ sentence }) => sentence.startsWith(`${name} ended by itself`))).toBe(true);
  },
  180_000,
);

test('a start beside one that runs names the port; whose folder holds foreign files is not deleted', async () => {
  const second = launch();
  expect(await ended(second)).toBe(1);
  expect(said).toMatch(/Port \d+, meant for .* is taken by another program/);
  const folder = join(settings.data, 'collector');
  const refused = launch({ WIDE_LEDGER_DATA: folder }, '--fresh');
  expect(await ended(refused)).toBe(1);
  expect(said).toContain('which Wide Ledger did not put there');
  expect(existsSync(folder)).toBe(true);
}, 60_000);

test.each([
  ['a file of somebody else’s', 'thesis.txt', 'which Wide Ledger did not put there'],
  ['only a folder called as one of Wide Ledger’s', 'imports', 'nothing in it says'],
])('a folder with %s keeps its mode, and is not deleted', (_, name, sentence) => {
  const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-shared-'));
  chmodSync(folder, 0o755);
  mkdirSync(join(folder, name));
  prepareData(folder);
  expect((statSync(folder).mode & 0o777).toString(8)).toBe('755');
  expect(() => forgetData(folder)).toThrow(sentence);
  expect(existsSync(join(folder, name))).toBe(true);
  rmSync(folder, { recursive: true });
});

test('a folder of an earlier version, without the mark, is Wide Ledger’s', () => {
  const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-earlier-'));
  writeFileSync(join(folder, 'database.key'), 'k');
  chmodSync(folder, 0o755);
  prepareData(folder);
  expect((statSync(folder).mode & 0o077).toString(8)).toBe(process.getuid!() === 0 ? '11' : '0');
  forgetData(folder);
  expect(existsSync(folder)).toBe(false);
});

test('on other addresses, or with a foreign database, it starts with own passwords only', async () => {
  const none = { WIDE_LEDGER_ADMIN_PASSWORD: '', WIDE_LEDGER_READER_PASSWORD: '' };
  for (const over of [{ WIDE_LEDGER_HOST: '0.0.0.0' }, { DATABASE_URL: 'postgres://u:p@db.example.org/x' }]) {
    expect(await ended(launch({ ...none, ...over }))).toBe(1);
    expect(said).toContain('the standard passwords are known to everybody. Set WIDE_LEDGER_ADMIN_PASSWORD and');
  }
}, 60_000);

test.each(['SIGKILL', 'SIGHUP'] as const)(
  'a launcher that gets %s leaves nothing behind, and the next start heals',
  async (signal) => {
    launcher.kill(signal);
    await ended(launcher);
    await until('all ports are free', allFree);
    // What a crash in the middle of writing may leave.
    mkdirSync(join(settings.data, 'imports'), { recursive: true });
    writeFileSync(
      join(settings.data, 'imports', `${'0'.repeat(8)}-0000-0000-0000-${'0'.repeat(12)}.json`),
      '{"id": "0000',
    );
    launcher = launch();
    await until('it is ready', () => said.includes('Wide Ledger is ready'));
    await until('values arrive again', works);
  },
  180_000,
);

test('Ctrl+C during the start ends what was started', async () => {
  launcher.kill('SIGINT');
  expect(await ended(launcher)).toBe(0);
  launcher = launch();
  await until('the database is being started', () => said.includes('Starting PostgreSQL'));
  launcher.kill('SIGINT');
  await ended(launcher);
  await until('all ports are free', allFree);
}, 120_000);
