/** The logbook: what is noted, found again, taken along, and what its check finds. */
import type { LogbookCheck, LogbookEntry, LogbookPage } from '@wide-ledger/contract';
import { parse } from 'csv-parse/sync';
import { PASSWORD, TestSite } from './testSite.ts';

const site = await TestSite.open();
afterAll(() => site.close());

const entries = async (query = ''): Promise<LogbookEntry[]> =>
  (await site.call<LogbookPage>('GET', `/logbook?${query}`)).body.entries;
const check = async (): Promise<LogbookCheck> => (await site.call<LogbookCheck>('GET', '/logbook/check')).body;
const said = async (query = ''): Promise<string[]> =>
  (await entries(query)).map(({ who, act, sentence }) => `${who} ${act}: ${sentence}`);

const tag = await site.tag({ name: 'T', unit: 'bar' });
const other = await site.tag({ name: 'Other' });
await site.call('POST', '/samples', { samples: [{ tag: 'T', time: '2026-11-01T00:00:00Z', value: 1 }] });

test('what was done stands in it, with old and new, who and from where', async () => {
  await site.call('POST', '/history/corrections', {
    tag: 'T',
    reason: 'misread',
    samples: [{ time: '2026-11-01T00:00:00Z', value: 2 }],
  });
  await site.call('POST', '/history/removals', {
    tag: 'T',
    reason: 'no value',
    from: '2026-11-01T00:00:00Z',
    to: '2026-11-02T00:00:00Z',
  });
  await site.call('POST', '/annotations', { tag: 'T', time: '2026-11-01T00:00:00Z', text: 'A note' });
  await site.call('POST', '/keys', { name: 'reports', scopes: ['read'] });
  await site.call('PATCH', '/tags/T', { description: 'Pressure' });
  await site.call('POST', '/session', { name: 'admin', password: 'wrong' });
  await site.call('POST', '/session', { name: 'hunter2', password: 'wrong' });
  expect((await said()).slice(0, 9)).toEqual([
    'an unknown name was refused: Name or password was wrong.',
    'admin was refused: Name or password was wrong.',
    'admin put in force: Version 4: T. T: description.',
    'admin made a key: The key reports, which may read.',
    'admin annotated: T at 2026-11-01T00:00:00.000Z: A note',
    'admin removed: 1 values of T: no value',
    'admin corrected: 1 value of T: misread',
    'admin put in force: Version 3: Other. A new tag.',
    'admin put in force: Version 2: T. A new tag.',
  ]);
  const corrected = (await entries('search=misread'))[0]!;
  const sample = (value: number): object => ({ time: '2026-11-01T00:00:00.000Z', value, status: 0 });
  expect(corrected).toMatchObject({ old: [sample(1)], new: [sample(2)], kind: 'tag', item: tag, name: 'T' });
  expect(corrected.whence).toMatch(/127\.0\.0\.1|::1/);
  // Neither a password nor a key stands in it anywhere.
  const everything = JSON.stringify(await entries());
  for (const secret of [PASSWORD, 'hunter2', 'wl_']) expect(everything).not.toContain(secret);
});

test('is looked through by words, by item and by time, in pages', async () => {
  expect(await said('search=reports')).toHaveLength(1);
  expect(await said('search=%25')).toEqual([]);
  const ofTag = await said(`kind=tag&item=${tag}`);
  expect(ofTag).toHaveLength(5);
  expect(await said(`kind=tag&item=${other}`)).toEqual(['admin put in force: Version 3: Other. A new tag.']);
  expect(await said('from=now-1h&to=now%2B1h&search=removed')).toHaveLength(1);
  expect(await said('from=2020-01-01T00:00:00Z&to=2021-01-01T00:00:00Z')).toEqual([]);
  const first = await site.call<LogbookPage>('GET', '/logbook?limit=3');
  const second = await site.call<LogbookPage>('GET', `/logbook?limit=3&cursor=${first.body.next}`);
  const numbers = [...first.body.entries, ...second.body.entries].map(({ number }) => number);
  expect(numbers).toEqual(Array.from({ length: 6 }, (_, i) => numbers[0]! - i));
});

test('is taken along as CSV, whole', async () => {
  const { body } = await site.call<string>('GET', '/logbook/export');
  const rows: Record<string, string>[] = parse(body, { columns: true });
  const all = await entries();
  expect(rows.map(({ number }) => Number(number))).toEqual(all.map(({ number }) => number));
  expect(rows.find(({ act }) => act === 'corrected')).toMatchObject({ who: 'admin', name: 'T' });
});

test('needs an administrator', async () => {
  const { body } = await site.call<{ key: string }>('POST', '/keys', { name: 'reader', scopes: ['read'] });
  const asReader = { authorization: `Bearer ${body.key}`, cookie: '' };
  for (const path of ['/logbook', '/logbook/check', '/logbook/export']) {
    expect([path, (await site.call('GET', path, undefined, asReader)).status]).toEqual([path, 403]);
  }
});

describe('its check', () => {
  test('finds it whole, with the end to be written down', async () => {
    const answer = await check();
    expect(answer).toMatchObject({ whole: true, brokenAt: null });
    expect(answer.head).toEqual({ number: answer.checked, hash: (await entries('limit=1'))[0]!.hash });
  });
  const tampered: [string, string, RegExp][] = [
    ['an altered sentence', "UPDATE logbook SET sentence = 'nothing' WHERE number = 4", /^Entry 4 was altered\.$/],
    ['another time', "UPDATE logbook SET at = at - interval '1 day' WHERE number = 4", /^Entry 4 was altered\.$/],
    ['a missing entry', 'DELETE FROM logbook WHERE number = 4', /^Entry 4 is missing\.$/],
    [
      'an altered definition',
      'UPDATE definition SET body = body || \'{"unit": "psi"}\' WHERE version_from = 2',
      /a definition was altered/,
    ],
  ];
  test.each(tampered)('finds %s', async (_, sql, sentence) => {
    await site.query('CREATE TABLE kept_logbook AS SELECT * FROM logbook');
    await site.query('CREATE TABLE kept_definition AS SELECT * FROM definition');
    await site.query(sql);
    const answer = await check();
    expect([answer.whole, answer.sentence]).toEqual([false, expect.stringMatching(sentence)]);
    await site.query('TRUNCATE logbook');
    await site.query('TRUNCATE definition');
    await site.query('INSERT INTO logbook SELECT * FROM kept_logbook');
    await site.query('INSERT INTO definition SELECT * FROM kept_definition');
    await site.query('DROP TABLE kept_logbook, kept_definition');
    expect((await check()).whole).toBe(true);
  });
});

test('acts of many at once make one chain', async () => {
  await Promise.all(
    Array.from({ length: 30 }, (_, i) =>
      site.call('POST', '/annotations', { tag: 'T', time: '2026-11-01T00:00:00Z', text: `Remark ${i}` }),
    ),
  );
  expect(await said('search=Remark')).toHaveLength(30);
  expect((await check()).whole).toBe(true);
});
