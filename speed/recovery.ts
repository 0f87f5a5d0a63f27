/** Twenty thousand values fetched from a controller's ring in calls of ten, while two thousand registers are read on. */
import { opcUaConnection, type OpcUaConnection, type Source } from '@wide-ledger/contract';
import { fork } from 'node:child_process';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { opcUa } from '../collector/src/index.ts';
import { freePort } from '../launch/ground.mjs';
import { askerOf } from './asking.ts';
import { registerTags, startCollector, startDevice } from './modbusRegisters.ts';
import type { Surroundings } from './surroundings.ts';

const ITEMS = 20;
const BEAT_MILLISECONDS = 50;
const REGISTERS = 2_000;
const VALUES_PER_CALL = 10;
const OUTAGE_MILLISECONDS = 52_000;
const SETTLE_MILLISECONDS = 10_000;

const nodeOf = (item: number): string => `ns=1;s=Counters.C${item}`;

/** What the protocol itself takes: one call after the other, and nothing else. Milliseconds a call. */
async function bareCall(port: number, from: number, to: number, data: string): Promise<number> {
  const connection = opcUaTo(port);
  const around = {
    readable: [],
    folder: join(data, 'bare'),
    secret: () => null,
    account: () => Promise.reject(new Error('It is not asked about itself.')),
  };
  const session = await opcUa.open({ name: 'bare', kind: 'opc-ua', connection }, around);
  const reading = { address: { node: nodeOf(0), element: '' } };
  const tag = { id: 1, name: 'C0', type: 'real', low: null, high: null, reading } as never;
  let calls = 0;
  const started = performance.now();
  const parts = session.history!({ tag, from, to, most: VALUES_PER_CALL, newestFirst: false });
  while (!(await parts.next()).done) calls++;
  const each = (performance.now() - started) / calls;
  session.close();
  return each;
}

const opcUaTo = (port: number): OpcUaConnection =>
  opcUaConnection.parse({
    endpoint: `opc.tcp://127.0.0.1:${port}`,
    publishingMilliseconds: 1000,
    timeoutMilliseconds: 60_000,
    valuesPerCall: VALUES_PER_CALL,
    callsPerSecond: 1000,
  });

export async function measureRecovery({
  base,
  authorization,
  key,
  devicePort,
  data,
  row,
}: Surroundings): Promise<void> {
  const send = askerOf(base, authorization);
  const [port, innerPort] = [await freePort(), await freePort()];
  const controller = fork(
    join(import.meta.dirname, 'opcUaController.ts'),
    [port, innerPort, ITEMS, BEAT_MILLISECONDS].map(String),
    { execArgv: process.execArgv },
  );
  await new Promise((ready) => controller.once('message', ready));
  const bench = await startDevice({ send, devicePort, data, name: 'Live registers' });
  await send('PUT', '/sources', { name: 'Ring', kind: 'opc-ua', connection: opcUaTo(port) });
  const items = Array.from({ length: ITEMS }, (_, i) => ({
    name: `Ring.C${i}`,
    collection: { source: 'Ring', address: { node: nodeOf(i) }, intervalMilliseconds: 1000 },
  }));
  await send('POST', '/tags', [...items, ...registerTags('Live registers', 'L', REGISTERS, 1000)]);
  const sourceNamed = async (name: string): Promise<Source> =>
    (await send<{ sources: Source[] }>('GET', '/sources')).sources.find((source) => source.name === name)!;
  const folder = join(data, 'collector-recovery');
  const before = startCollector(base, key, folder);
  await wait(SETTLE_MILLISECONDS);
  await before.stop();
  const from = Date.now() * 1000;
  await wait(OUTAGE_MILLISECONDS);
  const to = Date.now() * 1000;
  const bare = await bareCall(port, from, to, data);
  const after = startCollector(base, key, folder);
  const expected = (ITEMS * OUTAGE_MILLISECONDS) / BEAT_MILLISECONDS;
  let began = 0;
  for (;;) {
    const { state } = await sourceNamed('Ring');
    const { values = 0, calls = 0, holes = 1 } = state?.recovery ?? {};
    if (calls > 0 && began === 0) began = performance.now();
    if (values >= expected && holes === 0) {
      const took = (performance.now() - began) / 1000;
      const limit = (calls * bare) / 1000;
      row(
        `${values} values fetched in ${calls} calls of ${VALUES_PER_CALL}`,
        `${took.toFixed(1)} s`,
        `${(took / limit).toFixed(2)} times the bare calls one after the other (${limit.toFixed(1)} s; aim 2)`,
      );
      break;
    }
    await wait(200);
  }
  const {
    jitterMedian = NaN,
    jitter99 = NaN,
    missed = NaN,
  } = (await sourceNamed('Live registers')).state!.timing['1000 ms'] ?? {};
  row(
    `${REGISTERS} registers at 1 s meanwhile`,
    `late ${jitterMedian.toFixed(1)} / ${jitter99.toFixed(1)} ms`,
    `median / 99th; ${missed} missed`,
  );
  await after.stop();
  await bench.stop();
  controller.kill('SIGTERM');
}
