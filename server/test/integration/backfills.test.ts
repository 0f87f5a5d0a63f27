/** Backfills: planned against what is missing, ordered from a collector, followed, and looked at again. */
import type {
  AskedQuestion,
  BackfillAnswer,
  BackfillReport,
  Job,
  RecoveryOrder,
  RecoverySpan,
} from '@wide-ledger/contract';
import { SECOND, Status, emptyFrame, formatInstant } from '@wide-ledger/core';
import { SILENT_REPORT, TestSite } from './testSite.ts';

const START = Date.UTC(2026, 9, 6, 8) * 1000;
const at = (second: number): number => START + second * SECOND;
const iso = (second: number): string => formatInstant(at(second));

let site: TestSite;
let source: number;
const ids: Record<string, number> = {};
let sequence = 0;

async function say(entry: object, samples: readonly [tag: string, second: number][] = []): Promise<void> {
  const frame = samples.length === 0 ? null : emptyFrame(samples.length, { tags: true });
  samples.forEach(([tag, second], i) => {
    frame!.tags![i] = ids[tag]!;
    frame!.times[i] = at(second);
    frame!.values[i] = second;
    frame!.status[i] = Status.Good;
  });
  const description = { writer: 'stand-in/spool', sequence: ++sequence, origin: 'live', watches: [], outages: [] };
  expect((await site.entry({ ...description, ...entry }, frame)).status).toBe(200);
}

/** A collector that answers orders as the test has it. */
class StandIn {
  readonly orders = new Map<number, RecoveryOrder>();
  readonly asked: Extract<AskedQuestion['question'], { ask: 'recover' }>[] = [];
  answers = true;
  refusal = '';
  private running = true;
  private readonly loops: Promise<void>[];

  constructor(private readonly fetches: (question: StandIn['asked'][number]) => Promise<void>) {
    this.loops = [this.answer(), this.report()];
  }

  private async answer(): Promise<void> {
    while (this.running) {
      if (!this.answers) {
        await new Promise((done) => setTimeout(done, 20));
        continue;
      }
      const { body } = await site.call<{ questions: AskedQuestion[] }>('GET', '/collector/questions?wait=200');
      for (const { request, question } of body.questions) {
        if (question.ask !== 'recover') continue;
        this.asked.push(question);
        const taken = this.refusal === '';
        await site.call('POST', '/collector/answers', {
          request,
          says: 'recover',
          recover: { taken, sentence: this.refusal },
        });
        if (question.holes.length === 0) this.orders.delete(question.order);
        else if (taken && !this.orders.has(question.order)) {
          this.orders.set(question.order, { order: question.order, values: 0, calls: 0, left: question.holes.length });
          await this.fetches(question);
        }
      }
    }
  }

  private async report(): Promise<void> {
    while (this.running) {
      const recovery = {
        mode: 'on demand',
        holes: 0,
        since: null,
        values: 0,
        calls: 0,
        reachesBack: at(120) / 1000,
        orders: [...this.orders.values()],
      };
      const state = {
        source,
        state: 'watching',
        since: 0,
        sentence: '',
        code: null,
        valuesPerSecond: 0,
        keptPerSecond: 0,
        timing: {},
        clockSkewMilliseconds: 0,
        recovery,
      };
      await site.call('POST', '/collector/report', { ...SILENT_REPORT, name: 'stand-in', sources: [state] });
      await new Promise((done) => setTimeout(done, 100));
    }
  }

  done(order: number, values: number, calls: number): void {
    this.orders.set(order, { order, values, calls, left: 0 });
  }

  async end(): Promise<void> {
    this.running = false;
    await Promise.all(this.loops);
  }
}

const recovery = (
  outcome: RecoverySpan['outcome'],
  tag: string,
  from: number,
  to: number,
  sentence = '',
): RecoverySpan => ({
  source,
  tag: ids[tag]!,
  from: at(from),
  to: at(to),
  outcome,
  sentence,
});

const backfill = async (given: object): Promise<{ status: number; body: BackfillAnswer }> =>
  site.call<BackfillAnswer>('POST', '/backfills', { source: 'S', from: iso(0), to: iso(600), ...given });

async function over(id: number): Promise<Job & { report: BackfillReport | null }> {
  for (;;) {
    const { body } = await site.call<Job & { report: BackfillReport | null }>('GET', `/jobs/${id}`);
    if (['done', 'stopped', 'failed', 'paused'].includes(body.state)) return body;
    await new Promise((done) => setTimeout(done, 50));
  }
}

beforeAll(async () => {
  site = await TestSite.open();
  await site.call('PUT', '/sources', {
    name: 'S',
    kind: 'opc-ua',
    connection: { recover: 'on demand', valuesPerCall: 10, callsPerSecond: 2 },
  });
  await site.call('PUT', '/sources', { name: 'M', kind: 'modbus-tcp', connection: { port: 5999 } });
  source = (await site.query<{ id: number }>("SELECT id FROM source WHERE name = 'S'"))[0]!.id;
  for (const [name, from, of] of [
    ['A', iso(0), 'S'],
    ['B', iso(0), 'S'],
    ['Late', iso(300), 'S'],
    ['M1', iso(0), 'M'],
  ] as const) {
    const address = of === 'S' ? { node: `ns=1;s=${name}` } : { area: 'holding', address: 0 };
    await site.tag({ name, inForceSince: from, collection: { source: of, address, intervalMilliseconds: 1000 } });
    ids[name] = (await site.query<{ id: number }>('SELECT id FROM tag WHERE name = $1', [name]))[0]!.id;
  }
  await site.query('UPDATE source_duty SET since = $1', [START]);
  const watch = (from: number, to: number): object => ({ source, version: 1, from: at(from), to: at(to) });
  const outage = {
    source,
    tag: null,
    from: at(100),
    to: at(200),
    cause: 'source',
    sentence: 'It was off.',
    code: 'OFF',
    recoverable: true,
  };
  await say({ watches: [watch(0, 100), watch(200, 600)], outages: [outage] });
}, 60_000);
afterAll(() => site.close());

test('the plan says what is missing, what the source still has, how many calls and how long; nothing is begun', async () => {
  const { body } = await backfill({ dryRun: true });
  expect(body.job).toBeNull();
  // Two tags miss a hundred seconds, the third also what was before it was there.
  expect(body.plan.parts).toMatchObject([
    { source: 'S', tags: 3, seconds: 300, values: 100 + 100 + 300 + 0, calls: 50, lasts: 25 },
  ]);
  expect(body.plan.leftOut).toEqual([]);
  const none = await backfill({ source: undefined, tags: ['M1'], dryRun: true });
  expect(none.body.plan).toMatchObject({
    parts: [],
    leftOut: [{ tag: 'M1', reason: 'Its source, M, keeps no past of its own.' }],
  });
  expect((await backfill({ source: undefined, tags: ['M1'] })).status).toBe(400);
  expect(
    (await backfill({ from: iso(10), to: iso(90), source: undefined, tags: ['A'], dryRun: true })).body.plan.sentence,
  ).toContain('Nothing is missing');
  const all = await backfill({ source: undefined, tags: ['A'], overlap: 'replace', dryRun: true });
  expect(all.body.plan.parts).toMatchObject([{ seconds: 600, values: 600, calls: 60 }]);
  expect((await backfill({ tags: ['A'] })).status).toBe(400);
  expect((await backfill({ source: 'X' })).status).toBe(404);
  expect(await site.query('SELECT count(*)::int AS n FROM job')).toEqual([{ n: 0 }]);
});

test('what is older than the plan knows the source to have is said', async () => {
  const standIn = new StandIn(() => Promise.resolve());
  let part: BackfillAnswer['plan']['parts'][number] | undefined;
  do part = (await backfill({ source: undefined, tags: ['A'], dryRun: true })).body.plan.parts[0];
  while (part?.reachesBack === null);
  expect(part).toMatchObject({ reachesBack: iso(120), olderSeconds: 20 });
  await standIn.end();
});

test('a job orders what is missing, follows it, and looks at the window again: what remains has its reason', async () => {
  const standIn = new StandIn(async ({ order, holes }) => {
    for (const { tags, from, to } of holes)
      await say({ recoveries: tags.map((tag) => ({ source, tag, from, to, outcome: 'wanted', sentence: '' })) });
    await say({ origin: 'backfilled', recoveries: [recovery('recovered', 'A', 100, 200)] }, [['A', 150]]);
    standIn.orders.set(order, { order, values: 1, calls: 1, left: 2 });
    await say(
      {
        origin: 'backfilled',
        recoveries: [
          recovery('gone', 'B', 100, 120, 'Overwritten.'),
          recovery('recovered', 'B', 120, 200),
          recovery('recovered', 'Late', 0, 300),
        ],
      },
      [
        ['B', 150],
        ['Late', 30],
      ],
    );
    standIn.done(order, 3, 5);
    await say({
      recoveries: holes.flatMap(({ tags, from, to }) =>
        tags.map((tag) => ({ source, tag, from, to, outcome: 'settled', sentence: '' })),
      ),
    });
  });
  const { body } = await backfill({});
  const job = await over(body.job!);
  expect(job).toMatchObject({ state: 'done', kind: 'backfill', title: `Backfill of 3 tags, ${iso(0)} to ${iso(600)}` });
  expect(job.sentence).toBe('3 values in 5 calls; 1 stretch is still missing, each with its reason.');
  expect(job.report).toEqual({
    values: 3,
    calls: 5,
    missingBefore: 500,
    missingAfter: 20,
    remains: [{ tag: 'B', from: iso(100), to: iso(120), reason: 'Overwritten.' }],
  });
  // Asked for were the stretches, those of several tags together.
  const [question] = standIn.asked;
  expect(question).toMatchObject({ id: source, source: { name: 'S' } });
  expect(question!.holes.map(({ tags, from, to }) => [tags, (from - START) / SECOND, (to - START) / SECOND])).toEqual([
    [[ids.Late], 0, 300],
    [[ids.A, ids.B], 100, 200],
  ]);
  await standIn.end();
  // What was fetched of the time before the tag was there is in the archive.
  const { body: raw } = await site.call<{ samples: { origin: string }[] }>(
    'GET',
    `/history/raw?tag=Late&from=${iso(0)}&to=${iso(300)}`,
  );
  expect(raw.samples).toMatchObject([{ origin: 'backfilled' }]);
  const { body: logbook } = await site.call<{ entries: { act: string; name: string }[] }>('GET', '/logbook');
  expect(logbook.entries.find(({ act }) => act === 'began a backfill')).toMatchObject({ name: 'S' });
});

test('one that is paused takes its order back and gives it again; a restart of the server goes on with it', async () => {
  const standIn = new StandIn(() => Promise.resolve());
  const { body } = await backfill({ source: undefined, tags: ['B'], overlap: 'replace' });
  const asked = async (n: number): Promise<void> => {
    while (standIn.asked.length < n) await new Promise((done) => setTimeout(done, 20));
  };
  await asked(1);
  await site.call('POST', `/jobs/${body.job}/pause`);
  expect((await over(body.job!)).state).toBe('paused');
  await asked(2);
  expect(standIn.asked[1]!.holes).toEqual([]);
  while (standIn.orders.size > 0) await new Promise((done) => setTimeout(done, 20));
  await site.call('POST', `/jobs/${body.job}/resume`);
  await asked(3);
  expect(standIn.asked[2]).toMatchObject({ order: standIn.asked[0]!.order, holes: standIn.asked[0]!.holes });
  await standIn.end();
  await site.restart();
  const other: StandIn = new StandIn(({ order }) => Promise.resolve(other.done(order, 7, 2)));
  const job = await over(body.job!);
  expect(job).toMatchObject({ state: 'done', report: { values: 7, calls: 2 } });
  // The end of the server took nothing back.
  expect(other.asked.every(({ holes }) => holes.length > 0)).toBe(true);
  await other.end();
}, 60_000);

test('a collector that does not take it says why, and the job tries again', async () => {
  const standIn: StandIn = new StandIn(({ order }) => Promise.resolve(standIn.done(order, 0, 1)));
  standIn.refusal = 'This collector does not read that source.';
  const { body } = await backfill({ source: undefined, tags: ['B'] });
  for (;;) {
    const { body: job } = await site.call<Job>('GET', `/jobs/${body.job}`);
    if (job.sentence.includes('does not read that source. It is tried again')) break;
    await new Promise((done) => setTimeout(done, 50));
  }
  standIn.refusal = '';
  expect((await over(body.job!)).state).toBe('done');
  await standIn.end();
}, 60_000);
