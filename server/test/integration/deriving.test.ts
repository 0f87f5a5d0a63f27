/** Tags that are computed out of others: as values come, late, corrected, removed, over a restart, and for the past. */
import type { DraftEdited, ModifiedAnswer, RawAnswer, Tag } from '@wide-ledger/contract';
import { Formula, REMOVED, derive, formatInstant, parseInstant } from '@wide-ledger/core';
import fc from 'fast-check';
import { TestSite, frameOf } from './testSite.ts';

const site = await TestSite.open();
afterAll(() => site.close());

const BEGIN = '2026-03-01T00:00:00Z';
const SECOND = 1_000_000;
const micros = (second: number): number => parseInstant(BEGIN)! + second * SECOND;
const at = (second: number): string => formatInstant(micros(second));
const WINDOW = `from=${BEGIN}&to=2026-03-02T00:00:00Z&limit=10000`;

type Row = [second: number, value: number | string | null];

const write = async (tag: string, ...rows: Row[]): Promise<void> => {
  const samples = rows.map(([second, value]) => ({ tag, time: at(second), value }));
  const { body } = await site.call<{ accepted: number }>('POST', '/samples', { samples });
  expect(body.accepted).toBe(rows.length);
};
const raw = async (tag: string): Promise<Row[]> =>
  (await site.call<RawAnswer>('GET', `/history/raw?tag=${encodeURIComponent(tag)}&${WINDOW}`)).body.samples.map(
    ({ time, value }) => [(parseInstant(time)! - micros(0)) / SECOND, value as Row[1]],
  );

/** Waits for what becomes of it; the test's own limit ends it. */
async function becomes<T>(look: () => Promise<T>, wanted: T): Promise<void> {
  while (JSON.stringify(await look()) !== JSON.stringify(wanted)) await new Promise((done) => setTimeout(done, 50));
}

const derived = (name: string, formula: string, inputs: Record<string, string>, more: object = {}): object => ({
  name,
  formula,
  inputs,
  inForceSince: BEGIN,
  ...more,
});

test('a sum and what changes of it follow their inputs, in the order of dependence, with the origin derived', async () => {
  await site.tag({ name: 'A' });
  await site.tag({ name: 'B' });
  await site.tag(derived('Sum', 'a + b', { a: 'A', b: 'B' }));
  await site.tag(derived('Change', 'sum - previous(sum)', { sum: 'Sum' }));
  await write('A', [1, 1], [2, 2], [3, 3]);
  await write('B', [1, 10], [3, 30]);
  await becomes(
    () => raw('Sum'),
    [
      [1, 11],
      [2, 12],
      [3, 33],
    ],
  );
  await becomes(
    () => raw('Change'),
    [
      [1, null],
      [2, 1],
      [3, 21],
    ],
  );
  const { body } = await site.call<RawAnswer>('GET', `/history/raw?tag=Sum&${WINDOW}`);
  expect(body.samples[0]).toMatchObject({ origin: 'derived' });
  const tag = (await site.call<Tag>('GET', '/tags/Sum')).body;
  expect(tag).toMatchObject({ formula: 'a + b', inputs: { a: 'A', b: 'B' } });
});

test('what comes late, is corrected or removed has it computed again; the earlier figure is in the modified history', async () => {
  await write('B', [2, 20]);
  await becomes(
    () => raw('Sum'),
    [
      [1, 11],
      [2, 22],
      [3, 33],
    ],
  );
  await becomes(
    () => raw('Change'),
    [
      [1, null],
      [2, 11],
      [3, 11],
    ],
  );
  await site.call('POST', '/history/corrections', {
    tag: 'A',
    reason: 'Read wrong',
    samples: [{ time: at(1), value: 5 }],
  });
  await becomes(
    () => raw('Sum'),
    [
      [1, 15],
      [2, 22],
      [3, 33],
    ],
  );
  await site.call('POST', '/history/removals', { tag: 'A', reason: 'Never was', from: at(3), to: at(4) });
  await becomes(
    () => raw('Sum'),
    [
      [1, 15],
      [2, 22],
      [3, 32],
    ],
  );
  await site.site.posting.postAll();
  const { body } = await site.call<ModifiedAnswer>('GET', `/history/modified?tag=Sum&from=${BEGIN}&to=${at(3600)}`);
  expect(body.samples.map(({ time, value }) => [time, value])).toEqual([
    [at(1), 11],
    [at(2), 12],
    [at(3), 33],
  ]);
  expect(body.samples[0]).toMatchObject({
    modifiedBy: 'formulas',
    reason: 'Computed again, since what it is computed from has changed.',
  });
});

test('an input that does not tell is waited for a moment, and its last value counts', async () => {
  await write('A', [10, 100]);
  await becomes(async () => (await raw('Sum')).at(-1), [10, 130]);
  // It told of the same moment after all.
  await write('B', [10, 1]);
  await becomes(async () => (await raw('Sum')).at(-1), [10, 101]);
});

test('after a restart it goes on, and what came meanwhile is not missed', async () => {
  const tag = (await site.call<Tag>('GET', '/tags/A')).body.id;
  await site.restart();
  await site.entry({ writer: 'W', sequence: 1, origin: 'buffered' }, frameOf(tag, [[micros(11), 7]]));
  await write('B', [11, 3]);
  await becomes(async () => (await raw('Sum')).at(-1), [11, 10]);
});

test('of two servers one computes; when it ends the other goes on, and nothing is written twice', async () => {
  const tag = (await site.call<Tag>('GET', '/tags/A')).body.id;
  const second = await site.beside();
  const first = site.site;
  const nothingTwice = async (): Promise<void> => {
    const { rows } = await second.database.pool.query<{ doubled: number }>(
      `SELECT count(*)::int AS doubled FROM (SELECT d.micros FROM journal_entry e, history.decode_frame(e.frame) d
       WHERE e.writer = 'formulas' AND e.first_time >= $1 GROUP BY d.tag, d.micros HAVING count(*) > 1) AS twice`,
      [micros(12)],
    );
    expect(rows).toEqual([{ doubled: 0 }]);
  };
  await site.entry({ writer: 'W', sequence: 2, origin: 'live' }, frameOf(tag, [[micros(12), 1]]));
  await write('B', [12, 1]);
  await becomes(async () => (await raw('Sum')).at(-1), [12, 2]);
  site.site = second;
  await first.close();
  await site.entry({ writer: 'W', sequence: 3, origin: 'live' }, frameOf(tag, [[micros(13), 2]]));
  await write('B', [13, 2]);
  await becomes(async () => (await raw('Sum')).at(-1), [13, 4]);
  await nothingTwice();
});

test('the past is computed by a job; what comes late there later is computed again, too', async () => {
  await site.tag({ name: 'Level' });
  await write('Level', [0, 2], [7200, 4], [14_400, 6]);
  await site.tag({ name: 'Twice', formula: '2 * level', inputs: { level: 'Level' } });
  await write('Level', [3600, 3]);
  const order = await site.call<{ job: number }>('POST', '/computations', {
    tag: 'Twice',
    from: BEGIN,
    to: at(20_000),
  });
  expect(order.status).toBe(200);
  await site.jobsDone('computation');
  expect(await raw('Twice')).toEqual([
    [0, 4],
    [3600, 6],
    [7200, 8],
    [14_400, 12],
  ]);
  await write('Level', [100, 50]);
  await becomes(async () => (await raw('Twice'))[1], [100, 100]);
  const again = await site.call<{ detail: string }>('POST', '/computations', { tag: 'Level', from: BEGIN, to: at(1) });
  expect([again.status, again.body.detail]).toEqual([
    400,
    'Level is not computed of other tags: there is nothing to compute.',
  ]);
  // Where the inputs were dropped, nothing is computed of what is left.
  await site.query('UPDATE store SET keeps_since = $1', [micros(3000)]);
  await site.restart();
  const early = await site.call<{ detail: string }>('POST', '/computations', {
    tag: 'Twice',
    from: BEGIN,
    to: at(2000),
  });
  expect([early.status, early.body.detail]).toEqual([
    400,
    `What Twice is computed from is kept since ${at(3000)} only.`,
  ]);
  await site.query('UPDATE store SET keeps_since = NULL');
  await site.restart();
});

test('what is much older than a computed tag is held at its beginning all the same, whenever it comes', async () => {
  await site.tag({ name: 'Rest' });
  await site.tag({ name: 'Beat' });
  await site.tag({ name: 'Both', formula: 'rest + beat', inputs: { rest: 'Rest', beat: 'Beat' } });
  const now = (): string => new Date().toISOString();
  const tell = (value: number): Promise<unknown> =>
    site.call('POST', '/samples', { samples: [{ tag: 'Beat', time: now(), value }] });
  const latest = async (): Promise<unknown> => (await site.call<Tag>('GET', '/tags/Both')).body.latest?.value ?? null;
  await tell(1);
  await becomes(
    async () => (await site.call<Tag>('GET', '/tags/Both')).body.latest?.quality ?? '',
    'Bad_WaitingForInitialData',
  );
  await write('Rest', [0, 5]);
  await becomes(latest, 6);
  await tell(2);
  await becomes(latest, 7);
});

test('texts and states: a text by a number, and a number by a text; what a tag cannot hold is Bad', async () => {
  await site.tag({ name: 'Mode', type: 'text' });
  await site.tag(derived('Words', 'on == "auto" ? "by itself" : "by hand"', { on: 'Mode' }, { type: 'text' }));
  await site.tag(derived('IsAuto', 'on == "auto"', { on: 'Mode' }, { type: 'boolean' }));
  await site.tag(derived('Half', 'a / 2', { a: 'A' }, { type: 'integer' }));
  await write('Mode', [20, 'auto'], [21, 'manual']);
  await becomes(
    () => raw('Words'),
    [
      [20, 'by itself'],
      [21, 'by hand'],
    ],
  );
  await becomes(() => raw('IsAuto'), [
    [20, true],
    [21, false],
  ] as never);
  await write('A', [20, 8], [21, 9]);
  await becomes(
    async () => (await raw('Half')).slice(-2),
    [
      [20, 4],
      [21, null],
    ],
  );
});

test('what cannot be computed is refused: a circle, an unknown input, texts among numbers; inputs in use stay', async () => {
  const refused = async (tag: object): Promise<string> => JSON.stringify((await site.call('POST', '/tags', tag)).body);
  expect(await refused(derived('X', 'a + nothing', { a: 'A' }))).toContain('names nothing: say which tag that is');
  expect(await refused(derived('X', 'a +', { a: 'A' }))).toContain('cannot be read');
  expect(await refused(derived('X', 'm + 1', { m: 'Mode' }))).toContain('was given a text');
  expect(await refused(derived('X', 'a', { a: 'Nobody' }))).toContain('There is no tag \\"Nobody\\"');
  expect(await refused(derived('X', '1 + 1', {}))).toContain('looks at no other tag');
  const [sum, change] = await Promise.all(
    ['Sum', 'Change'].map(async (name) => (await site.call<Tag>('GET', `/tags/${name}`)).body.id),
  );
  const changes = [{ kind: 'tag', id: sum, set: { inputs: { a: change, b: change } } }];
  const { body } = await site.call<DraftEdited>('POST', '/drafts', { changes });
  const review = await site.call('GET', `/drafts/${body.draft!.id}`);
  expect(JSON.stringify(review.body)).toContain('would be computed from itself: Sum → Change → Sum.');
  await site.call('DELETE', `/drafts/${body.draft!.id}`);
  const input = (await site.call<Tag>('GET', '/tags/B')).body.id;
  const retiring = [{ kind: 'tag', id: input, retire: true }];
  const { draft } = (await site.call<DraftEdited>('POST', '/drafts', { changes: retiring })).body;
  const refusal = await site.call('GET', `/drafts/${draft!.id}`);
  expect(JSON.stringify(refusal.body)).toContain('1 in force still refer to the tag B');
  await site.call('DELETE', `/drafts/${draft!.id}`);
});

test('in whatever order and cuts the samples come, in the end the values are those of the whole', async () => {
  const ids = [await site.tag({ name: 'P' }), await site.tag({ name: 'Q' })];
  const text = 'p - previous(p) + (usable(q) ? q : 0)';
  await site.tag(derived('Law', text, { p: 'P', q: 'Q' }));
  const sample = fc.tuple(fc.constantFrom(0, 1), fc.integer({ min: 0, max: 7200 }), fc.integer({ min: -9, max: 9 }));
  const status = fc.constantFrom(0, 0, 0, 0x80000000, REMOVED);
  let sequence = 0;
  let run = 0;
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.array(fc.tuple(sample, status), { minLength: 1, maxLength: 8 }), { maxLength: 6 }),
      async (batches) => {
        // Each run has a day of its own.
        const day = 86_400 * ++run;
        for (const batch of batches) {
          for (const which of [0, 1]) {
            const rows = batch
              .filter(([[of]]) => of === which)
              .map(([[, second, value], code]): [number, number, number] => [
                micros(day + second),
                code === 0 ? value : NaN,
                code,
              ]);
            if (rows.length === 0) continue;
            const frame = frameOf(ids[which]!, rows);
            const description = { writer: 'Law', sequence: ++sequence, origin: 'backfilled' };
            expect((await site.entry(description, frame)).status).toBe(200);
          }
        }
      },
    ),
    { numRuns: 6 },
  );
  // All of it together: what stands is what the formula gives of what stands of the inputs.
  const standing = async (tag: string) =>
    (await site.call<RawAnswer>('GET', `/history/raw?tag=${tag}&from=${BEGIN}&to=2026-04-01T00:00:00Z&limit=10000`))
      .body.samples;
  const expected = async (): Promise<unknown> => {
    const inputs = await Promise.all(
      ['P', 'Q'].map(async (tag) => {
        const rows = await standing(tag);
        const codes = rows.map(({ quality }) => (quality === 'Good' ? 0 : 0x80000000));
        return {
          ...frameOf(
            0,
            rows.map(({ time, value }, i) => [parseInstant(time)!, (value as number | null) ?? NaN, codes[i]!]),
          ),
          tags: null,
        };
      }),
    );
    const frame = derive(Formula.read(text), inputs, { from: -Infinity, to: Infinity });
    return [...frame.times].map((time, i) => [time, Number.isNaN(frame.values[i]) ? null : frame.values[i]]);
  };
  const wanted = await expected();
  await becomes(
    async () => (await standing('Law')).map(({ time, value }) => [parseInstant(time)!, value]),
    wanted as never,
  );
}, 120_000);
