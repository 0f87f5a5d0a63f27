/** Fifty readers of mixed history calls, each asking again as soon as it is answered, while 50,000 values a second are written. */
import { SECOND, emptyFrame, packEntry, type Frame } from '@wide-ledger/core';
import { setTimeout as wait } from 'node:timers/promises';
import type { Surroundings } from './surroundings.ts';

const READERS = 50;
const WRITERS = 4;
const TAGS = 500;
/** Values of each tag in a second. */
const EACH = 100;
const SECONDS = Number(process.env.SPEED_CROWD_SECONDS ?? 30);
/** Tags with a past, and its length: what is read. */
const READ_TAGS = 20;
const PAST_SECONDS = 86_400;

const percentile = (values: readonly number[], share: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))] ?? 0;

const valueAt = (tag: number, second: number): number =>
  Math.round(500 + 100 * Math.sin((second + 37 * tag) / 600) + 3 * Math.sin(second * 1.7 + tag)) / 10;

export async function measureCrowd({ base, authorization, row }: Surroundings): Promise<void> {
  console.log(`\n${READERS} readers beside ${(TAGS * EACH).toLocaleString('en')} values/s, for ${SECONDS} s\n`);
  const answer = await fetch(`${base}/tags`, {
    method: 'POST',
    headers: { authorization, 'content-type': 'application/json' },
    body: JSON.stringify(Array.from({ length: TAGS }, (_, i) => ({ name: `Crowd${i}` }))),
  });
  const { results } = (await answer.json()) as { results: { id: number }[] };
  const ids = results.map(({ id }) => id);
  const now = Math.floor(Date.now() / 1000);
  const deliver = async (writer: string, sequence: number, frame: Frame): Promise<void> => {
    const kept = await fetch(`${base}/entries`, {
      method: 'POST',
      headers: { authorization },
      body: Buffer.from(packEntry({ writer, sequence, origin: 'live' }, frame)),
    });
    if (!kept.ok) throw new Error(await kept.text());
  };
  for (let tag = 0; tag < READ_TAGS; tag++) {
    const frame = emptyFrame(PAST_SECONDS, { tags: true });
    frame.tags!.fill(ids[tag]!);
    for (let i = 0; i < PAST_SECONDS; i++) {
      frame.times[i] = (now - PAST_SECONDS - 600 + i) * SECOND;
      frame.values[i] = valueAt(tag, i);
    }
    await deliver('crowd-past', tag + 1, frame);
  }

  let running = true;
  const times: number[] = [];
  let busy = 0;
  const end = new Date((now - 600) * 1000).toISOString();
  const since = (hours: number): string => new Date((now - 600 - hours * 3600) * 1000).toISOString();
  const CALLS: readonly ((tag: string) => string)[] = [
    (tag) => `raw?tag=${tag}&from=${since(1)}&to=${end}`,
    (tag) => `processed?tag=${tag}&aggregate=TimeAverage&interval=PT1H&from=${since(24)}&to=${end}`,
    (tag) => `processed?tag=${tag}&aggregate=Maximum&interval=PT1M&from=${since(6)}&to=${end}`,
    (tag) => `envelope?tag=${tag}&columns=800&from=${since(24)}&to=${end}`,
    (tag) => `at?tag=${tag}&times=${since(3)},${since(2)},${since(1)}`,
  ];
  const read = async (reader: number): Promise<void> => {
    for (let turn = reader; running; turn++) {
      const call = CALLS[turn % CALLS.length]!(`Crowd${(turn * 7) % READ_TAGS}`);
      const started = performance.now();
      const page = await fetch(`${base}/history/${call}`, { headers: { authorization } });
      await page.arrayBuffer();
      if (page.ok) times.push(performance.now() - started);
      else if (page.status === 503) {
        busy++;
        await wait(1000 * Number(page.headers.get('retry-after') ?? 1));
      } else throw new Error(`${call} was answered ${page.status}`);
    }
  };
  let written = 0;
  const begun = performance.now();
  const write = async (writer: number): Promise<void> => {
    const mine = ids.filter((_, i) => i % WRITERS === writer);
    for (let second = 0; running; second++) {
      const frame = emptyFrame(mine.length * EACH, { tags: true });
      mine.forEach((id, t) => {
        for (let k = 0; k < EACH; k++) {
          frame.tags![t * EACH + k] = id;
          frame.times[t * EACH + k] = (now + second) * SECOND + k * 10_000;
          frame.values[t * EACH + k] = valueAt(t, second + k / EACH);
        }
      });
      await deliver(`crowd-${writer}`, second + 1, frame);
      written += mine.length * EACH;
      await wait(Math.max(0, begun + (second + 1) * 1000 - performance.now()));
    }
  };
  const all = [
    ...Array.from({ length: READERS }, (_, reader) => read(reader)),
    ...Array.from({ length: WRITERS }, (_, writer) => write(writer)),
  ];
  await wait(SECONDS * 1000);
  running = false;
  const took = (performance.now() - begun) / 1000;
  const rate = written / took;
  await Promise.all(all);
  row('written', `${Math.round(rate).toLocaleString('en')} values/s`, 'aim 50,000');
  row(
    'a read, median / 99th',
    `${percentile(times, 0.5).toFixed(0)} / ${percentile(times, 0.99).toFixed(0)} ms`,
    'aim 300 / 2,000',
  );
  row('reads a second', (times.length / took).toFixed(0), `${busy} were asked to come back later`);
}
