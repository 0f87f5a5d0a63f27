/** What one collector archives of a log that grows while it is read, beside what the parser alone can. */
import { parse } from 'csv-parse/sync';
import { appendFileSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { askerOf, posted } from './asking.ts';
import { startCollector } from './modbusRegisters.ts';
import { processorSeconds } from './processor.ts';
import type { Surroundings } from './surroundings.ts';

const ROWS = 1_000_000;
/** Rows that are there when reading begins; the others are written meanwhile, in parts. */
const THERE = 200_000;
const PART = 20_000;
/** The first row's time, in milliseconds; rows are a second apart. */
const FIRST = Date.UTC(2026, 8, 1);

const rowOf = (row: number): string =>
  `${new Date(FIRST + row * 1000).toISOString()},${(row * 37) % 1000},${(row * 7) % 100}.5\n`;
const rows = (from: number, to: number): string =>
  Array.from({ length: to - from }, (_, i) => rowOf(from + i)).join('');

export async function measureRecords({
  base,
  authorization,
  key,
  client: database,
  data,
  row,
}: Surroundings): Promise<void> {
  // Where a collector reads files without being told otherwise.
  const folder = join(data, 'collector-records');
  const log = join(folder, 'inbox', 'log.csv');
  mkdirSync(join(folder, 'inbox'), { recursive: true });
  writeFileSync(log, `time,a,b\n${rows(0, THERE)}`);
  const parsing = performance.now();
  parse(readFileSync(log, 'utf8'));
  const alone = THERE / ((performance.now() - parsing) / 1000);
  row('rows of a log that the parser alone takes apart', `${Math.round(alone).toLocaleString('en')}/s`);

  const send = askerOf(base, authorization);
  await send('PUT', '/sources', { name: 'Log', kind: 'files', connection: { folder: join(folder, 'inbox') } });
  await send(
    'POST',
    '/tags',
    ['a', 'b'].map((series) => ({
      name: `Log-${series}`,
      inForceSince: '2026-01-01T00:00:00Z',
      collection: { source: 'Log', address: { series }, intervalMilliseconds: 500 },
    })),
  );
  const began = performance.now();
  const collector = startCollector(base, key, folder);
  for (let written = THERE; written < ROWS; written += PART) {
    appendFileSync(log, rows(written, written + PART));
    await wait(50);
  }
  const last = new Date(FIRST + (ROWS - 1) * 1000).toISOString();
  const isThere = async (): Promise<boolean> =>
    (await send<{ samples: unknown[] }>('GET', `/history/raw?tag=Log-a&from=${last}&to=now&limit=1`)).samples.length >
    0;
  while (!(await isThere())) await wait(200);
  const seconds = (performance.now() - began) / 1000;
  const used = processorSeconds(collector.child.pid!);
  await collector.stop();
  await posted(send);
  const { rows: held } = await database.query<{ held: string }>(
    `SELECT coalesce(sum(m.samples), 0) AS held FROM ledger_month m JOIN tag t ON t.id = m.tag_id WHERE t.name LIKE 'Log-%' AND m.month = $1`,
    [FIRST * 1000],
  );
  row(
    `${ROWS.toLocaleString('en')} rows of two values in a log that grows (aim: each once)`,
    `${Math.round(ROWS / seconds).toLocaleString('en')} rows/s`,
    `${(2 * ROWS - Number(held[0]!.held)).toLocaleString('en')} of ${(2 * ROWS).toLocaleString('en')} values missing; ${Math.round((100 * used) / seconds)} % of a core`,
  );
}
