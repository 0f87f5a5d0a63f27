/**
 * A year of ten thousand tags, half of them with outages of their own: strips of those on screen, the gaps of all, and how
 * late the server's own thread gets.
 */
import type { Desk } from '@wide-ledger/contract';
import { packEntry } from '@wide-ledger/core';
import { setTimeout as wait } from 'node:timers/promises';
import type { Surroundings } from './surroundings.ts';

const TAGS = 10_000;
const WITH_OWN = 5_000;
/** Outages of each of those, over the year. */
const OWN = 2;
const DAYS = 365;
const HOUR = 3_600_000_000;

export async function measureOutages({ base, authorization, row }: Surroundings): Promise<void> {
  console.log(
    `\n${TAGS.toLocaleString('en')} tags over ${DAYS} days, ${WITH_OWN.toLocaleString('en')} of them with outages of their own\n`,
  );
  const call = async <Body>(method: string, path: string, body?: unknown): Promise<Body> => {
    const answer = await fetch(base + path, {
      method,
      headers: { authorization, 'content-type': 'application/json' },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    if (!answer.ok) throw new Error(await answer.text());
    return (await answer.json()) as Body;
  };
  const { id: source } = await call<{ id: number }>('PUT', '/sources', {
    name: 'Outages',
    kind: 'modbus-tcp',
    connection: { port: 5999 },
  });
  const since = Date.now() * 1000 - DAYS * 24 * HOUR;
  const inForceSince = new Date(since / 1000).toISOString();
  const collection = { source: 'Outages', address: { area: 'holding', address: 0 } };
  const results: { id: number }[] = [];
  for (let made = 0; made < TAGS; made += 5_000) {
    const tags = Array.from({ length: 5_000 }, (_, i) => ({ name: `Out${made + i}`, collection, inForceSince }));
    results.push(...(await call<{ results: { id: number }[] }>('POST', '/tags', tags)).results);
  }
  const outage = { source, cause: 'tag', sentence: 'Illegal data address.', code: 'MODBUS_02', recoverable: false };
  const entries = [
    {
      // A day and a half, then half an hour of nothing.
      watches: Array.from({ length: Math.floor((DAYS * 24) / 36) }, (_, i) => ({
        source,
        version: 1,
        from: Math.round(since + i * 36 * HOUR),
        to: Math.round(since + i * 36 * HOUR + 35.5 * HOUR),
      })),
    },
    ...Array.from({ length: OWN }, (_, k) => ({
      outages: results.slice(0, WITH_OWN).map(({ id }, i) => ({
        ...outage,
        tag: id,
        from: Math.round(since + ((i + k * 4000) % (DAYS * 23)) * HOUR),
        to: Math.round(since + ((i + k * 4000) % (DAYS * 23)) * HOUR + HOUR / 2 + i * 1000),
      })),
    })),
  ];
  for (const [i, spans] of entries.entries()) {
    const body = packEntry({ writer: 'outages', sequence: i + 1, origin: 'live', ...spans }, null);
    const kept = await fetch(`${base}/entries`, {
      method: 'POST',
      headers: { authorization },
      body: Buffer.from(body),
    });
    if (!kept.ok) throw new Error(await kept.text());
  }
  const window = `from=now-${DAYS}d&to=now`;
  const screen = results.slice(0, 60).map(({ id }) => id);
  const time = async (path: string): Promise<[milliseconds: number, megabytes: number]> => {
    const started = performance.now();
    const answer = await fetch(base + path, { headers: { authorization } });
    const { byteLength } = await answer.arrayBuffer();
    if (!answer.ok) throw new Error(`${path} was answered ${answer.status}`);
    return [performance.now() - started, byteLength / 1e6];
  };
  await call('GET', '/desk');
  const [own] = await time(`/coverage?${window}&among=${screen.join(',')}`);
  const [all, size] = await time(`/coverage?${window}`);
  const [gaps] = await time(`/gaps?${window}`);
  await wait(1000);
  const { lateMilliseconds } = await call<Desk>('GET', '/desk');
  row('strips of the 60 on screen', `${own.toFixed(0)} ms`);
  row('strips of all', `${all.toFixed(0)} ms`, `${size.toFixed(1)} MB`);
  row('gaps of all', `${gaps.toFixed(0)} ms`, 'aim 2000');
  row('the server’s own thread late meanwhile, 99th', `${lateMilliseconds.toFixed(0)} ms`, 'aim 50');
}
