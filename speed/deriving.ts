/** What computed tags cost the server, and how far they are behind: two thousand sums over inputs of a value a second. */
import { emptyFrame, packEntry } from '@wide-ledger/core';
import { setTimeout as wait } from 'node:timers/promises';
import { askerOf, posted } from './asking.ts';
import { processorSeconds } from './processor.ts';
import type { Surroundings } from './surroundings.ts';

const DERIVED = 2_000;
const INPUTS = 2 * DERIVED;
const SECONDS = 20;

export async function measureDeriving({
  base,
  authorization,
  key,
  client,
  serverPid,
  row,
}: Surroundings): Promise<void> {
  console.log(`\nComputed tags: ${DERIVED} sums of two tags each, all of a value a second`);
  const send = askerOf(base, authorization);
  const make = async (tags: readonly object[]): Promise<number[]> =>
    (await send<{ results: { id: number }[] }>('POST', '/tags', tags)).results.map(({ id }) => id);
  const names = Array.from({ length: INPUTS }, (_, i) => `DERIVE-${i}`);
  const ids = await make(names.map((name) => ({ name })));
  let sequence = 0;
  const second = async (): Promise<void> => {
    const frame = emptyFrame(INPUTS, { tags: true });
    const now = Date.now() * 1000;
    for (const [i, id] of ids.entries()) {
      frame.tags![i] = id;
      frame.times[i] = now;
      frame.values[i] = Math.sin(now / 1e7 + i);
    }
    const entry = packEntry({ writer: 'speed', sequence: ++sequence, origin: 'live' }, frame);
    const headers = { authorization: `Bearer ${key}`, 'content-type': 'application/octet-stream' };
    const answer = await fetch(`${base}/entries`, { method: 'POST', headers, body: Buffer.from(entry) });
    if (!answer.ok) throw new Error(await answer.text());
  };
  /** @returns the share of a core that the server took */
  const run = async (): Promise<number> => {
    const [used, begun] = [processorSeconds(serverPid), performance.now()];
    for (let i = 0; i < SECONDS; i++) {
      await second();
      await wait(Math.max(0, begun + (i + 1) * 1000 - performance.now()));
    }
    return (processorSeconds(serverPid) - used) / ((performance.now() - begun) / 1000);
  };
  await second();
  await posted(send);
  const without = await run();
  await make(
    Array.from({ length: DERIVED }, (_, i) => ({
      name: `DERIVED-${i}`,
      formula: 'a + b',
      inputs: { a: names[2 * i], b: names[2 * i + 1] },
    })),
  );
  await wait(5000);
  const from = Date.now() * 1000;
  const together = await run();
  await wait(2000);
  const { rows } = await client.query<{ computed: number; late: number }>(
    `SELECT sum(d.samples)::int AS computed, max(extract(epoch FROM d.received_at - i.received_at))::float8 AS late
     FROM journal_entry d JOIN journal_entry i ON i.writer = 'speed' AND i.first_time = d.first_time
     WHERE d.writer = 'formulas' AND d.first_time >= $1`,
    [from],
  );
  const { computed, late } = rows[0]!;
  row('values computed, of those that had to be', `${computed} of ${DERIVED * SECONDS}`);
  row('the latest behind its inputs', `${late.toFixed(2)} s`, 'aim 2 s');
  row(
    'of a core, beside the inputs alone',
    (together - without).toFixed(2),
    `aim 0.25; the inputs alone ${without.toFixed(2)}`,
  );
}
