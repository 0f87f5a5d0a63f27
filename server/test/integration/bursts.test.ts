/** A tag that is read fast for a short while: asked of its collector by a job, whose report is what was read. */
import type { AskedQuestion, Burst, Job } from '@wide-ledger/contract';
import { TestSite } from './testSite.ts';

const BURST: Burst = { startedAt: '2026-11-01T00:00:00.000Z', times: [0, 50.1, 100], values: [1, null, 3] };

let site: TestSite;
let ended = false;
/** What the collector says to the next burst; null: nothing. */
let says: object | null = null;
const asked: AskedQuestion['question'][] = [];

async function collect(): Promise<void> {
  while (!ended) {
    const { body } = await site.call<{ questions: AskedQuestion[] }>('GET', '/collector/questions?wait=100');
    for (const { request, question } of body.questions) {
      asked.push(question);
      if (says !== null) await site.call('POST', '/collector/answers', { request, ...says });
    }
  }
}

let collecting: Promise<void>;
beforeAll(async () => {
  site = await TestSite.open();
  const connection = { host: '127.0.0.1', port: 1, unit: 1, timeoutMilliseconds: 1000 };
  await site.call('PUT', '/sources', { name: 'D', kind: 'modbus-tcp', connection });
  const collection = { source: 'D', address: { area: 'holding', address: 1 } };
  await site.tag({ name: 'FAST', type: 'real', unit: 'bar', collection });
  await site.tag({ name: 'PAUSED', type: 'real', collection: { ...collection, paused: true } });
  await site.tag({ name: 'SENT', type: 'real' });
  collecting = collect();
}, 60_000);
afterAll(async () => {
  ended = true;
  await collecting;
  await site.close();
});

const begin = (tag: string, more: object = {}) =>
  site.call<{ job: number; detail?: string }>('POST', '/bursts', { tag, everyMilliseconds: 50, seconds: 2, ...more });
const jobOf = async (id: number): Promise<Job> => (await site.call<Job>('GET', `/jobs/${id}`)).body;

test('what was read is the report of the job; nothing of it is archived', async () => {
  says = { says: 'burst', burst: BURST };
  const { status, body } = await begin('FAST');
  expect(status).toBe(200);
  await site.jobsDone('burst');
  expect(asked.at(-1)).toMatchObject({
    ask: 'burst',
    source: { name: 'D' },
    tag: { name: 'FAST' },
    everyMilliseconds: 50,
  });
  expect(await jobOf(body.job)).toMatchObject({ state: 'done', report: BURST, sentence: '3 values in 2 s.' });
  const { body: raw } = await site.call<{ samples: unknown[] }>('GET', '/history/raw?tag=FAST&from=now-1w&to=now');
  expect(raw.samples).toEqual([]);
});

test('a source that does not answer is told as the collector tells it', async () => {
  says = { says: 'failed', sentence: 'Nothing answers on 127.0.0.1:1.', code: 'ECONNREFUSED' };
  const { body } = await begin('FAST');
  await site.jobsDone('burst');
  expect(await jobOf(body.job)).toMatchObject({ state: 'failed', sentence: 'Nothing answers on 127.0.0.1:1.' });
});

test('one that is stopped waits for nothing any more', async () => {
  says = null;
  const { body } = await begin('FAST', { seconds: 60 });
  // Whoever begins it once more meanwhile is shown the same.
  expect((await begin('FAST')).body.job).toBe(body.job);
  await site.call('POST', `/jobs/${body.job}/stop`);
  await site.jobsDone('burst');
  expect((await jobOf(body.job)).state).toBe('stopped');
});

test('what nobody reads, and what is too fast or too long, is refused with a sentence', async () => {
  for (const tag of ['PAUSED', 'SENT']) expect((await begin(tag)).body.detail).toContain('read by no collector');
  expect((await begin('FAST', { everyMilliseconds: 1 })).status).toBe(400);
  expect((await begin('FAST', { seconds: 61 })).status).toBe(400);
  expect((await begin('NONE')).status).toBe(404);
});
