/** What tags are called and labelled: found by their labels, understood by the names that they had, and refused ones say why. */
import type { DraftEdited, RawAnswer, Tag, TagList } from '@wide-ledger/contract';
import { TestSite, frameOf } from './testSite.ts';

const site = await TestSite.open();
afterAll(() => site.close());

const AT = '2026-03-01T00:00:00Z';
const WINDOW = `from=${AT}&to=2026-03-02T00:00:00Z`;
const tagNamed = async (name: string): Promise<Tag> => (await site.call<Tag>('GET', `/tags/${name}`)).body;
const found = async (search: string): Promise<string[]> =>
  (await site.call<TagList>('GET', `/tags?search=${encodeURIComponent(search)}`)).body.tags.map(({ name }) => name);
const set = async (id: number, fields: object): Promise<void> => {
  const changes = [{ kind: 'tag', id, set: fields }];
  const { draft } = (await site.call<DraftEdited>('POST', '/drafts', { changes })).body;
  expect((await site.call('POST', `/drafts/${draft!.id}/force`, { reason: 'As it should be' })).status).toBe(200);
};

test('tags are found by their labels, beside everything else', async () => {
  await site.call('POST', '/tags', [
    { name: 'KB-PT-301', unit: 'bar', labels: { pump: '3', line: 'A' } },
    { name: 'KB-PT-401', unit: 'bar', labels: { pump: '4', line: 'A' } },
    { name: 'KB-TT-302', unit: '°C', labels: { pump: '3' } },
  ]);
  expect(await found('pump=3')).toEqual(['KB-PT-301', 'KB-TT-302']);
  expect(await found('bar line=a')).toEqual(['KB-PT-301', 'KB-PT-401']);
  expect((await tagNamed('KB-PT-301')).labels).toEqual({ pump: '3', line: 'A' });
  const wrong = await site.call('POST', '/tags', { name: 'X', labels: { 'a b': '1' } });
  expect(JSON.stringify(wrong.body)).toContain('letters, digits and _');
});

test('a renamed tag keeps its history, and whoever asks by an old name is answered with the one that it has', async () => {
  const id = await site.tag({ name: 'OLD-1' });
  await site.call('POST', '/samples', { samples: [{ tag: 'OLD-1', time: AT, value: 7 }] });
  await set(id, { name: 'NEW-1' });
  await set(id, { name: 'NEWER-1' });
  expect(await tagNamed('OLD-1')).toMatchObject({ name: 'NEWER-1', formerNames: ['OLD-1', 'NEW-1'] });
  const raw = await site.call<RawAnswer>('GET', `/history/raw?tag=OLD-1&${WINDOW}`);
  expect([raw.body.tag, raw.body.samples.map(({ value }) => value)]).toEqual(['NEWER-1', [7]]);
  const rows = await site.query<{ tag: string; value: number }>(
    "SELECT tag, value FROM history.sample('NEW-1', '2026-03-01', '2026-03-02')",
  );
  expect(rows).toEqual([{ tag: 'NEWER-1', value: 7 }]);
  // Whoever has the name now is meant by it.
  const other = await site.tag({ name: 'OLD-1' });
  expect(other).toBeGreaterThan(id);
  expect((await tagNamed('OLD-1')).id).toBe(other);
  expect((await tagNamed('NEWER-1')).formerNames).toEqual(['NEW-1']);
  // And after a restart, all the same.
  await site.restart();
  expect((await tagNamed('NEW-1')).name).toBe('NEWER-1');
});

test('a tag that its source refuses says why, until it does not', async () => {
  const connection = { host: '127.0.0.1', port: 502, unit: 1 };
  const source = (
    await site.call<{ id: number }>('PUT', '/sources', { name: 'Device', kind: 'modbus-tcp', connection })
  ).body.id;
  const address = { area: 'holding', address: 1, type: 'uint16', order: 'ABCD' };
  const id = await site.tag({ name: 'REFUSED', collection: { source: 'Device', address } });
  const at = Date.now() * 1000;
  const outage = {
    source,
    tag: id,
    from: at,
    cause: 'tag',
    sentence: 'There is no register 1.',
    code: 'X',
    recoverable: false,
  };
  const tell = (sequence: number, to: number | null): Promise<unknown> =>
    site.entry(
      { writer: 'c', sequence, origin: 'live', outages: [{ ...outage, to }] },
      frameOf(id, [[at, NaN, 0x80340000]]),
    );
  expect((await tagNamed('REFUSED')).refusal).toBeNull();
  await tell(1, null);
  expect((await tagNamed('REFUSED')).refusal).toBe('There is no register 1.');
  await tell(2, at + 1_000_000);
  expect((await tagNamed('REFUSED')).refusal).toBeNull();
});

test.each([
  [{ name: 'X', unit: 5 }, 'unit: Invalid input: expected string, received number.'],
  [{ name: 'X', labels: { 'a b': '1' } }, 'labels.a b: is letters, digits and _, and begins with a letter.'],
  [{ name: 'X', low: 2, high: 1 }, 'The range is upside down: low has to lie below high.'],
  [{ name: 'X', colour: 1 }, '"colour" is not known here.'],
])('what is wrong with one tag is named: %j', async (tag, detail) => {
  const { status, body } = await site.call<{ detail: string }>('POST', '/tags', tag);
  expect([status, body.detail]).toEqual([400, detail]);
});

test('a name that breaks binding rules of its place is not put in force, whichever way it comes', async () => {
  const rules = { begins: 'TW-', signs: '-', capitals: true, longest: 12, letters: true, binding: true };
  const created = async (body: object): Promise<{ status: number; body: unknown }> => {
    const { draft } = (await site.call<DraftEdited>('POST', '/drafts', { changes: [body] })).body;
    const answer = await site.call('POST', `/drafts/${draft!.id}/force`, { reason: 'New' });
    if (answer.status !== 200) await site.call('DELETE', `/drafts/${draft!.id}`);
    return answer;
  };
  const [place] = (
    await site.call<DraftEdited>('POST', '/drafts', {
      changes: [{ kind: 'place', create: { name: 'Strict', names: rules } }],
    })
  ).body.created;
  const draft = (await site.call<{ drafts: { id: number }[] }>('GET', '/drafts')).body.drafts[0]!;
  expect((await site.call('POST', `/drafts/${draft.id}/force`, { reason: 'Rules' })).status).toBe(200);
  const tag = (name: string): object => ({ kind: 'tag', create: { name, place, store: 1, stepped: false } });
  const refused = await created(tag('strict_1'));
  expect(refused.status).toBe(409);
  expect(JSON.stringify(refused.body)).toContain('Names here begin with TW-.');
  expect((await created(tag('TW-PT-1'))).status).toBe(200);
  const sent = await site.call('POST', '/tags', { name: 'pump_7', place: 'Strict' });
  expect([sent.status, JSON.stringify(sent.body)]).toEqual([400, expect.stringContaining('pump_7: Names here')]);
  expect((await site.call('POST', '/tags', { name: 'TW-TT-7', place: 'Strict' })).status).toBeLessThan(300);
});
