/**
 * A log that grows while its collector is killed, away and back: each row is archived once, what cannot be a value is set
 * aside, and no gap is left, since the log was read through. Real processes on a real database.
 */
import type { GapsAnswer, RawAnswer } from '@wide-ledger/contract';
import { SECOND, formatInstant, parseInstant } from '@wide-ledger/core';
import { appendFileSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { ROOT } from '../../launch/ground.mjs';
import { startProgram, type Program } from '../../launch/processes.mjs';
import { TestSite } from '../../server/test/integration/testSite.ts';

const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-records-'));
const log = join(folder, 'log.csv');
/** Rows that are written in one go, and how often. */
const ROWS = 500;
const TIMES = 40;
const ODD = 777;

let site: TestSite;
let collector: Program;
let key: string;

const start = (): void => {
  collector = startProgram(join(ROOT, 'collector/dist/main.mjs'), {
    WIDE_LEDGER_SERVER: site.site.url,
    WIDE_LEDGER_KEY: key,
    WIDE_LEDGER_COLLECTOR: 'reader',
    WIDE_LEDGER_COLLECTOR_DATA: join(folder, 'data'),
    WIDE_LEDGER_COLLECTOR_FOLDERS: folder,
    WIDE_LEDGER_LOG: 'silent',
  });
};
async function kill(): Promise<void> {
  collector.child.kill('SIGKILL');
  await collector.ended;
}
async function until(what: string, check: () => Promise<boolean>): Promise<void> {
  for (const end = performance.now() + 60_000; performance.now() < end; await wait(100)) if (await check()) return;
  throw new Error(`Waited in vain until ${what}.`);
}

/** The log begins an hour ago, ten rows a second. */
const began = Math.floor(Date.now() / 1000 - 3600) * SECOND;
const timeOf = (row: number): number => began + (row * SECOND) / 10;
const valueOf = (row: number): number => (row * 37) % 1000;
const rowOf = (row: number): string =>
  `${formatInstant(timeOf(row))},${row === ODD ? 'off scale' : valueOf(row)},${row}\n`;
let written = 0;
const write = (rows: number): void => {
  appendFileSync(log, Array.from({ length: rows }, (_, i) => rowOf(written + i)).join(''));
  written += rows;
};
const countOf = async (tag: string): Promise<number> => {
  const window = `from=${formatInstant(began)}&to=${formatInstant(timeOf(ROWS * TIMES + 1))}`;
  const { body } = await site.call<RawAnswer>('GET', `/history/raw?tag=${tag}&${window}&limit=50000`);
  return body.samples.length;
};

beforeAll(async () => {
  site = await TestSite.open();
  writeFileSync(log, 'time,level,number\n');
  const put = await site.call('PUT', '/sources', { name: 'Log', kind: 'files', connection: { folder } });
  expect(put.status).toBe(200);
  const tag = (name: string, series: string): object => ({
    name,
    collection: {
      source: 'Log',
      address: { series },
      intervalMilliseconds: 500,
      aligned: true,
      deadband: { kind: 'none' },
      longestSilenceSeconds: null,
    },
  });
  const made = await site.call('POST', '/tags', [tag('LEVEL', 'level'), tag('NUMBER', 'number')]);
  expect(made.status).toBe(201);
  key = (
    await site.call<{ key: string }>('POST', '/keys', { name: 'reader', scopes: ['collect'], collector: 'reader' })
  ).body.key;
  start();
}, 60_000);
afterAll(async () => {
  collector.child.kill('SIGKILL');
  await site.close();
  rmSync(folder, { recursive: true, force: true });
});

test('each row once, whatever becomes of the collector meanwhile', async () => {
  for (let n = 1; n <= TIMES; n++) {
    write(ROWS);
    await wait(50);
    if (n % 10 !== 0) continue;
    await until('some of it is archived', async () => (await countOf('NUMBER')) > 0);
    await kill();
    if (n < TIMES) start();
  }
  // The line of the last row came in two parts.
  appendFileSync(log, rowOf(written).slice(0, 10));
  start();
  await until('the collector looks at the log', async () => (await countOf('NUMBER')) >= written);
  appendFileSync(log, rowOf(written).slice(10));
  written++;
  await until('all is archived', async () => (await countOf('NUMBER')) === written);

  const window = `from=${formatInstant(began)}&to=${formatInstant(timeOf(written))}`;
  const { body } = await site.call<RawAnswer>('GET', `/history/raw?tag=LEVEL&${window}&limit=50000`);
  const expected = Array.from({ length: written }, (_, row) => row).filter((row) => row !== ODD);
  expect(body.samples.map(({ time }) => parseInstant(time))).toEqual(expected.map(timeOf));
  expect(body.samples.map(({ value }) => value)).toEqual(expected.map(valueOf));
  const modified = await site.call<{ samples: unknown[] }>('GET', `/history/modified?tag=LEVEL&${window}`);
  expect(modified.body.samples).toEqual([]);
}, 120_000);

test('what is no number is set aside as it was written, with the reason', async () => {
  const kept = await site.query('SELECT tag, value, reason FROM set_aside');
  expect(kept).toEqual([{ tag: 'LEVEL', value: 'off scale', reason: 'LEVEL keeps real values, and text was sent.' }]);
});

test('what the collector missed it has read since: no gap is left', async () => {
  await until('the gaps are closed', async () => {
    const { body } = await site.call<GapsAnswer>('GET', '/gaps?from=now-1h&to=now');
    return body.gaps.every(({ cause }) => cause === 'set aside');
  });
});
