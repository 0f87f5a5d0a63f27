/** What a collector takes for 10,000 OPC UA items by subscription at 1 s and 2,000 Modbus registers at 1 s together. */
import type { Source } from '@wide-ledger/contract';
import { fork } from 'node:child_process';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { freePort } from '../launch/ground.mjs';
import { askerOf } from './asking.ts';
import { processorSeconds } from './processor.ts';
import { registerTags, startCollector, startDevice } from './modbusRegisters.ts';
import type { Surroundings } from './surroundings.ts';

const ITEMS = 10_000;
const REGISTERS = 2_000;
/** Until all items are made and the first values are in. */
const SETTLE_MILLISECONDS = 20_000;
const WATCH_MILLISECONDS = 30_000;
export async function measureOpcUa({
  base,
  authorization,
  key,
  client,
  devicePort,
  data,
  row,
}: Surroundings): Promise<void> {
  const send = askerOf(base, authorization);
  const [port, innerPort] = [await freePort(), await freePort()];
  const controller = fork(join(import.meta.dirname, 'opcUaController.ts'), [port, innerPort, ITEMS].map(String), {
    execArgv: process.execArgv,
  });
  await new Promise((ready) => controller.once('message', ready));
  const bench = await startDevice({ send, devicePort, data, name: 'Registers' });
  await send('PUT', '/sources', {
    name: 'Counters',
    kind: 'opc-ua',
    connection: { endpoint: `opc.tcp://127.0.0.1:${port}`, publishingMilliseconds: 1000, timeoutMilliseconds: 60_000 },
  });
  const items = Array.from({ length: ITEMS }, (_, i) => ({
    name: `C${i}`,
    collection: { source: 'Counters', address: { node: `ns=1;s=Counters.C${i}` }, intervalMilliseconds: 1000 },
  }));
  const registers = registerTags('Registers', 'R', REGISTERS, 1000);
  await send('POST', '/tags', [...items, ...registers]);
  const collector = startCollector(base, key, join(data, 'collector-opcua'));
  await wait(SETTLE_MILLISECONDS);
  const pid = collector.child.pid!;
  const [from, used] = [Date.now(), processorSeconds(pid)];
  await wait(WATCH_MILLISECONDS / 2);
  // One tag among all is read otherwise: nobody else is to lose a value by it.
  const { tags } = await send<{ tags: { id: number }[] }>('GET', '/tags?search=C1&limit=1');
  const { draft } = await send<{ draft: { id: number } }>('POST', '/drafts', {
    changes: [{ kind: 'tag', id: tags[0]!.id, set: { settings: { intervalMilliseconds: 5000 } } }],
  });
  await send('POST', `/drafts/${draft.id}/force`, { reason: 'One among many' });
  await wait(WATCH_MILLISECONDS / 2);
  const share = (processorSeconds(pid) - used) / ((Date.now() - from) / 1000);
  const to = Date.now();
  const { sources } = await send<{ sources: Source[] }>('GET', '/sources');
  const read = sources.find(({ name }) => name === 'Registers')!.state!;
  const { jitterMedian = NaN, jitter99 = NaN, missed = NaN } = read.timing['1000 ms'] ?? {};
  row(
    `${ITEMS} items by subscription and ${REGISTERS} registers, both at 1 s`,
    `${Math.round(100 * share)} % of a core`,
    `registers late ${jitterMedian.toFixed(1)} / ${jitter99.toFixed(1)} ms (median / 99th), ${missed} missed`,
  );
  await wait(3000);
  await collector.stop();
  // The server samples when it gets to it: a value that was lost shows as an overflow or an outage, and as a long hole.
  const { rows } = await client.query<{ hole: number; outages: string }>(
    `SELECT (SELECT count(*) FROM outage WHERE since BETWEEN $1::float8 * 1e6 AND $2::float8 * 1e6) AS outages,
            max(extract(epoch FROM held.time - held.before))::float8 AS hole
     FROM tag t CROSS JOIN LATERAL (SELECT time, lag(time) OVER (ORDER BY time) AS before
       FROM history.sample(t.name, to_timestamp($1), to_timestamp($2))) AS held
     WHERE t.name ~ '^C[0-9]+$' AND t.id % 50 = 0 AND t.id <> $3`,
    [from / 1000, to / 1000, tags[0]!.id],
  );
  row(
    'of all the others while one tag was changed in between',
    `${rows[0]!.outages} outages or overflows`,
    `${ITEMS / 50} items looked at: at most ${rows[0]!.hole.toFixed(1)} s from a value to the next`,
  );
  await bench.stop();
  controller.kill('SIGTERM');
}
