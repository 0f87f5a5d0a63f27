/** A link between two servers of this machine: what it carries, how late, and how long comparing both ends takes. */
import type { Invitation, Job, LinksAnswer, ReconcilingReport, SendingLink } from '@wide-ledger/contract';
import { SECOND, emptyFrame, packEntry } from '@wide-ledger/core';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { freePort } from '../launch/ground.mjs';
import { ensureDatabase, startSite } from '../launch/site.mjs';
import { askerOf, posted } from './asking.ts';
import type { Surroundings } from './surroundings.ts';

const TAGS = 200;
const SAMPLES = 6_000_000;
const ENTRY_SAMPLES = 4_000;
const START = Date.UTC(2026, 7, 1) / 1000;
const LATE_SECONDS = 20;
/** Four times a second a value of each. */
const LAG_TAGS = 2_500;
const MANY_TAGS = 10_000;
const MONTHS = 12;
const DIFFERING = 100;

type Send = ReturnType<typeof askerOf>;

/** @param cluster on which the far end has a database of its own. */
export async function measureLinks({ base, authorization, data, row }: Surroundings, cluster: string): Promise<void> {
  const near = askerOf(base, authorization);
  const folder = join(data, 'far');
  mkdirSync(folder, { recursive: true });
  const site = await startSite({
    name: 'Far end',
    zone: 'UTC',
    port: await freePort(),
    data: folder,
    databaseUrl: await ensureDatabase(cluster, 'far_end'),
    password: 'only-for-measuring',
    reader: { name: 'reader_of_far_end', password: 'reader-for-measuring' },
    collects: false,
    log: 'silent',
  });
  try {
    const far = askerOf(`${site.url}/api/v1`, `Bearer ${site.keys.bench}`);
    const { code } = await far<Invitation>('POST', '/links/invitations', { name: 'Measured' });
    const { id } = await near<SendingLink>('POST', '/links', {
      name: 'Measured',
      url: site.url,
      code,
      carries: [{ search: 'linked', place: '' }],
    });
    await measureBacklog(near, base, authorization, id, row);
    // What is measured next is not how fast they post.
    await Promise.all([posted(near), posted(far)]);
    await measureLag(near, base, authorization, row);
    await measureComparing(near, far, base, authorization, id, row);
    await near('PATCH', `/links/${id}`, { paused: true });
  } finally {
    await site.stop();
  }
}

async function makeTags(send: Send, prefix: string, count: number): Promise<number[]> {
  const names = Array.from({ length: count }, (_, i) => ({ name: `${prefix}-linked-${i}` }));
  const { results } = await send<{ results: { id: number }[] }>('POST', '/tags', names);
  return results.map((one) => one.id);
}

async function entry(
  base: string,
  authorization: string,
  writer: string,
  sequence: number,
  frame: Parameters<typeof packEntry>[1],
): Promise<void> {
  const answer = await fetch(`${base}/entries`, {
    method: 'POST',
    headers: { authorization, 'content-type': 'application/octet-stream' },
    body: packEntry({ writer, sequence, origin: 'live' }, frame) as NonNullable<RequestInit['body']>,
  });
  if (!answer.ok) throw new Error(await answer.text());
}

const linkOf = async (send: Send): Promise<SendingLink> =>
  (await send<LinksAnswer>('GET', '/links')).sending.find(({ name }) => name === 'Measured')!;
/** @param tags that it carries by then. */
async function untilLevel(send: Send, tags: number): Promise<void> {
  for (;;) {
    const { waiting, state, tags: carried } = await linkOf(send);
    if (waiting === 0 && state === 'level' && carried === tags) return;
    await wait(100);
  }
}

/** Plant-like values: steps of a converter, a value a second. */
const valueAt = (tag: number, second: number): number =>
  Math.round((2048 + 900 * Math.sin(second / (300 + tag)) + 3 * Math.sin(second * 7 + tag)) * 1) * 0.05;

async function measureBacklog(
  near: Send,
  base: string,
  authorization: string,
  id: number,
  row: Surroundings['row'],
): Promise<void> {
  const ids = await makeTags(near, 'Backlog', TAGS);
  await untilLevel(near, TAGS);
  await near('PATCH', `/links/${id}`, { paused: true });
  const before = await linkOf(near);
  for (let n = 0; n < SAMPLES / ENTRY_SAMPLES; n++) {
    const frame = emptyFrame(ENTRY_SAMPLES, { tags: true });
    const tag = n % TAGS;
    const first = Math.floor(n / TAGS) * ENTRY_SAMPLES;
    frame.tags!.fill(ids[tag]!);
    for (let i = 0; i < ENTRY_SAMPLES; i++) {
      frame.times[i] = (START + first + i) * SECOND;
      frame.values[i] = valueAt(tag, first + i);
    }
    await entry(base, authorization, 'backlog', n + 1, frame);
  }
  const began = performance.now();
  await near('PATCH', `/links/${id}`, { paused: false });
  await untilLevel(near, TAGS);
  const seconds = (performance.now() - began) / 1000;
  const { samples, bytes } = await linkOf(near);
  row(
    'a link carries what waited, both servers on this machine',
    `${Math.round(SAMPLES / seconds).toLocaleString('en')} /s`,
    '(aim 500,000)',
  );
  row(
    'bytes of a value on the line',
    ((bytes - before.bytes) / (samples - before.samples)).toFixed(2),
    '(aim below 2)',
  );
}

async function measureLag(near: Send, base: string, authorization: string, row: Surroundings['row']): Promise<void> {
  const ids = await makeTags(near, 'Lag', LAG_TAGS);
  await untilLevel(near, TAGS + LAG_TAGS);
  let most = 0;
  const until = performance.now() + LATE_SECONDS * 1000;
  const looking = (async () => {
    while (performance.now() < until) {
      most = Math.max(most, (await linkOf(near)).lagSeconds ?? 0);
      await wait(200);
    }
  })();
  for (let n = 0; performance.now() < until; n++) {
    const frame = emptyFrame(ids.length, { tags: true });
    frame.tags!.set(ids);
    frame.times.fill(Math.floor(Date.now() / 250) * 250_000);
    frame.values.forEach((_, i) => (frame.values[i] = valueAt(i, n)));
    await entry(base, authorization, 'lag', n + 1, frame);
    await wait(250);
  }
  await looking;
  row('most that a link is behind at about 10,000 values/s', `${most.toFixed(2)} s`, '(aim below 2 s)');
}

async function reconcile(
  near: Send,
  id: number,
  repair: string,
): Promise<{ seconds: number; report: ReconcilingReport }> {
  const began = performance.now();
  const window = { from: '2025-01-01T00:00:00Z', to: '2026-01-01T00:00:00Z', repair };
  const { job } = await near<{ job: number }>('POST', `/links/${id}/reconcile`, window);
  for (;;) {
    const { state, report, sentence } = await near<Job>('GET', `/jobs/${job}`);
    if (state === 'failed') throw new Error(sentence);
    if (state === 'done') return { seconds: (performance.now() - began) / 1000, report: report as ReconcilingReport };
    await wait(50);
  }
}

async function measureComparing(
  near: Send,
  far: Send,
  base: string,
  authorization: string,
  id: number,
  row: Surroundings['row'],
): Promise<void> {
  const ids: number[] = [];
  for (let at = 0; at < MANY_TAGS; at += 2_500) ids.push(...(await makeTags(near, `Year${at}`, 2_500)));
  for (let month = 0; month < MONTHS; month++) {
    const frame = emptyFrame(ids.length, { tags: true });
    frame.tags!.set(ids);
    frame.times.fill(Date.UTC(2025, month, 15, 12) * 1000);
    frame.values.forEach((_, i) => (frame.values[i] = valueAt(i, month)));
    await entry(base, authorization, 'year', month + 1, frame);
  }
  await untilLevel(near, TAGS + LAG_TAGS + MANY_TAGS);
  await posted(near);
  await posted(far);
  const equal = await reconcile(near, id, 'nothing');
  if (!equal.report.equal) throw new Error('What was carried is not equal.');
  row(
    `a year of ${MANY_TAGS.toLocaleString('en')} tags compared, equal`,
    `${equal.seconds.toFixed(1)} s`,
    '(aim below 5 s)',
  );
  for (let n = 0; n < DIFFERING; n++)
    await far('POST', '/samples', {
      samples: [{ tag: `Year0-linked-${n}`, time: '2025-06-15T12:00:00Z', value: -1 }],
    });
  await posted(far);
  const mended = await reconcile(near, id, 'there');
  if (mended.report.hours !== DIFFERING || !mended.report.equal) throw new Error(JSON.stringify(mended.report));
  row(`${DIFFERING} differing hours among them found and mended`, `${mended.seconds.toFixed(1)} s`, '(aim below 20 s)');
}
