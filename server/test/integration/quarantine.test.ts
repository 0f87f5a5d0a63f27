/** What cannot be posted stops nothing: it is kept whole, shown, and somebody decides. */
import type { Desk, QuarantinedEntry } from '@wide-ledger/contract';
import { SECOND, encodeFrame, formatInstant, type Frame } from '@wide-ledger/core';
import { TestSite, frameOf } from './testSite.ts';

const site = await TestSite.open();
afterAll(() => site.close());

const START = Date.UTC(2026, 3, 1) * 1000;
const at = (n: number): string => formatInstant(START + n * SECOND);

/** Puts an entry into the journal past the border, as an earlier version let it in. */
async function slipIn(tag: number, bytes: Uint8Array, samples: number, times: readonly number[]): Promise<number> {
  const [row] = await site.query<{ id: number }>(
    `SELECT append_entry('earlier version', NULL, 3::smallint, $1, $2, $3, $4, $5, '[]', '[]', '[]', NULL) AS id`,
    [samples, Math.min(...times), Math.max(...times), [tag], Buffer.from(bytes)],
  );
  return row!.id;
}
const slipFrame = (frame: Frame): Promise<number> =>
  slipIn(frame.tags![0]!, encodeFrame(frame), frame.times.length, [...frame.times]);

const read = async (tag: string): Promise<unknown[]> =>
  (
    await site.call<{ samples: { value: unknown }[] }>('GET', `/history/raw?tag=${tag}&from=${at(0)}&to=${at(1000)}`)
  ).body.samples.map(({ value }) => value);
const inSql = async (tag: string): Promise<unknown[]> =>
  (
    await site.query<{ value: number; text: string | null }>(
      `SELECT value, text FROM history.sample('${tag}', '2026-04-01Z', '2026-04-02Z') ORDER BY time`,
    )
  ).map(({ value, text }) => text ?? value);
const quarantined = async (): Promise<QuarantinedEntry[]> =>
  (await site.call<{ entries: QuarantinedEntry[] }>('GET', '/quarantine')).body.entries;

test('an entry that cannot be posted goes into quarantine whole, those around it are posted, and the Desk says so', async () => {
  const tag = await site.tag({ name: 'Steady' });
  const poisoned = await site.tag({ name: 'Poisoned' });
  const entry = (sequence: number): Promise<unknown> =>
    site.entry({ writer: 'w', sequence, origin: 'live' }, frameOf(tag, [[START + sequence * SECOND, sequence]]));
  for (let n = 1; n <= 20; n++) await entry(n);
  // A frame of another version: nothing decodes it.
  const broken = await slipIn(poisoned, Uint8Array.of(0x39, 1, 2, 3), 7, [START + SECOND]);
  for (let n = 21; n <= 40; n++) await entry(n);
  await site.site.posting.postAll();
  expect(await site.query('SELECT FROM journal_entry j, posting p WHERE j.id > p.entry')).toEqual([]);
  expect(await read('Steady')).toEqual(Array.from({ length: 40 }, (_, i) => i + 1));
  expect(await read('Poisoned')).toEqual([]);
  expect(await quarantined()).toMatchObject([
    { entry: broken, store: 'Embedded', samples: 7, tags: ['Poisoned'], failure: expect.stringContaining('0x39') },
  ]);
  const desk = (await site.call<Desk>('GET', '/desk')).body;
  expect(desk.concerns.map(({ sentence }) => sentence)).toContain(
    'An entry is in quarantine, with 7 values of Poisoned.',
  );
  expect((await site.call('GET', '/health')).status).toBe(200);

  const [open] = await quarantined();
  expect((await site.call('POST', `/quarantine/${open!.id}`, { decision: 'set aside' })).status).toBe(204);
  expect((await site.call('POST', `/quarantine/${open!.id}`, { decision: 'set aside' })).status).toBe(404);
  expect(await quarantined()).toEqual([]);
  const [aside] = await site.query<{ value: string; reason: string }>('SELECT value, reason FROM set_aside');
  expect(aside).toEqual({
    value: '7 values that cannot be decoded',
    reason: expect.stringContaining(`Entry ${broken} could not be posted`),
  });
});

test('an entry is posted again out of quarantine; what its tag cannot hold is set aside', async () => {
  const tag = await site.tag({ name: 'Whole', type: 'integer' });
  const frame = frameOf(tag, [
    [START, 1],
    [START + SECOND, 620.848],
  ]);
  const id = await slipFrame(frame);
  await site.query(
    `INSERT INTO quarantine (store_id, entry, writer, origin, received_at, samples, first_time, last_time, tags, frame, failure)
       SELECT 1, id, writer, origin, received_at, samples, first_time, last_time, tags, frame, 'no whole number' FROM journal_entry WHERE id = $1`,
    [id],
  );
  await site.query('UPDATE posting SET entry = $1', [id]);
  expect(await read('Whole')).toEqual([]);
  const [open] = await quarantined();
  await site.call('POST', `/quarantine/${open!.id}`, { decision: 'post again' });
  expect(await read('Whole')).toEqual([1]);
  await site.site.posting.postAll();
  expect(await read('Whole')).toEqual([1]);
  const asideOf = await site.query<{ value: string }>("SELECT value FROM set_aside WHERE tag = 'Whole'");
  expect(asideOf).toEqual([{ value: '620.848' }]);
});

test('a fraction that an earlier version kept in a tag of whole numbers, and a correction to 64 bits, live side by side', async () => {
  const tag = await site.tag({ name: 'Mixed', type: 'integer' });
  await slipFrame(
    frameOf(tag, [
      [START, 620.8487],
      [START + SECOND, 5],
    ]),
  );
  await site.site.posting.postAll();
  const corrected = await site.call('POST', '/history/corrections', {
    tag: 'Mixed',
    reason: 'the counter’s true reading',
    samples: [{ time: at(1), value: '9223372036854775807' }],
  });
  expect(corrected.status).toBe(200);
  for (const post of [false, true]) {
    if (post) await site.site.posting.postAll();
    expect(await read('Mixed')).toEqual([620.8487, '9223372036854775807']);
    expect(await inSql('Mixed')).toEqual([620.8487, '9223372036854775807']);
  }
  expect(await quarantined()).toEqual([]);
  const modified = await site.call<{ samples: { value: unknown }[] }>(
    'GET',
    `/history/modified?tag=Mixed&from=${at(0)}&to=${at(10)}`,
  );
  expect(modified.body.samples.map(({ value }) => value)).toEqual([5]);
});

test('a text with U+0000 that an earlier version kept is read, shown in SQL by its symbol, and corrected', async () => {
  const tag = await site.tag({ name: 'Words', type: 'text' });
  await slipFrame({ ...frameOf(tag, [[START, 0]]), texts: ['a\0b'] });
  expect(await inSql('Words')).toEqual(['a\u2400b']);
  await site.call('POST', '/history/corrections', {
    tag: 'Words',
    reason: 'no text',
    samples: [{ time: at(0), value: 'ab' }],
  });
  await site.site.posting.postAll();
  expect(await inSql('Words')).toEqual(['ab']);
  expect(await read('Words')).toEqual(['ab']);
  const [old] = await site.query<{ text: string }>('SELECT text FROM modified_sample WHERE tag_id = $1', [tag]);
  expect(old).toEqual({ text: 'a\u2400b' });
});

test('at the border, in JSON and in frames, what a type cannot hold is set aside and the rest is kept', async () => {
  const note = await site.tag({ name: 'Note', type: 'text' });
  const count = await site.tag({ name: 'Count', type: 'integer' });
  await site.tag({ name: 'Flag', type: 'boolean' });
  const { body } = await site.call<{ accepted: number; setAside: { index: number }[] }>('POST', '/samples', {
    samples: [
      { tag: 'Note', time: at(0), value: 'fine' },
      { tag: 'Note', time: at(1), value: 'a\0b' },
      { tag: 'Count', time: at(0), value: 1.5 },
      { tag: 'Flag', time: at(0), value: 2 },
      { tag: 'Count', time: at(1), value: 7, quality: 'Bad' },
    ],
  });
  expect(body).toMatchObject({ accepted: 1, setAside: [{ index: 1 }, { index: 2 }, { index: 3 }, { index: 4 }] });
  const binary = await site.entry(
    { writer: 'collector', sequence: 1, origin: 'live' },
    frameOf(count, [
      [START, 620.848],
      [START + 2 * SECOND, 3],
    ]),
  );
  expect(binary.body).toMatchObject({ accepted: 1, setAside: 1 });
  const words = await site.entry(
    { writer: 'collector', sequence: 2, origin: 'live' },
    frameOf(
      note,
      [
        [START + 2 * SECOND, 0],
        [START + 3 * SECOND, 1],
      ],
      ['a\0b', 'good'],
    ),
  );
  expect(words.body).toMatchObject({ accepted: 1, setAside: 1 });
  await site.site.posting.postAll();
  expect([await read('Note'), await read('Count')]).toEqual([['fine', 'good'], [3]]);
});

test('of two values with one time in one request the later one stands, also where one is text or has 64 bits', async () => {
  await site.tag({ name: 'Late', type: 'integer' });
  await site.tag({ name: 'LateText', type: 'text' });
  await site.call('POST', '/samples', {
    samples: [
      { tag: 'Late', time: at(0), value: '9223372036854775807' },
      { tag: 'Late', time: at(0), value: 5 },
      { tag: 'Late', time: at(1), value: 6 },
      { tag: 'Late', time: at(1), value: '9223372036854775806' },
      { tag: 'LateText', time: at(0), value: 'gone' },
      { tag: 'LateText', time: at(0), value: null, status: 'Bad' },
    ],
  });
  for (const post of [false, true]) {
    if (post) await site.site.posting.postAll();
    expect(await read('Late')).toEqual([5, '9223372036854775806']);
    expect(await read('LateText')).toEqual([null]);
  }
});
