/** Ten million samples that waited on a collector's spool, delivered to the server that is back. */
import { SECOND, emptyFrame, packEntry } from '@wide-ledger/core';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { pino } from 'pino';
import { Delivery, ServerCalls, Spool } from '../collector/src/index.ts';
import { askerOf } from './asking.ts';
import type { Surroundings } from './surroundings.ts';

const TAGS = 2_000;
const SAMPLES = 10_000_000;
/** Tags that are read together: a quarter of all, since what came in a quarter of a second is one entry. */
const ENTRY_SAMPLES = TAGS / 4;
const START = Date.UTC(2026, 7, 1) / 1000;

/** @param ingest samples a second that the server takes in large entries; what this is held against. */
export async function measureSpool(
  { base, authorization, key, data, row }: Surroundings,
  ingest: number,
): Promise<void> {
  const send = askerOf(base, authorization);
  const names = Array.from({ length: TAGS }, (_, i) => ({ name: `Spooled${i}` }));
  const { results } = await send<{ results: { id: number }[] }>('POST', '/tags', names);
  const spool = await Spool.open(join(data, 'spool-measured'));
  const frame = emptyFrame(ENTRY_SAMPLES, { tags: true });
  const writing = performance.now();
  for (let n = 0; n < SAMPLES / ENTRY_SAMPLES; n++) {
    const quarter = n % (TAGS / ENTRY_SAMPLES);
    frame.times.fill((START + Math.floor(n / (TAGS / ENTRY_SAMPLES))) * SECOND);
    for (let i = 0; i < ENTRY_SAMPLES; i++) {
      frame.tags![i] = results[quarter * ENTRY_SAMPLES + i]!.id;
      frame.values[i] = Math.round(1000 * Math.sin(n / 500 + i)) / 10;
    }
    await spool.add(
      (sequence) => packEntry({ writer: `spooled ${spool.identity}`, sequence, origin: 'live' }, frame),
      null,
      ENTRY_SAMPLES,
    );
  }
  row(
    'writing 10 M samples to a spool',
    `${Math.round(SAMPLES / ((performance.now() - writing) / 1000)).toLocaleString('en')} /s`,
  );
  const calls = new ServerCalls(base.replace(/\/api\/v1$/, ''), key, `spooled ${randomUUID()}`);
  const delivery = new Delivery(spool, calls, pino({ level: 'silent' }));
  const started = performance.now();
  delivery.start();
  while (spool.entries > 0) await wait(20);
  const rate = SAMPLES / ((performance.now() - started) / 1000);
  await delivery.stop();
  await spool.close();
  row(
    'delivering them, in entries of a quarter of a second',
    `${Math.round(rate).toLocaleString('en')} /s`,
    `${(rate / ingest).toFixed(2)} of the ingest rate (aim 1)`,
  );
}
