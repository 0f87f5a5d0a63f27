/** What became of what was missed: told by collectors, answered with gaps, strips, values and SQL alike. */
import type {
  CoverageAnswer,
  ExplanationRow,
  ExplanationsAnswer,
  Gap,
  GapsAnswer,
  RecoverySpan,
} from '@wide-ledger/contract';
import { REMOVED, SECOND, Status, emptyFrame, formatInstant, type Frame } from '@wide-ledger/core';
import { TestSite, type Answer } from './testSite.ts';

const START = Date.UTC(2026, 9, 5, 8) * 1000;
const at = (second: number): number => START + second * SECOND;

let site: TestSite;
let source: number;
const tags: Record<string, number> = {};
let sequence = 0;

interface Said {
  readonly origin?: string;
  readonly watches?: readonly [number, number][];
  readonly outage?: readonly [number, number];
  readonly recoveries?: readonly (readonly [RecoverySpan['outcome'], string | null, number, number, string?])[];
  readonly samples?: readonly (readonly [string, number, number | null])[];
}

function frameOf(samples: NonNullable<Said['samples']>): Frame | null {
  if (samples.length === 0) return null;
  const frame = emptyFrame(samples.length, { tags: true });
  samples.forEach(([tag, second, value], i) => {
    frame.tags![i] = tags[tag]!;
    frame.times[i] = at(second);
    frame.values[i] = value ?? NaN;
    frame.status[i] = value === null ? REMOVED : Status.Good;
  });
  return frame;
}

/** An entry of the collector, in seconds after the start. */
async function say({ origin = 'live', watches = [], outage, recoveries = [], samples = [] }: Said): Promise<void> {
  const answer = await site.entry(
    {
      writer: 'collector/spool',
      sequence: ++sequence,
      origin,
      watches: watches.map(([from, to]) => ({ source, version: 1, from: at(from), to: at(to) })),
      outages: outage
        ? [
            {
              source,
              tag: null,
              from: at(outage[0]),
              to: at(outage[1]),
              cause: 'source',
              sentence: 'It was off.',
              code: 'OFF',
              recoverable: true,
            },
          ]
        : [],
      recoveries: recoveries.map(([outcome, tag, from, to, sentence = '']) => ({
        source,
        tag: tag === null ? null : tags[tag]!,
        from: at(from),
        to: at(to),
        outcome,
        sentence,
      })),
    },
    frameOf(samples),
  );
  expect(answer).toMatchObject({ status: 200, body: { setAside: 0 } });
}

const window = `from=${formatInstant(START)}&to=${formatInstant(at(600))}`;
const seconds = (instant: string): number => (Date.parse(instant) * 1000 - START) / SECOND;
async function gaps(query: string): Promise<[tag: string | null, from: number, to: number, state: Gap['state']][]> {
  const { body } = await site.call<GapsAnswer>('GET', `/gaps?${window}${query}`);
  return body.gaps
    .map(({ tag, from, to, state }) => [tag, seconds(from), seconds(to), state] as const)
    .sort((a, b) => a[1] - b[1] || (a[0] ?? '').localeCompare(b[0] ?? ''))
    .map((gap) => [...gap]);
}
const strip = async (tag: string): Promise<[number, number, string][]> => {
  const { body } = await site.call<CoverageAnswer>('GET', `/coverage?${window}&tag=${tag}`);
  return body.rows[0]!.spans.map(({ from, to, origin }) => [seconds(from), seconds(to), origin]);
};

beforeAll(async () => {
  site = await TestSite.open();
  await site.call('PUT', '/sources', { name: 'S', kind: 'opc-ua', connection: {} });
  source = (await site.query<{ id: number }>("SELECT id FROM source WHERE name = 'S'"))[0]!.id;
  for (const name of ['A', 'B', 'C']) {
    const address = { node: `ns=1;s=${name}` };
    await site.tag({ name, inForceSince: formatInstant(START), collection: { source: 'S', address } });
    tags[name] = (await site.query<{ id: number }>('SELECT id FROM tag WHERE name = $1', [name]))[0]!.id;
  }
  await site.query('UPDATE source_duty SET since = $1', [START]);
  await say({
    watches: [
      [0, 100],
      [200, 600],
    ],
    outage: [100, 200],
    samples: [
      ['A', 99, 1],
      ['A', 201, 3],
    ],
  });
}, 60_000);
afterAll(() => site.close());

test('a gap is open; while its collector is after it it is being recovered, tag by tag', async () => {
  expect(await gaps('')).toEqual([[null, 100, 200, 'open']]);
  await say({ recoveries: [['wanted', null, 100, 200]] });
  expect(await gaps('')).toEqual([[null, 100, 200, 'being recovered']]);
  await say({ origin: 'backfilled', samples: [['A', 120, 2]], recoveries: [['recovered', 'A', 100, 120]] });
  await say({ origin: 'backfilled', samples: [['A', 150, 2.5]], recoveries: [['recovered', 'A', 120, 150]] });
  // In the list of all that is no news of each tag; of the tag itself it is.
  expect(await gaps('&recovered=true')).toEqual([[null, 100, 200, 'being recovered']]);
  expect(await gaps('&recovered=true&tag=A')).toEqual([
    ['A', 100, 150, 'recovered'],
    ['A', 150, 200, 'being recovered'],
  ]);
  expect(await gaps('&tag=A')).toEqual([['A', 150, 200, 'being recovered']]);
  expect(await strip('A')).toEqual([
    [0, 100, 'live'],
    [100, 150, 'backfilled'],
    [200, 600, 'live'],
  ]);
});

test('in the end it is recovered but for what is gone, and both are said as one row each', async () => {
  await say({
    origin: 'backfilled',
    recoveries: [
      ['recovered', 'A', 150, 200],
      ['gone', 'B', 100, 160, 'Overwritten.'],
      ['recovered', 'B', 160, 200],
      ['gone', 'C', 100, 200, 'It keeps none of it.'],
      ['recovered', null, 100, 200],
      ['settled', null, 100, 200],
    ],
  });
  expect(await gaps('')).toEqual([
    ['B', 100, 160, 'gone'],
    ['C', 100, 200, 'gone'],
  ]);
  expect(await gaps('&recovered=true')).toEqual([
    [null, 100, 200, 'recovered'],
    ['B', 100, 160, 'gone'],
    ['C', 100, 200, 'gone'],
  ]);
  const { body } = await site.call<GapsAnswer>('GET', `/gaps?${window}&recovered=true`);
  expect([body.total, body.recovered]).toEqual([3, 1]);
  // Of how many of the source's tags it is not, in the same row.
  expect(body.gaps.find(({ tag }) => tag === null)).toMatchObject({ state: 'recovered', tags: 3, goneTags: 2 });
  expect(body.gaps.find(({ tag }) => tag === 'B')).toMatchObject({ fate: 'Overwritten.', sentence: 'It was off.' });
  expect(await strip('B')).toEqual([
    [0, 100, 'live'],
    [160, 200, 'backfilled'],
    [200, 600, 'live'],
  ]);
  expect(await site.query('SELECT tag_id, outcome FROM recovery ORDER BY tag_id')).toEqual([
    { tag_id: 0, outcome: 'recovered' },
    { tag_id: tags.B, outcome: 'gone' },
    { tag_id: tags.C, outcome: 'gone' },
  ]);
  const inSql = 'SELECT tag FROM history.gap WHERE since < $1::timestamptz ORDER BY tag';
  expect(await site.query(inSql, [formatInstant(at(599))])).toEqual([{ tag: 'B' }, { tag: 'C' }]);
});

test('the marks that said that there was no value go with what is fetched; delivered twice it is the same', async () => {
  const raw = async (): Promise<[number, string, string][]> => {
    const { body } = await site.call<{ samples: { time: string; quality: string; origin: string }[] }>(
      'GET',
      `/history/raw?tag=A&${window}`,
    );
    return body.samples.map(({ time, quality, origin }) => [seconds(time), quality, origin]);
  };
  const mark = emptyFrame(1, { tags: true });
  mark.tags![0] = tags.A!;
  mark.times[0] = at(101);
  mark.values[0] = NaN;
  mark.status[0] = Status.BadNotConnected;
  const description = { writer: 'collector/spool', origin: 'live' as const };
  await site.entry({ ...description, sequence: ++sequence }, mark);
  expect((await raw()).find(([second]) => second === 101)).toEqual([101, 'Bad_NotConnected', 'live']);
  const back: Said = { origin: 'backfilled', samples: [['A', 101, null]], recoveries: [['recovered', null, 100, 200]] };
  await say(back);
  await say(back);
  expect(await raw()).toEqual([
    [99, 'Good', 'live'],
    [120, 'Good', 'backfilled'],
    [150, 'Good', 'backfilled'],
    [201, 'Good', 'live'],
  ]);
  expect(await gaps('&recovered=true')).toHaveLength(3);
});

test('what was explained says by whom and why; a place speaks for its tags, and for a source that lies in it as a whole', async () => {
  const explain = (given: object): Promise<Answer<ExplanationRow>> =>
    site.call<ExplanationRow>('POST', '/gaps/explanations', {
      from: formatInstant(at(0)),
      to: formatInstant(at(150)),
      ...given,
    });
  const explained = async (query = ''): Promise<(string | null)[][]> => {
    const { body } = await site.call<GapsAnswer>('GET', `/gaps?${window}${query}`);
    return body.gaps
      .map((gap) => [gap.tag, String(seconds(gap.from)), String(seconds(gap.to)), gap.explained?.reason ?? null])
      .reverse();
  };
  const own = await explain({ tag: 'B', reason: 'Cable pulled for the scaffold.' });
  expect(own).toMatchObject({ status: 201, body: { kind: 'tag', about: 'B', by: 'admin' } });
  expect(await explained('&tag=B')).toEqual([
    ['B', '100', '150', 'Cable pulled for the scaffold.'],
    ['B', '150', '160', null],
  ]);
  // C lies in the hall, B beside it.
  await site.query("UPDATE tag SET place = 'Hall / Bay 1' WHERE name = 'C'");
  expect((await explain({ place: 'Hall', reason: 'Planned.' })).status).toBe(404);
  await site.query('UPDATE configuration SET epoch = epoch + 1');
  await site.query("UPDATE tag SET epoch = (SELECT epoch FROM configuration) WHERE name = 'C'");
  const hall = await explain({ place: 'Hall', reason: 'Planned.', to: 'now+7d' });
  expect(hall.status).toBe(201);
  expect(await explained('&tag=C')).toEqual([['C', '100', '200', 'Planned.']]);
  expect((await explained('&tag=B'))[0]).toEqual(['B', '100', '150', 'Cable pulled for the scaffold.']);
  const { body: listed } = await site.call<ExplanationsAnswer>('GET', `/gaps/explanations?${window}`);
  expect(listed.explanations.map(({ about, kind }) => [about, kind])).toEqual([
    ['Hall', 'place'],
    ['B', 'tag'],
  ]);
  // Taken back it is gone from the gaps, and stays in the logbook.
  expect((await site.call('DELETE', `/gaps/explanations/${hall.body.id}`)).status).toBe(204);
  expect((await site.call('DELETE', `/gaps/explanations/${hall.body.id}`)).status).toBe(404);
  expect(await explained('&tag=C')).toEqual([['C', '100', '200', null]]);
  expect(await explain({ source: 'S', reason: 'All of it.' })).toMatchObject({ body: { kind: 'source', about: 'S' } });
  expect((await explained('&tag=C'))[0]).toEqual(['C', '100', '150', 'All of it.']);
  for (const [given, status] of [
    [{ tag: 'nobody', reason: 'x' }, 404],
    [{ source: 'nobody', reason: 'x' }, 404],
    [{ reason: 'x' }, 400],
    [{ tag: 'B', source: 'S', reason: 'x' }, 400],
    [{ tag: 'B', reason: ' ' }, 400],
    [{ tag: 'B', reason: 'x', to: formatInstant(at(0)) }, 400],
  ] as const)
    expect((await explain(given)).status).toBe(status);
});

test('many tags that lost the very same are one row; few are named', async () => {
  const names = Array.from({ length: 12 }, (_, i) => `Many${i}`);
  for (const name of names) {
    const collection = { source: 'S', address: { node: `ns=1;s=${name}` } };
    tags[name] = await site.tag({ name, inForceSince: formatInstant(START), collection });
  }
  await say({ recoveries: names.map((name) => ['gone', name, 120, 200, 'Overwritten.'] as const) });
  const rows = async (): Promise<[string | null, number, number][]> => {
    const { body } = await site.call<GapsAnswer>('GET', `/gaps?${window}`);
    return body.gaps
      .filter(({ fate, from }) => fate === 'Overwritten.' && seconds(from) === 120)
      .map((gap) => [gap.tag, gap.tags, seconds(gap.to)]);
  };
  // Up to where the test before explained it.
  expect(await rows()).toEqual([[null, 12, 150]]);
  expect((await gaps('&tag=Many3')).some(([, from, to, state]) => from === 120 && to === 150 && state === 'gone')).toBe(
    true,
  );
});

test('of a place only its tags are told, and their sources with their number', async () => {
  // C lies in the hall; what the source lost C lost.
  const { body } = await site.call<GapsAnswer>('GET', `/gaps?${window}&recovered=true&place=Hall`);
  expect(body.gaps.length).toBeGreaterThan(0);
  expect([...new Set(body.gaps.map((gap) => gap.tag))].sort()).toEqual(['C', null].sort());
  expect(body.gaps.filter((gap) => gap.tag === null).every((gap) => gap.tags === 1)).toBe(true);
  const rows = async (place: string): Promise<(string | null)[]> => {
    const answer = await site.call<CoverageAnswer>('GET', `/coverage?${window}&place=${encodeURIComponent(place)}`);
    return answer.body.rows.map(({ tag }) => tag);
  };
  expect(await rows('Hall / Bay 1')).toEqual([null, 'C']);
  // Neither another place that begins alike, nor one that there is not.
  expect([await rows('Hall / Bay'), await rows('Hal')]).toEqual([[], []]);
});

test('what is gone of every tag alike is one row of the source, which is then not said to be recovered', async () => {
  const all = Object.keys(tags);
  await say({ outage: [600, 700], watches: [[700, 800]] });
  await say({
    origin: 'backfilled',
    recoveries: [
      ...all.map((tag) => ['gone', tag, 600, 680, 'Its memory was lost.'] as const),
      ['recovered', null, 600, 700],
    ],
  });
  const later = `from=${formatInstant(at(600))}&to=${formatInstant(at(800))}`;
  const { body } = await site.call<GapsAnswer>('GET', `/gaps?${later}&recovered=true`);
  expect(body.gaps.map(({ tag, tags, from, to, state }) => [tag, tags, seconds(from), seconds(to), state])).toEqual([
    [null, all.length, 680, 700, 'recovered'],
    [null, all.length, 600, 680, 'gone'],
  ]);
});
