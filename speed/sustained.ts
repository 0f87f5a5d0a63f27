/** Ten thousand tags at one value a second for minutes: does posting keep up, does memory stay flat, are reads quick? */
import type { Desk } from '@wide-ledger/contract';
import { SECOND, emptyFrame, packEntry } from '@wide-ledger/core';
import { readFileSync } from 'node:fs';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { setTimeout as wait } from 'node:timers/promises';
import type pg from 'pg';

const TAGS = 10_000;
const WRITERS = 4;
const SECONDS = Number(process.env.SPEED_SUSTAINED_SECONDS ?? 300);

interface Surroundings {
  readonly base: string;
  readonly authorization: string;
  readonly client: pg.Client;
  readonly server: { readonly pid?: number | undefined };
  readonly row: (name: string, value: string, ratio?: string) => void;
}

/** Resident memory of a process in megabytes. */
const residentMegabytes = (pid: number | undefined): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;

const percentile = (values: readonly number[], share: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))] ?? 0;

export async function measureSustained({ base, authorization, client, server, row }: Surroundings): Promise<void> {
  console.log(`\n${TAGS.toLocaleString('en')} tags at one value a second for ${SECONDS} s\n`);
  const answer = await fetch(`${base}/tags`, {
    method: 'POST',
    headers: { authorization, 'content-type': 'application/json' },
    body: JSON.stringify(Array.from({ length: TAGS }, (_, i) => ({ name: `Many${i}` }))),
  });
  const { results } = (await answer.json()) as { results: { id: number }[] };
  const ids = results.map(({ id }) => id);
  const start = Math.floor(Date.now() / 1000) - SECONDS;
  const acknowledged: number[] = [];
  const reads: number[] = [];
  const lags: number[] = [];
  const late: number[] = [];
  const memory: number[] = [];
  const ownLate: number[] = [];
  // This program does little: what it is late by itself, the machine took away from everybody.
  const own = monitorEventLoopDelay({ resolution: 5 });
  own.enable();
  let running = true;

  const deliver = async (writer: number, second: number): Promise<void> => {
    const mine = ids.filter((_, i) => i % WRITERS === writer);
    const frame = emptyFrame(mine.length, { tags: true });
    mine.forEach((id, i) => {
      frame.tags![i] = id;
      frame.times[i] = (start + second) * SECOND;
      frame.values[i] = Math.round(500 + 100 * Math.sin((start + second + id) / 60)) / 10;
    });
    const started = performance.now();
    const kept = await fetch(`${base}/entries`, {
      method: 'POST',
      headers: { authorization },
      body: Buffer.from(packEntry({ writer: `many-${writer}`, sequence: second + 1, origin: 'live' }, frame)),
    });
    if (!kept.ok) throw new Error(await kept.text());
    acknowledged.push(performance.now() - started);
  };
  const read = async (): Promise<void> => {
    const window = `from=${new Date(start * 1000).toISOString()}&to=${new Date((start + SECONDS) * 1000).toISOString()}`;
    while (running) {
      const tag = `Many${Math.floor(Math.random() * TAGS)}`;
      const started = performance.now();
      const page = await fetch(`${base}/history/processed?tag=${tag}&aggregate=TimeAverage&interval=PT1M&${window}`, {
        headers: { authorization },
      });
      await page.arrayBuffer();
      reads.push(performance.now() - started);
      await wait(200);
    }
  };
  const look = async (): Promise<void> => {
    while (running) {
      const { rows } = await client.query<{ n: string }>(
        'SELECT coalesce(sum(j.samples), 0)::text AS n FROM journal_entry j, posting p WHERE j.id > p.entry',
      );
      lags.push(Number(rows[0]!.n));
      memory.push(residentMegabytes(server.pid));
      const desk = (await (await fetch(`${base}/desk`, { headers: { authorization } })).json()) as Desk;
      late.push(desk.lateMilliseconds);
      ownLate.push(own.percentile(99) / 1e6);
      own.reset();
      await wait(2000);
    }
  };
  const watching = [read(), look()];
  const begun = performance.now();
  for (let second = 0; second < SECONDS; second++) {
    await Promise.all(Array.from({ length: WRITERS }, (_, writer) => deliver(writer, second)));
    await wait(Math.max(0, begun + (second + 1) * 1000 - performance.now()));
  }
  const took = (performance.now() - begun) / 1000;
  running = false;
  await Promise.all(watching);
  const quarter = Math.max(1, Math.floor(memory.length / 4));
  const mean = (values: readonly number[]): number => values.reduce((sum, one) => sum + one, 0) / values.length;
  row(
    'delivered',
    `${Math.round((TAGS * SECONDS) / took).toLocaleString('en')} values/s`,
    `${took.toFixed(0)} s (${SECONDS} is on time)`,
  );
  row(
    'acknowledged after, median / 99th',
    `${percentile(acknowledged, 0.5).toFixed(0)} / ${percentile(acknowledged, 0.99).toFixed(0)} ms`,
  );
  row(
    'waiting to be posted, median / most',
    `${percentile(lags, 0.5).toLocaleString('en')} / ${Math.max(...lags).toLocaleString('en')}`,
    'values',
  );
  row(
    'a read meanwhile, median / 99th',
    `${percentile(reads, 0.5).toFixed(0)} / ${percentile(reads, 0.99).toFixed(0)} ms`,
    '(aim 100)',
  );
  row(
    "the server's thread is late, 99th of 2 s, median / most",
    `${percentile(late, 0.5).toFixed(0)} / ${Math.max(...late).toFixed(0)} ms`,
    '(aim 50)',
  );
  row(
    'this measuring program’s own thread, for comparison',
    `${percentile(ownLate, 0.5).toFixed(0)} / ${Math.max(...ownLate).toFixed(0)} ms`,
  );
  row(
    'memory of the server, first and last quarter',
    `${mean(memory.slice(0, quarter)).toFixed(0)} / ${mean(memory.slice(-quarter)).toFixed(0)} MB`,
  );
}
