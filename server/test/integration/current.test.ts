/** Current values: what stands last of a tag, at once and live, whatever is corrected, removed, posted or restarted. */
import type { LiveSample, TagList } from '@wide-ledger/contract';
import { TestSite } from './testSite.ts';

const site = await TestSite.open();
afterAll(() => site.close());

const at = (second: number): string => `2026-04-01T00:00:${String(second).padStart(2, '0')}Z`;
const send = (tag: string, rows: readonly (readonly [number, unknown])[]) =>
  site.call('POST', '/samples', { samples: rows.map(([second, value]) => ({ tag, time: at(second), value })) });
const remove = (tag: string, from: number, to: number) =>
  site.call('POST', '/history/removals', { tag, reason: 'not of this plant', from: at(from), to: at(to) });

/** What the list of tags shows as the present. */
async function present(tag: string): Promise<[string, unknown] | null> {
  const { body } = await site.call<TagList>('GET', `/tags?search=${tag}`);
  const latest = body.tags.find(({ name }) => name === tag)!.latest;
  return latest && [latest.time, latest.value];
}

/** Messages of the live stream until one satisfies. */
async function* live(tags: readonly number[]): AsyncGenerator<LiveSample[]> {
  const ended = new AbortController();
  const answer = await fetch(`${site.site.url}/api/v1/live?tags=${tags.join(',')}`, {
    headers: { cookie: site.cookie },
    signal: ended.signal,
  });
  let text = '';
  try {
    for await (const part of answer.body!.pipeThrough(new TextDecoderStream())) {
      text += part;
      const messages = text.split('\n\n');
      text = messages.pop()!;
      for (const message of messages)
        if (message.startsWith('data: ')) yield JSON.parse(message.slice(6)) as LiveSample[];
    }
  } finally {
    ended.abort();
  }
}

test('is the newest by its time, not the last to come', async () => {
  await site.tag({ name: 'Present' });
  expect(await present('Present')).toBeNull();
  await send('Present', [[5, 50]]);
  await send('Present', [[3, 30]]);
  expect(await present('Present')).toEqual(['2026-04-01T00:00:05.000Z', 50]);
  // The same time again is a correction.
  await send('Present', [[5, 51]]);
  expect(await present('Present')).toEqual(['2026-04-01T00:00:05.000Z', 51]);
});

test.each(['in the journal', 'in the ledger'])(
  'whose newest value %s is removed, it is the one before',
  async (where) => {
    const tag = `Removed ${where}`.replaceAll(' ', '.');
    await site.tag({ name: tag });
    await send(tag, [
      [1, 10],
      [2, 20],
    ]);
    if (where === 'in the ledger') await site.site.posting.postAll();
    await remove(tag, 2, 3);
    expect(await present(tag)).toEqual(['2026-04-01T00:00:01.000Z', 10]);
    await site.site.posting.postAll();
    expect(await present(tag)).toEqual(['2026-04-01T00:00:01.000Z', 10]);
    await remove(tag, 0, 3);
    expect(await present(tag)).toBeNull();
    await send(tag, [[1, 11]]);
    expect(await present(tag)).toEqual(['2026-04-01T00:00:01.000Z', 11]);
  },
);

test.each([
  ['integer', '9007199254740993'],
  ['text', 'two\nlines'],
  ['boolean', false],
])('of type %s is shown to the last digit, before and after a restart', async (type, value) => {
  const tag = `Kind.${type}`;
  const id = await site.tag({ name: tag, type });
  await send(tag, [[1, value]]);
  const shown = async (): Promise<unknown> => (await present(tag))?.[1];
  expect(await shown()).toBe(value);
  await site.site.posting.postAll();
  await site.restart();
  expect(await shown()).toBe(value);
  for await (const samples of live([id])) {
    expect(samples).toMatchObject([{ tag: id, value }]);
    break;
  }
});

test('is told live: first what is known, then what changes, and nothing of other tags', async () => {
  const [mine, other] = [await site.tag({ name: 'Live.mine' }), await site.tag({ name: 'Live.other' })];
  await send('Live.mine', [[1, 1]]);
  const values: unknown[] = [];
  for await (const samples of live([mine])) {
    expect(samples.map(({ tag }) => tag)).not.toContain(other);
    values.push(samples[0]!.value);
    if (values.length === 1) {
      await send('Live.other', [[2, 99]]);
      await send('Live.mine', [[2, 2]]);
    }
    if (values.length === 2) await remove('Live.mine', 2, 3);
    if (values.length === 3) break;
  }
  expect(values).toEqual([1, 2, 1]);
});
