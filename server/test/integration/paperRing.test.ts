/** What people write on a tag that is carried round a ring of three sites: there once at each, and named after where it was written. */
import type { AnnotationsAnswer, Invitation, LinksAnswer } from '@wide-ledger/contract';
import { TestSite } from './testSite.ts';
import { until } from './until.ts';

const NAMES = ['Alder', 'Birch', 'Cedar'] as const;
const sites = await Promise.all(NAMES.map((name) => TestSite.open({ WIDE_LEDGER_SITE: name })));
const [alder, birch, cedar] = sites as [TestSite, TestSite, TestSite];
afterAll(() => Promise.all(sites.map((site) => site.close())));

const WINDOW = 'from=2026-05-01T00:00:00Z&to=2026-05-02T00:00:00Z';
const time = '2026-05-01T12:00:00Z';
const write = async (site: TestSite, text: string): Promise<void> =>
  expect((await site.call('POST', '/annotations', { tag: 'Pressure', time, text })).status).toBe(201);
const written = async (site: TestSite): Promise<string[]> =>
  (await site.call<AnnotationsAnswer>('GET', `/annotations?tags=Pressure&${WINDOW}`)).body.annotations
    .map(({ text, writtenBy }) => `${text} (${writtenBy})`)
    .sort();
const links = () =>
  Promise.all(sites.map(async (site) => (await site.call<LinksAnswer>('GET', '/links')).body.sending));
const eventually = (what: string, check: () => Promise<boolean>) => until(what, check, links);

beforeAll(async () => {
  await alder.tag({ name: 'Pressure' });
  for (const [from, to] of [
    [alder, birch],
    [birch, cedar],
    [cedar, alder],
  ] as const) {
    const { code } = (await to.call<Invitation>('POST', '/links/invitations', { name: 'The one before' })).body;
    const link = { name: 'The next one', url: to.site.url, code };
    expect((await from.call('POST', '/links', link)).status).toBe(201);
    await eventually('the tag is there', async () => (await to.call('GET', '/tags/Pressure')).status === 200);
  }
}, 120_000);

test('a note goes once round, and does not come back', async () => {
  await write(alder, 'exchanged');
  await eventually('it is at Cedar', async () => (await written(cedar)).length === 1);
  expect(await written(cedar)).toEqual(['exchanged (Alder: admin)']);
  // What is written later comes later round the ring: by then the first would have come back.
  await write(birch, 'seen');
  await eventually('it is at Alder', async () => (await written(alder)).length >= 2);
  await write(alder, 'again');
  await eventually('that is at Cedar, too', async () => (await written(cedar)).some((one) => one.startsWith('again')));
  expect(await written(alder)).toEqual(['again (admin)', 'exchanged (admin)', 'seen (Birch: admin)']);
  expect(await written(birch)).toEqual(['again (Alder: admin)', 'exchanged (Alder: admin)', 'seen (admin)']);
  expect(await written(cedar)).toEqual(['again (Alder: admin)', 'exchanged (Alder: admin)', 'seen (Birch: admin)']);
}, 120_000);

test('a paper that the far end refuses holds up none of the others', async () => {
  // As an older program would have left it: more than a paper has room for.
  await alder.tag({ name: 'Level' });
  await eventually('the tag is there', async () => (await birch.call('GET', '/tags/Level')).status === 200);
  await alder.query("UPDATE annotation SET text = repeat('x', 3000) WHERE text = 'exchanged'");
  expect((await alder.call('POST', '/annotations', { tag: 'Level', time, text: 'of another tag' })).status).toBe(201);
  await eventually(
    'the other one is there',
    async () =>
      (await birch.call<AnnotationsAnswer>('GET', `/annotations?tags=Level&${WINDOW}`)).body.annotations.length === 1,
  );
  expect((await written(birch)).map((one) => one.split(' ')[0])).toEqual(['again', 'exchanged', 'seen']);
}, 120_000);
