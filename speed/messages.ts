/** What one collector archives of one broker: messages of ten values each, at QoS 1, beside what the broker itself can. */
import type { Source } from '@wide-ledger/contract';
import { parseMessagePath, readMessage, reshapeBy, rowsOfMessage } from '@wide-ledger/core';
import { connectAsync, type MqttClient } from 'mqtt';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { startBroker } from '../bench/src/index.ts';
import { freePort } from '../launch/ground.mjs';
import { askerOf, posted } from './asking.ts';
import { startCollector } from './modbusRegisters.ts';
import { processorSeconds } from './processor.ts';
import type { Surroundings } from './surroundings.ts';

const TOPICS = 500;
const VALUES = 10;
const WANTED_PER_SECOND = 5_000;
const SECONDS = 20;
const TICK = 20;
const BARE_MESSAGES = 100_000;
/** Messages of which the broker has not said that it has them. */
const ON_THEIR_WAY = 2_000;

const FIELDS = Array.from({ length: VALUES }, (_, i) => `v${i}`);
const message = (micros: number): string =>
  JSON.stringify({
    ts: new Date(micros / 1000).toISOString(),
    ...Object.fromEntries(FIELDS.map((field, i) => [field, Math.round(micros / 1e5 + i) % 1000])),
  });

/** As many a second as are asked for, as far as they are taken. @returns how many were acknowledged. */
async function publish(client: MqttClient, count: number, perSecond: number): Promise<number> {
  let sent = 0;
  let taken = 0;
  const begun = performance.now();
  while (sent < count) {
    const due = Math.min(count, Math.ceil(((performance.now() - begun) / 1000) * perSecond));
    while (sent < due && sent - taken < ON_THEIR_WAY) {
      const round = Math.floor(sent / TOPICS);
      client.publish(`speed/${sent % TOPICS}`, message(FIRST + round * 100_000), { qos: 1 }, () => taken++);
      sent++;
    }
    await wait(sent < due ? 0 : TICK);
  }
  while (taken < count) await wait(TICK);
  return taken;
}
/** A tag's values are a tenth of a second apart, from here on. Microseconds. */
const FIRST = Date.UTC(2026, 8, 1) * 1000;

/** An expression that makes a plain message of a list: an object for each value. */
const EXPRESSION = '$merge([{"ts": ts}, list.{name: value}])';
const MAPPED_MILLISECONDS = 2_000;

/** Messages a second that one core takes apart: by ways alone, and by ways into what an expression makes of each. */
async function mappedPerSecond(expression: string): Promise<number> {
  const values = FIELDS.map((name, i) => ({ name, value: i * 1.5 }));
  const ts = new Date(FIRST / 1000).toISOString();
  const plain = { ts, ...Object.fromEntries(values.map(({ name, value }) => [name, value])) };
  const text = JSON.stringify(expression === '' ? plain : { ts, list: values });
  const fields = FIELDS.map((tag) => ({ tag, field: parseMessagePath(tag)! }));
  const terms = { time: parseMessagePath('ts')!, status: null };
  const reshape = reshapeBy(expression);
  const begun = performance.now();
  let count = 0;
  for (; performance.now() - begun < MAPPED_MILLISECONDS; count++) {
    const read = await readMessage(text, 'json', reshape, 'speed');
    if (!('message' in read) || rowsOfMessage(read.message, fields, terms, { retained: false }).length !== VALUES)
      throw new Error('The message was not taken apart.');
  }
  return count / (MAPPED_MILLISECONDS / 1000);
}

export async function measureMessages({
  base,
  authorization,
  key,
  client: database,
  data,
  row,
}: Surroundings): Promise<void> {
  for (const [what, expression] of [
    ['by picked paths', ''],
    ['by an expression over each', EXPRESSION],
  ] as const)
    row(
      `messages of ${VALUES} values that one core takes apart, ${what}`,
      `${Math.round(await mappedPerSecond(expression)).toLocaleString('en')}/s`,
    );

  const folder = join(data, 'broker');
  mkdirSync(folder, { recursive: true });
  const port = await freePort();
  const stop = await startBroker(port, folder);
  const sender = await connectAsync({ host: '127.0.0.1', port, clientId: 'sender' });
  try {
    const bare = await bareRate(sender, port);
    row('messages through the broker to a client that counts', `${Math.round(bare).toLocaleString('en')}/s`);
    const send = askerOf(base, authorization);
    const connection = { host: '127.0.0.1', port, topics: ['speed/#'], time: 'ts' };
    await send('PUT', '/sources', { name: 'Messages', kind: 'mqtt', connection });
    const tags = Array.from({ length: TOPICS * VALUES }, (_, i) => ({
      name: `Message-${i}`,
      inForceSince: '2026-01-01T00:00:00Z',
      collection: {
        source: 'Messages',
        address: { topic: `speed/${Math.floor(i / VALUES)}`, field: FIELDS[i % VALUES]! },
        intervalMilliseconds: 100,
      },
    }));
    await send('POST', '/tags', tags);
    const collector = startCollector(base, key, join(data, 'collector-messages'));
    const state = async (): Promise<Source['state']> =>
      (await send<{ sources: Source[] }>('GET', '/sources')).sources.find(({ name }) => name === 'Messages')!.state;
    while ((await state())?.state !== 'watching') await wait(200);
    await wait(2000);
    const pid = collector.child.pid!;
    const [began, used] = [performance.now(), processorSeconds(pid)];
    const taken = await publish(sender, WANTED_PER_SECOND * SECONDS, WANTED_PER_SECOND);
    const seconds = (performance.now() - began) / 1000;
    const share = (processorSeconds(pid) - used) / seconds;
    const wanted = taken * VALUES;
    // What is on its way is delivered before it ends; months are counted as they are posted.
    await wait(3000);
    await collector.stop();
    await posted(send);
    const { rows } = await database.query<{ held: string }>(
      `SELECT coalesce(sum(m.samples), 0) AS held FROM ledger_month m JOIN tag t ON t.id = m.tag_id
       WHERE t.name LIKE 'Message-%' AND m.month = $1`,
      [FIRST],
    );
    const found = Number(rows[0]!.held);
    row(
      `${WANTED_PER_SECOND} messages/s of ${VALUES} values at QoS 1 (aim: none lost)`,
      `${Math.round(taken / seconds).toLocaleString('en')}/s taken`,
      `${(wanted - found).toLocaleString('en')} of ${wanted.toLocaleString('en')} values missing; the collector took ${Math.round(100 * share)} % of a core`,
    );
  } finally {
    await sender.endAsync(true);
    await stop();
  }
}

/** Messages a second that a client counts, as fast as they go. */
async function bareRate(sender: MqttClient, port: number): Promise<number> {
  const counter = await connectAsync({ host: '127.0.0.1', port, clientId: 'counter' });
  let heard = 0;
  counter.on('message', () => heard++);
  await counter.subscribeAsync('speed/#', { qos: 1 });
  const began = performance.now();
  await publish(sender, BARE_MESSAGES, 1e9);
  while (heard < BARE_MESSAGES) await wait(TICK);
  const rate = BARE_MESSAGES / ((performance.now() - began) / 1000);
  await counter.endAsync(true);
  return rate;
}
