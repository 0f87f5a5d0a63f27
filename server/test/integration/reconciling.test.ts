/** Both ends of a link compared: what is equal is proved, what differs is named by its hour and in what, and made the same. */
import type {
  Invitation,
  Job,
  LinkLogAnswer,
  LinksAnswer,
  ReconcilingReport,
  SendingLink,
  TalliesAnswer,
} from '@wide-ledger/contract';
import { TestSite, frameOf } from './testSite.ts';

const near = await TestSite.open({ WIDE_LEDGER_SITE: 'Thornmere' });
const far = await TestSite.open({ WIDE_LEDGER_SITE: 'Region' });
afterAll(async () => {
  await near.close();
  await far.close();
});

const START = Date.UTC(2026, 0, 20) * 1000;
const MINUTE = 60_000_000;
const WINDOW = { from: '2026-01-01T00:00:00Z', to: '2026-04-01T00:00:00Z' };
const NAMES = ['A', 'B', 'C'];
const at = (minute: number): string => new Date((START + minute * MINUTE) / 1000).toISOString();

let sequence = 0;
const deliver = (
  site: TestSite,
  tag: number,
  rows: readonly (readonly [minute: number, value: number, status?: number])[],
) =>
  site.entry(
    { writer: 'w', sequence: ++sequence, origin: 'live' },
    frameOf(
      tag,
      rows.map(([minute, value, status = 0]) => [START + minute * MINUTE, value, status]),
    ),
  );
/** Twenty days of ten-minute values, across the end of a month. */
const past = (n: number) =>
  Array.from({ length: 2_900 }, (_, i): [number, number] => [i * 10, Math.round(1000 * Math.sin(i / (n + 3))) / 10]);

const ids = await Promise.all(NAMES.map((name) => near.tag({ name })));
for (const [n, id] of ids.entries()) await deliver(near, id, past(n));
const words = await near.tag({ name: 'Words', type: 'text' });
await near.entry(
  { writer: 'w', sequence: ++sequence, origin: 'entered' },
  frameOf(
    words,
    [
      [START, 0],
      [START + MINUTE, 1],
    ],
    ['open', 'shut'],
  ),
);
await near.site.posting.postAll();
const { body: invitation } = await far.call<Invitation>('POST', '/links/invitations', { name: 'North' });
const { body: link } = await near.call<SendingLink>('POST', '/links', {
  name: 'Region',
  url: far.site.url,
  code: invitation.code,
});

const level = async (): Promise<void> => {
  for (;;) {
    const [one] = (await near.call<LinksAnswer>('GET', '/links')).body.sending;
    if (one!.waiting === 0 && one!.state === 'level' && one!.tags === NAMES.length + 1) return;
    await new Promise((done) => setTimeout(done, 50));
  }
};
async function reconciled(repair: string, removals = false): Promise<ReconcilingReport> {
  const asked = { ...WINDOW, repair, removals };
  const { body } = await near.call<{ job: number }>('POST', `/links/${link.id}/reconcile`, asked);
  for (;;) {
    const { body: job } = await near.call<Job>('GET', `/jobs/${body.job}`);
    if (job.state === 'done') return job.report as ReconcilingReport;
    if (job.state === 'failed') throw new Error(job.sentence);
    await new Promise((done) => setTimeout(done, 50));
  }
}
const tallies = async (site: TestSite, tag: string) =>
  (await site.call<TalliesAnswer>('GET', `/tallies?tag=${tag}&by=month&from=${WINDOW.from}&to=${WINDOW.to}`)).body.rows;
const same = async (): Promise<void> => {
  for (const name of [...NAMES, 'Words']) expect(await tallies(far, name)).toEqual(await tallies(near, name));
};

test('history from before a link is there after it was reconciled, and the tally is the proof', async () => {
  await level();
  const first = await reconciled('nothing');
  expect(first).toMatchObject({ equal: false, tags: 4, repaired: 0 });
  expect(first.differing[0]).toMatchObject({ missingThere: 6, missingHere: 0, differentValue: 0 });
  expect(await tallies(far, 'A')).toEqual([]);
  expect(await reconciled('there')).toMatchObject({ equal: true, hours: first.hours, repaired: first.hours });
  await same();
  const again = await reconciled('nothing');
  expect(again).toMatchObject({ equal: true, hours: 0, compared: 3 * 2_900 + 2, differing: [] });
  const { body } = await near.call<{ entries: { act: string; sentence: string }[] }>('GET', '/logbook');
  expect(body.entries.find(({ act }) => act === 'reconciled')!.sentence).toContain(`tally ${again.tally}`);
  const { body: raw } = await far.call<{ samples: { origin: string }[] }>(
    'GET',
    `/history/raw?tag=Words&from=${WINDOW.from}&to=${WINDOW.to}`,
  );
  expect(raw.samples.map(({ origin }) => origin)).toEqual(['entered', 'entered']);
});

test('what differs is named by its hour and in what, and made the same in either direction', async () => {
  const there = (await far.query<{ id: number; name: string }>('SELECT id, name FROM tag')).reduce(
    (map, { id, name }) => map.set(name, id),
    new Map<string, number>(),
  );
  const spoil = async (): Promise<void> => {
    await far.call('POST', '/history/corrections', {
      tag: 'A',
      reason: 'x',
      samples: [{ time: at(600), value: 12_345 }],
    });
    await far.call('POST', '/history/removals', { tag: 'B', reason: 'x', from: at(20_000), to: at(20_030) });
    await deliver(far, there.get('C')!, [[7, 1]]);
    await deliver(far, there.get('C')!, [[1_200, past(2)[120]![1], 0x40000000]]);
  };
  await spoil();
  const found = await reconciled('nothing');
  const counts = { missingHere: 0, missingThere: 0, differentValue: 0, differentStatus: 0 };
  expect(found).toMatchObject({ equal: false, hours: 4 });
  expect(found.differing).toMatchObject([
    { ...counts, tag: 'A', from: at(600), to: at(660), differentValue: 1 },
    { ...counts, tag: 'B', from: at(19_980), missingThere: 3 },
    { ...counts, tag: 'C', from: at(0), missingHere: 1 },
    { ...counts, tag: 'C', from: at(1_200), differentStatus: 1 },
  ]);
  // What only the mended end has is kept unless a person says otherwise.
  const kept = await reconciled('there');
  expect(kept).toMatchObject({ equal: false, hours: 4, repaired: 3, kept: 1 });
  expect(await reconciled('there', true)).toMatchObject({ equal: true, hours: 1, repaired: 1, kept: 0 });
  await same();
  await far.site.posting.postAll();
  const { body } = await far.call<{ samples: { value: number; reason: string }[] }>(
    'GET',
    `/history/modified?tag=A&from=${at(600)}&to=${at(660)}`,
  );
  expect(body.samples.map(({ value }) => value)).toContain(12_345);
  await spoil();
  expect(await reconciled('here')).toMatchObject({ equal: false, hours: 4, repaired: 3, kept: 3 });
  expect(await reconciled('here', true)).toMatchObject({ equal: true, hours: 1, repaired: 1 });
  await same();
  expect(
    (await near.call<{ samples: { value: number }[] }>('GET', `/history/raw?tag=A&from=${at(600)}&to=${at(601)}`)).body
      .samples[0]!.value,
  ).toBe(12_345);
});

test.each(['here', 'there'])(
  'what waits to be carried is no difference, and no mend %s takes it away, whatever it was told to remove',
  async (repair) => {
    await near.call('PATCH', `/links/${link.id}`, { paused: true });
    const count = async (site: TestSite): Promise<number> =>
      (await tallies(site, 'A')).reduce((sum, { count: own }) => sum + own, 0);
    const [before, there] = [await count(near), await count(far)];
    const minutes = Array.from({ length: 300 }, (_, i) => (repair === 'here' ? 1 : 2) + 10 * i);
    await deliver(
      near,
      ids[0]!,
      minutes.map((minute) => [minute, minute]),
    );
    // One that both have, changed here since.
    await deliver(near, ids[0]!, [[1_000, repair === 'here' ? -1 : -2]]);
    const mended = await reconciled(repair, true);
    expect(mended).toMatchObject({ equal: true, hours: 0, repaired: 0, kept: 0 });
    expect(mended.waiting).toBeGreaterThanOrEqual(301);
    expect([await count(near), await count(far)]).toEqual([before + 300, there]);
    await near.call('PATCH', `/links/${link.id}`, { paused: false });
    await level();
    await same();
    expect(await count(far)).toBe(before + 300);
    expect(await reconciled('nothing')).toMatchObject({ equal: true, waiting: 0 });
  },
  120_000,
);

test('every day at a time of the clock both ends are compared by themselves, once', async () => {
  const { body: changed } = await near.call<SendingLink>('PATCH', `/links/${link.id}`, {
    reconciles: { at: '00:00', days: 700, repair: 'there' },
  });
  expect(changed.reconciles).toEqual({ at: '00:00', days: 700, repair: 'there' });
  const byItself = async (): Promise<string[]> =>
    (await near.call<LinkLogAnswer>('GET', `/links/${link.id}/log`)).body.events
      .filter(({ what }) => what === 'compares')
      .map(({ sentence }) => sentence);
  // What was asked for today is begun tomorrow; here yesterday was the day before.
  for (;;) {
    const [known] = await near.query<{ compared_until: Date | null }>(
      'SELECT compared_until FROM link_state WHERE link_id = $1',
      [link.id],
    );
    if (known!.compared_until) break;
    await new Promise((done) => setTimeout(done, 50));
  }
  expect(await byItself()).toEqual([]);
  await near.query("UPDATE link_state SET compared_until = now() - interval '2 days' WHERE link_id = $1", [link.id]);
  while ((await byItself()).length === 0) await new Promise((done) => setTimeout(done, 50));
  await near.jobsDone('reconcile');
  expect(await byItself()).toEqual(['Both ends are compared over 700 days, as every day at 00:00.']);
  const { body } = await near.call<{ entries: { act: string; who: string; sentence: string }[] }>('GET', '/logbook');
  expect(body.entries.find(({ act }) => act === 'reconciled')).toMatchObject({
    who: 'Wide Ledger',
    sentence: expect.stringContaining('Equal'),
  });
});
