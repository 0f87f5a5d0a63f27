/** Configuration in versions: drafts, their review, conflicts, and what is in force when. */
import type {
  Comparison,
  CoverageAnswer,
  GapsAnswer,
  DefinitionList,
  DefinitionOutput,
  DraftChange,
  DraftEdited,
  ForceResult,
  Review,
  VersionList,
} from '@wide-ledger/contract';
import { TestSite } from './testSite.ts';

const site = await TestSite.open();
afterAll(() => site.close());

/** A second person: an account of its own, signed in. */
const other = await site.person('Second');

type Caller = Pick<TestSite, 'call'>;
const edit = async (changes: DraftChange[], caller: Caller = site): Promise<DraftEdited> => {
  const { status, body } = await caller.call<DraftEdited & { detail?: string }>('POST', '/drafts', { changes });
  if (status !== 201) throw new Error(body.detail);
  return body;
};
const review = async (id: number, caller: Caller = site): Promise<Review> =>
  (await caller.call<Review>('GET', `/drafts/${id}`)).body;
const force = (id: number, reason = '', caller: Caller = site) =>
  caller.call<ForceResult & Pick<Review, 'conflicts' | 'findings'> & { detail: string }>(
    'POST',
    `/drafts/${id}/force`,
    {
      reason,
    },
  );
const definition = async (kind: string, id: number): Promise<DefinitionOutput> =>
  (await site.call<{ definitions: DefinitionOutput[] }>('GET', `/definitions?kind=${kind}&ids=${id}`)).body
    .definitions[0]!;
const versions = async (): Promise<VersionList['versions']> =>
  (await site.call<VersionList>('GET', '/versions')).body.versions;

await site.call('PUT', '/sources', {
  name: 'Device',
  kind: 'modbus-tcp',
  connection: { host: '127.0.0.1', port: 502, unit: 1, timeoutMilliseconds: 1000 },
});
const address = (number: number): object => ({ area: 'holding', address: number, type: 'uint16', order: 'ABCD' });
const tags = await Promise.all(
  Array.from({ length: 26 }, (_, i) =>
    site.tag({
      name: `D${i}`,
      place: 'Site A / Hall',
      collection: { source: 'Device', address: address(i), intervalMilliseconds: 1000 },
    }),
  ),
);

test('a draft changes nothing until it is put in force, and survives', async () => {
  const { draft } = await edit([{ kind: 'tag', id: tags[0]!, set: { description: 'Changed', unit: 'bar' } }]);
  expect(draft!.changes).toBe(1);
  expect((await site.call<{ unit: string }>('GET', '/tags/D0')).body.unit).toBe('');
  expect(await definition('tag', tags[0]!)).toMatchObject({ body: { unit: '' }, draft: { unit: 'bar' } });
  // Everybody sees it; nobody else changes it.
  const seen = await other.call<{ drafts: { owner: string; changes: number }[] }>('GET', '/drafts');
  expect(seen.body.drafts).toMatchObject([{ owner: 'admin', changes: 1 }]);
  expect((await other.call('PUT', `/drafts/${draft!.id}`, { changes: [] })).status).toBe(403);
  expect((await force(draft!.id, 'Described', other)).status).toBe(403);
  const { status, body } = await force(draft!.id, 'Described');
  expect([status, body.results]).toEqual([200, [{ kind: 'tag', id: tags[0], name: 'D0', outcome: 'changed' }]]);
  expect((await site.call<{ unit: string }>('GET', '/tags/D0')).body.unit).toBe('bar');
  expect((await versions())[0]).toMatchObject({ number: body.version, by: 'admin', reason: 'Described', changes: 1 });
  expect((await site.call<{ drafts: unknown[] }>('GET', '/drafts')).body.drafts).toEqual([]);
});

test('the review says field by field what changes and what it will do', async () => {
  const { draft } = await edit(
    tags.map((id) => ({ kind: 'tag', id, set: { settings: { intervalMilliseconds: 5000 } } })),
  );
  const { effects, items, total } = await review(draft!.id);
  expect(effects).toEqual(['26 tags: Interval: every 1 s → every 5 s.', 'About 21 values/s fewer are read.']);
  expect(total).toBe(26);
  expect(items[0]).toMatchObject({
    name: 'D0',
    what: 'changed',
    fields: [{ path: ['settings', 'intervalMilliseconds'], title: 'Interval', from: 'every 1 s', to: 'every 5 s' }],
  });
  expect((await force(draft!.id)).status).toBe(200);
});

test('an edit is undone, and a draft with nothing left in it is none', async () => {
  const first = await edit([{ kind: 'tag', id: tags[1]!, set: { unit: 'm' } }]);
  await edit([{ kind: 'tag', id: tags[1]!, set: { unit: 'cm' } }]);
  const undo = (): Promise<{ body: { draft: unknown } }> => site.call('POST', `/drafts/${first.draft!.id}/undo`);
  await undo();
  expect((await definition('tag', tags[1]!)).draft).toMatchObject({ unit: 'm' });
  expect((await undo()).body.draft).toBeNull();
  // Setting a field to what is in force takes the change out.
  await edit([{ kind: 'tag', id: tags[1]!, set: { unit: 'm' } }]);
  expect((await edit([{ kind: 'tag', id: tags[1]!, set: { unit: '' } }])).draft).toBeNull();
});

test('an edit that was taken back is made again, from the first to the last, until another is made', async () => {
  const unit = async (): Promise<unknown> =>
    ((await definition('tag', tags[1]!)).draft as { unit?: string } | null)?.unit;
  const redo = (): Promise<{ status: number; body: { draft: { id: number; undone: number } | null } }> =>
    site.call('POST', '/drafts/redo');
  const begun = await edit([{ kind: 'tag', id: tags[1]!, set: { unit: 'm' } }]);
  await edit([{ kind: 'tag', id: tags[1]!, set: { unit: 'cm' } }]);
  const undo = (): Promise<unknown> => site.call('POST', `/drafts/${begun.draft!.id}/undo`);
  await undo();
  await undo();
  expect((await site.call<{ drafts: unknown[] }>('GET', '/drafts')).body.drafts).toEqual([]);
  expect((await redo()).body.draft!.undone).toBe(1);
  expect(await unit()).toBe('m');
  expect((await redo()).body.draft!.undone).toBe(0);
  expect(await unit()).toBe('cm');
  expect((await redo()).status).toBe(400);
  await undo();
  await edit([{ kind: 'tag', id: tags[1]!, set: { unit: 'mm' } }]);
  expect((await redo()).status).toBe(400);
  expect(await unit()).toBe('mm');
  await edit([{ kind: 'tag', id: tags[1]!, set: { unit: '' } }]);
});

test('two people’s drafts: what only one changed is merged, what both changed is shown and settled', async () => {
  const mine = await edit([{ kind: 'tag', id: tags[2]!, set: { unit: 'bar', low: 0, high: 10 } }]);
  const theirs = await edit([{ kind: 'tag', id: tags[2]!, set: { unit: 'mbar', description: 'Theirs' } }], other);
  expect((await force(theirs.draft!.id, 'First', other)).status).toBe(200);
  const refused = await force(mine.draft!.id, 'Second');
  expect(refused.status).toBe(409);
  expect(refused.body.conflicts).toMatchObject([
    { name: 'D2', title: 'Unit', base: 'none', mine: 'bar', theirs: 'mbar', by: 'Second' },
  ]);
  // Nothing of it is in force, and nothing of it is lost.
  expect((await definition('tag', tags[2]!)).body).toMatchObject({ unit: 'mbar', low: null });
  await site.call('POST', `/drafts/${mine.draft!.id}/settle`, {
    fields: [{ kind: 'tag', id: tags[2], path: ['unit'], take: 'mine' }],
  });
  expect((await review(mine.draft!.id)).conflicts).toEqual([]);
  expect((await force(mine.draft!.id, 'Second')).status).toBe(200);
  expect((await definition('tag', tags[2]!)).body).toMatchObject({
    unit: 'bar',
    low: 0,
    high: 10,
    description: 'Theirs',
  });
});

test('checks block what cannot be, as a whole, and warn of what should be looked at', async () => {
  const { draft, created } = await edit([
    { kind: 'tag', create: { name: 'D3', store: 1, stepped: false } },
    { kind: 'tag', create: { name: 'No good', store: 1, stepped: false } },
    { kind: 'tag', id: tags[4]!, set: { low: 5, high: 1 } },
    { kind: 'tag', id: tags[5]!, set: { settings: { deadband: { kind: 'percent', percent: 1 } } } },
    { kind: 'tag', id: tags[6]!, set: { source: 4711 } },
    { kind: 'place', create: { name: 'Site A', parent: null } },
  ]);
  const { findings } = await review(draft!.id);
  // Each kind has numbers of its own.
  const found = (id: number, kind = 'tag'): string[] =>
    findings
      .filter((one) => one.id === id && one.kind === kind)
      .map(({ severity, sentence }) => `${severity}: ${sentence}`);
  expect(found(created[0]!)).toEqual(['blocks: There is another tag named D3.']);
  expect(found(created[1]!)[0]).toMatch(/^blocks: Name may hold letters/);
  expect(found(tags[4]!)[0]).toContain('The range is upside down');
  expect(found(tags[5]!)).toEqual(['warns: D5 has a deadband in percent and no range: every value is kept.']);
  expect(found(tags[6]!)).toEqual(['blocks: The source of D6 is not there, or retired.']);
  expect(found(created[2]!, 'place')).toEqual(['blocks: There is another place named Site A.']);
  const refused = await force(draft!.id);
  expect([refused.status, refused.body.findings.length]).toEqual([409, 5]);
  await site.call('DELETE', `/drafts/${draft!.id}`);
});

test('a pace is one change for all its tags; what a tag departs in stays', async () => {
  const made = await edit([
    {
      kind: 'pace',
      create: {
        name: 'Slow',
        intervalMilliseconds: 10_000,
        aligned: true,
        deadband: { kind: 'none' },
        longestSilenceSeconds: 60,
      },
    },
  ]);
  const [pace] = made.created;
  const { draft } = await edit([
    ...tags.slice(0, 10).map((id): DraftChange => ({ kind: 'tag', id, set: { pace, settings: {} } })),
    { kind: 'tag', id: tags[0]!, set: { settings: { intervalMilliseconds: 500 } } },
  ]);
  expect((await force(draft!.id)).status).toBe(200);
  const reading = async (name: string) =>
    (
      await site.call<{ collection: { intervalMilliseconds: number; pace: string; departures: string[] } }>(
        'GET',
        `/tags/${name}`,
      )
    ).body.collection;
  expect(await reading('D1')).toMatchObject({ intervalMilliseconds: 10_000, pace: 'Slow', departures: [] });
  expect(await reading('D0')).toMatchObject({
    intervalMilliseconds: 500,
    pace: 'Slow',
    departures: ['intervalMilliseconds'],
  });
  const faster = await edit([{ kind: 'pace', id: pace!, set: { intervalMilliseconds: 5000 } }]);
  expect((await review(faster.draft!.id)).effects).toEqual([
    '1 pace: Interval: every 10 s → every 5 s.',
    'About 0.9 values/s more are read.',
  ]);
  await force(faster.draft!.id);
  expect([(await reading('D1')).intervalMilliseconds, (await reading('D0')).intervalMilliseconds]).toEqual([5000, 500]);
  // It cannot go while tags have it.
  const going = await edit([{ kind: 'pace', id: pace!, retire: true }]);
  expect((await force(going.draft!.id)).body.findings[0]!.sentence).toContain(
    '10 in force still refer to the pace Slow',
  );
  await site.call('DELETE', `/drafts/${going.draft!.id}`);
});

test('a branch of places moves with everything in it, and cannot lie within itself', async () => {
  const { body } = await site.call<{ definitions: DefinitionOutput[] }>('GET', '/definitions?kind=place');
  const idOf = (name: string): number => body.definitions.find((one) => one.body!.name === name)!.id;
  const circle = await edit([{ kind: 'place', id: idOf('Site A'), set: { parent: idOf('Hall') } }]);
  expect((await force(circle.draft!.id)).body.findings[0]!.sentence).toBe('Site A would lie within itself.');
  await site.call('DELETE', `/drafts/${circle.draft!.id}`);
  const made = await edit([{ kind: 'place', create: { name: 'Region', parent: null } }]);
  const moved = await edit([{ kind: 'place', id: idOf('Site A'), set: { parent: made.created[0], name: 'Works' } }]);
  expect((await force(moved.draft!.id)).status).toBe(200);
  expect((await site.call<{ place: string }>('GET', '/tags/D7')).body.place).toBe('Region / Works / Hall');
  const found = async (place: string): Promise<number> =>
    (await site.call<{ total: number }>('GET', `/tags?place=${encodeURIComponent(place)}`)).body.total;
  const all = await found('');
  // A place holds what lies in it, and nothing that is only called alike.
  expect([await found('Region'), await found('Region / Works / Hall')]).toEqual([all, all]);
  expect([await found('Reg'), await found('Site A / Hall')]).toEqual([0, 0]);
});

test('names change places in one version', async () => {
  const { draft } = await edit([
    { kind: 'tag', id: tags[10]!, set: { name: 'D11' } },
    { kind: 'tag', id: tags[11]!, set: { name: 'D10' } },
  ]);
  expect((await force(draft!.id)).status).toBe(200);
  expect((await site.call<{ id: number }>('GET', '/tags/D11')).body.id).toBe(tags[10]);
});

test('a new source is reviewed field by field, and its secrets are not shown', async () => {
  const { body: kept } = await site.call<{ id: number }>('POST', '/secrets', { value: 'only-for-tests' });
  const connection = { endpoint: 'opc.tcp://10.0.0.1:4840', password: kept.id };
  const { draft } = await edit([{ kind: 'source', create: { name: 'New', kind: 'opc-ua', connection } }]);
  const review = await site.call<Review>('GET', `/drafts/${draft!.id}`);
  const fields = new Map(review.body.items[0]!.fields.map(({ title, to }) => [title, to]));
  expect(fields.get('Endpoint')).toBe('opc.tcp://10.0.0.1:4840');
  expect(fields.get('Password')).toBe(`secret ${kept.id}`);
  expect(fields.get('Kind')).toBe('opc-ua');
  expect(JSON.stringify(review.body)).not.toContain('only-for-tests');
  const sealed = await site.query<{ sealed: string }>('SELECT sealed FROM secret');
  expect(sealed.every((row) => !row.sealed.includes('only-for-tests'))).toBe(true);
  await site.call('DELETE', `/drafts/${draft!.id}`);
});

test('collectors hear only of what matters to them', async () => {
  const told = async () =>
    (
      await site.call<{ version: number; stamp: string; sources: { tags: { name: string }[] }[] }>(
        'GET',
        '/collector/configuration',
      )
    ).body;
  const { version, stamp } = await told();
  const toldSince = async (since: number, mark: string) =>
    (await site.call<object>('GET', `/collector/configuration?since=${since}&stamp=${encodeURIComponent(mark)}`)).body;
  const described = await edit([{ kind: 'tag', id: tags[12]!, set: { description: 'Only words' } }]);
  await force(described.draft!.id);
  expect((await told()).version).toBe(version);
  const paused = await edit([{ kind: 'tag', id: tags[12]!, set: { paused: true } }]);
  const { body } = await force(paused.draft!.id);
  const after = await told();
  expect(after.version).toBe(body.version);
  expect(after.sources[0]!.tags.map(({ name }) => name)).not.toContain('D12');
  // One that says what it has is told what changed; one that has what this server never had is told everything.
  const { stamp: newest } = after;
  expect(await toldSince(version, stamp)).toMatchObject({ since: version, stamp: newest, tags: [], gone: [tags[12]] });
  expect(await toldSince(version, `${stamp}1`)).toEqual(after);
  expect(await toldSince(after.version + 1, '')).toEqual(after);
});

test('duty is when it was in force, had a source and was not paused', async () => {
  const dutyOf = async (tag: string) => {
    const answer = await site.call<CoverageAnswer>('GET', `/coverage?tag=${tag}&from=now-1h&to=now%2B1h`);
    return answer.body.rows.flatMap(({ duty }) => duty);
  };
  const [before] = await dutyOf('D12');
  // What somebody paused is no gap of duty, and is told with the gaps, with who and why.
  const gapsOf = async (tag: string) =>
    (await site.call<GapsAnswer>('GET', `/gaps?tag=${tag}&from=now-1h&to=now%2B1h`)).body.gaps;
  const pause = (await gapsOf('D12')).find(({ cause }) => cause === 'paused');
  expect(pause).toMatchObject({
    tag: 'D12',
    tags: 1,
    sentence: expect.stringMatching(/^Paused by admin\./) as unknown,
  });
  expect(Date.parse(pause!.from)).toBeCloseTo(Date.parse(before!.to), -1);
  expect((await gapsOf('D11')).some(({ cause }) => cause === 'paused')).toBe(false);
  const { draft } = await edit([{ kind: 'tag', id: tags[12]!, set: { paused: false } }]);
  await force(draft!.id);
  const duty = await dutyOf('D12');
  expect(duty).toHaveLength(2);
  expect(duty[0]).toEqual(before);
  expect(Date.parse(duty[1]!.from)).toBeGreaterThan(Date.parse(duty[0]!.to));
  const retired = await edit([{ kind: 'tag', id: tags[12]!, retire: true }]);
  await force(retired.draft!.id, 'Taken away');
  expect(await dutyOf('D12')).toHaveLength(2);
  // Its history stays readable, and its name its own.
  expect((await site.call('GET', '/history/raw?tag=D12&from=now-1h&to=now')).status).toBe(200);
  expect((await site.call<{ retired: boolean }>('GET', '/tags/D12')).body.retired).toBe(true);
  const again = await site.call<{ detail: string }>('POST', '/tags', { name: 'D12' });
  expect([again.status, again.body.detail]).toEqual([400, expect.stringContaining('was retired')]);
});

test('any two versions are compared, and an earlier one is taken back as a draft', async () => {
  const [latest] = await versions();
  const compared = await site.call<Comparison>('GET', `/versions/compare?to=${latest!.number}`);
  expect(compared.body.items).toMatchObject([{ name: 'D12', what: 'retired' }]);
  const from = latest!.number - 1;
  const back = await site.call<DraftEdited>('POST', '/drafts', { version: from });
  expect((await review(back.body.draft!.id)).items).toMatchObject([{ name: 'D12', what: 'new' }]);
  expect((await force(back.body.draft!.id, 'Back again')).status).toBe(200);
  expect((await site.call<{ retired: boolean }>('GET', '/tags/D12')).body.retired).toBe(false);
  const [newest] = await versions();
  const same = await site.call<Comparison>('GET', `/versions/compare?from=${from}&to=${newest!.number}`);
  expect(same.body).toMatchObject({ total: 0, items: [] });
});

test('two hundred versions by two people at once: none is lost, each is whole', async () => {
  const before = (await versions())[0]!.number;
  const person = async (caller: Caller, tag: number): Promise<void> => {
    for (let n = 1; n <= 100; n++) {
      const { draft } = await edit(
        [
          { kind: 'tag', id: tag, set: { description: `n ${n}` } },
          { kind: 'tag', id: tags[20]!, set: { [caller === site ? 'high' : 'low']: caller === site ? 1000 + n : -n } },
        ],
        caller,
      );
      const { status, body } = await force(draft!.id, `${n}`, caller);
      expect([status, body.detail]).toEqual([200, undefined]);
    }
  };
  await Promise.all([person(site, tags[21]!), person(other, tags[22]!)]);
  expect((await versions())[0]!.number).toBe(before + 200);
  expect((await definition('tag', tags[20]!)).body).toMatchObject({ low: -100, high: 1100 });
  // Each version changed the two tags of its person, one step further than the one before.
  const rows = await site.query<{ put_by: string; reason: string; bodies: { description: string }[] }>(
    `SELECT v.put_by, v.reason, array_agg(d.body ORDER BY d.id) AS bodies FROM configuration_version v
     JOIN definition d ON d.version_from = v.number AND d.id IN ($2, $3) WHERE v.number > $1 GROUP BY v.number ORDER BY v.number`,
    [before, tags[21], tags[22]],
  );
  for (const who of ['admin', 'Second']) {
    const own = rows.filter(({ put_by }) => put_by === who);
    expect(own.map(({ bodies }) => bodies[0]!.description)).toEqual(
      Array.from({ length: 100 }, (_, n) => `n ${n + 1}`),
    );
  }
  const overlapping = await site.query(
    `SELECT FROM definition a JOIN definition b USING (kind, id) WHERE a.version_from < b.version_from
       AND (a.version_to IS NULL OR a.version_to > b.version_from)`,
  );
  expect(overlapping).toEqual([]);
});

test('definitions come in pages, each once, however many there are; what the draft touches comes with the first', async () => {
  const many = Array.from({ length: 2100 }, (_, i) => ({ name: `PAGE-${i}`, type: 'real' }));
  await site.call('POST', '/tags', many);
  const page = async (query: string): Promise<DefinitionList> =>
    (await site.call<DefinitionList>('GET', `/definitions?kind=tag${query}`)).body;
  const last = (await page('&draft=none')).next!;
  const rest = await page(`&draft=none&after=${last}`);
  const first = await page('&draft=none');
  const ids = [...first.definitions, ...rest.definitions].map(({ id }) => id);
  expect([first.definitions.length, rest.next]).toEqual([2000, undefined]);
  expect(new Set(ids).size).toBe(ids.length);
  expect(ids.length).toBeGreaterThanOrEqual(2100);
  const { id } = rest.definitions.at(-1)!;
  const { draft } = await edit([{ kind: 'tag', id, set: { unit: 'bar' } }]);
  const drafted = (all: DefinitionList) => all.definitions.filter((one) => one.draft !== undefined);
  // With what is in force of it, though that is pages behind.
  expect(drafted(await page(''))).toMatchObject([{ id, body: { name: expect.stringMatching(/^PAGE-/) as unknown } }]);
  expect(drafted(await page('&draft=none'))).toEqual([]);
  expect((await page('&draft=only')).definitions).toMatchObject([{ id, draft: { unit: 'bar' } }]);
  await site.call('DELETE', `/drafts/${draft!.id}`);
});
