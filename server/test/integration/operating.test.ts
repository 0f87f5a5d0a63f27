/** Writing to devices: who may, what fits, and that whatever came of it stands in the logbook. */
import type { AskedQuestion, DeviceValue, Held, LogbookPage, Written } from '@wide-ledger/contract';
import { TestSite } from './testSite.ts';

let site: TestSite;
let ended = false;
/** What the collector of this test says to a wish; it holds one value for all tags. */
let held: DeviceValue | null = 5;
let says: (value: DeviceValue) => Partial<Written> | { failed: string } = () => ({ outcome: 'written' });
const asked: AskedQuestion['question'][] = [];

const heldAs = (value: DeviceValue | null): Held => ({ value, status: 0, quality: 'Good' });

/** A collector that answers what it is asked. */
async function collect(): Promise<void> {
  while (!ended) {
    const { body } = await site.call<{ questions: AskedQuestion[] }>('GET', '/collector/questions?wait=100');
    for (const { request, question } of body.questions) {
      asked.push(question);
      if (question.ask === 'held') {
        await site.call('POST', '/collector/answers', { request, says: 'held', held: heldAs(held) });
      } else if (question.ask === 'write') {
        const said = says(question.value);
        const before = heldAs(held);
        if ('failed' in said) {
          await site.call('POST', '/collector/answers', { request, says: 'failed', sentence: said.failed, code: null });
          continue;
        }
        if (said.outcome === 'written') held = question.value;
        const write = { sentence: '', before, after: said.outcome === 'written' ? heldAs(held) : null, ...said };
        await site.call('POST', '/collector/answers', { request, says: 'write', write });
      }
    }
  }
}

let collecting: Promise<void>;
beforeAll(async () => {
  site = await TestSite.open();
  const connection = { host: '127.0.0.1', port: 1, unit: 1, timeoutMilliseconds: 1000 };
  await site.call('PUT', '/sources', { name: 'D', kind: 'modbus-tcp', connection });
  await site.call('PUT', '/sources', { name: 'C', kind: 'collector', collector: 'c', connection: {} });
  const collection = (address: number, more: object = {}) => ({
    source: 'D',
    address: { area: 'holding', address },
    ...more,
  });
  await site.tag({
    name: 'SET',
    type: 'real',
    unit: 'bar',
    low: 0,
    high: 10,
    writable: true,
    collection: collection(1),
  });
  await site.tag({ name: 'MEASURED', type: 'real', collection: collection(2) });
  await site.tag({
    name: 'MODE',
    type: 'state',
    states: { 0: 'off', 1: 'on' },
    writable: true,
    collection: collection(3),
  });
  await site.tag({ name: 'PAUSED', type: 'real', writable: true, collection: collection(4, { paused: true }) });
  await site.tag({ name: 'SENT', type: 'real', writable: true });
  await site.tag({
    name: 'OWN',
    type: 'integer',
    writable: true,
    collection: { source: 'C', address: { figure: 'waiting' } },
  });
  collecting = collect();
}, 60_000);
afterAll(async () => {
  ended = true;
  await collecting;
  await site.close();
});
beforeEach(() => {
  held = 5;
  says = () => ({ outcome: 'written' });
  asked.length = 0;
});

const write = (tag: string, body: object) =>
  site.call<Written & { detail: string }>('PUT', `/tags/${tag}/device-value`, body);
const lastNote = async () => (await site.call<LogbookPage>('GET', '/logbook?limit=1')).body.entries[0]!;

test('what the device holds is asked of it, and written over while it holds that; both values stand in the logbook', async () => {
  const look = await site.call<Held>('GET', '/tags/SET/device-value');
  expect(look.body).toEqual({ ...heldAs(5), tag: 'SET', unit: 'bar' });
  const done = await write('SET', { value: 7.5, seen: 5, reason: 'Winter.' });
  expect([done.status, done.body]).toEqual([
    200,
    { outcome: 'written', sentence: '', before: heldAs(5), after: heldAs(7.5) },
  ]);
  expect(asked.at(-1)).toMatchObject({ ask: 'write', value: 7.5, seen: 5, source: { name: 'D' } });
  expect(await lastNote()).toMatchObject({
    who: 'admin',
    act: 'wrote to a device',
    name: 'SET',
    sentence: 'SET: 7.5 bar in place of 5, written. Winter.',
    old: 5,
    new: 7.5,
  });
});

test.each([
  [409, { outcome: 'changed meanwhile', sentence: 'It holds 6 by now, not 5: nothing was written.' }],
  [422, { outcome: 'refused', sentence: 'The device did not take it.' }],
  [200, { outcome: 'differs', sentence: 'It was taken, and what is read back is 6.' }],
  [200, { outcome: 'not known', sentence: 'Whether it was written is not known.' }],
  [502, { failed: 'D is away: it was switched off.' }],
] as const)('%d is answered to %j, and noted', async (status, said) => {
  says = () => said;
  const sentence = 'failed' in said ? said.failed : said.sentence;
  const { status: answered, body } = await write('SET', { value: 7, seen: 5 });
  expect(answered).toBe(status);
  expect(JSON.stringify(body)).toContain(sentence);
  const note = await lastNote();
  expect(note.sentence).toContain(sentence);
  if ('failed' in said) expect(note.sentence).toContain('not written.');
});

test.each([
  ['SET', 11, 'outside of its range, 0 to 10 bar.'],
  ['SET', -0.1, 'outside of its range'],
  ['SET', 'much', 'no number'],
  ['MODE', 2, 'none of its states'],
  ['MODE', 0.5, 'whole numbers'],
  ['PAUSED', 1, 'is paused'],
  ['SENT', 1, 'has no source'],
  ['OWN', 1, 'cannot be written into a source of the kind Collector itself'],
])('into %s %j is not written: %s', async (tag, value, why) => {
  const { status, body } = await write(tag, { value, seen: 5 });
  expect([status, body.detail]).toEqual([400, expect.stringContaining(why)]);
  expect(asked).toEqual([]);
});

test('only tags that are marked as writable, and only for those who may operate', async () => {
  expect((await write('MEASURED', { value: 1, seen: 5 })).status).toBe(403);
  const made = await site.call<{ key: string }>('POST', '/keys', { name: 'r', scopes: ['read', 'write', 'admin'] });
  const headers = { authorization: `Bearer ${made.body.key}`, cookie: '' };
  const refused = await site.call<{ detail: string }>('PUT', '/tags/SET/device-value', { value: 1, seen: 5 }, headers);
  expect([refused.status, refused.body.detail]).toEqual([403, expect.stringContaining('needs the scope "operate"')]);
  expect(asked).toEqual([]);
});
