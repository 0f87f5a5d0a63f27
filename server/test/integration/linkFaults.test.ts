/** Twenty faults of the network between two sites: afterwards both hold the same, by their tallies, and nothing twice. */
import type {
  Desk,
  Invitation,
  LinkCheck,
  LinkLogAnswer,
  LinkStrips,
  LinksAnswer,
  SendingLink,
  TalliesAnswer,
} from '@wide-ledger/contract';
import { createServer, request as ask, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import pg from 'pg';
import { backup, restore } from './testDatabase.ts';
import { TestSite, frameOf } from './testSite.ts';
import { until } from './until.ts';

const near = await TestSite.open({ WIDE_LEDGER_SITE: 'Thornmere' });
let far = await TestSite.open({ WIDE_LEDGER_SITE: 'Region' });

interface Passing {
  readonly path: string;
  readonly method: string;
  readonly headers: IncomingMessage['headers'];
  readonly body: Buffer;
}
interface Answered {
  readonly status: number;
  readonly headers: IncomingMessage['headers'];
  readonly body: Buffer;
}
/** What happens on the line to one request; @returns what comes back, or null: the line breaks. */
type Fault = (passing: Passing, forward: (one?: Passing) => Promise<Answered>) => Promise<Answered | null>;

const whole: Fault = (_passing, forward) => forward();
let fault = whole;
let struck = 0;

async function forward({ path, method, headers, body }: Passing): Promise<Answered> {
  const { hostname, port } = new URL(far.site.url);
  return new Promise((done, fail) => {
    const going = ask({ hostname, port, path, method, headers }, (answer) => {
      const parts: Buffer[] = [];
      answer.on('data', (part: Buffer) => parts.push(part));
      answer.on('error', fail);
      answer.on('end', () => done({ status: answer.statusCode!, headers: answer.headers, body: Buffer.concat(parts) }));
    });
    going.on('error', fail);
    going.end(body);
  });
}

const line = createServer((incoming, outgoing) => void pass(incoming, outgoing));
async function pass(incoming: IncomingMessage, outgoing: ServerResponse): Promise<void> {
  const parts: Buffer[] = [];
  for await (const part of incoming) parts.push(part as Buffer);
  const { url: path = '', method = '', headers } = incoming;
  const passing = { path, method, headers, body: Buffer.concat(parts) };
  try {
    const answer = await fault(passing, (one = passing) => forward(one));
    if (answer === null) outgoing.destroy();
    else {
      const { 'transfer-encoding': _chunked, 'content-length': _length, ...rest } = answer.headers;
      outgoing.writeHead(answer.status, rest).end(answer.body);
    }
  } catch {
    outgoing.destroy();
  }
}
await new Promise<void>((done) => line.listen(0, '127.0.0.1', done));
const url = `http://127.0.0.1:${(line.address() as AddressInfo).port}`;
afterAll(async () => {
  await near.close();
  await far.close();
  line.closeAllConnections();
  line.close();
});

const START = Date.UTC(2026, 3, 1) * 1000;
const SECOND = 1_000_000;
const NAMES = ['A', 'B', 'C'];
const ids = await Promise.all(NAMES.map((name) => near.tag({ name })));
const { body: invitation } = await far.call<Invitation>('POST', '/links/invitations', { name: 'North' });
const { body: link } = await near.call<SendingLink>('POST', '/links', { name: 'Region', url, code: invitation.code });

const standing = async (): Promise<SendingLink> => (await near.call<LinksAnswer>('GET', '/links')).body.sending[0]!;
const waitUntil = (what: string, check: () => Promise<boolean> | boolean): Promise<void> =>
  until(what, check, standing);
const level = () =>
  waitUntil('it is level', async () => {
    const { waiting, state } = await standing();
    return waiting === 0 && state === 'level';
  });
const tallies = async (site: TestSite): Promise<unknown[]> =>
  Promise.all(
    NAMES.map(async (tag) => {
      const asked = `/tallies?tag=${tag}&by=day&from=2026-03-01T00:00:00Z&to=2026-06-01T00:00:00Z`;
      return (await site.call<TalliesAnswer>('GET', asked)).body.rows;
    }),
  );
/** How many values were displaced: what comes twice as it is displaces nothing. */
const displaced = async (site: TestSite): Promise<number> => {
  await site.site.posting.postAll();
  const { rows } = await site.site.database.pool.query<{ n: number }>('SELECT count(*)::int AS n FROM modified_sample');
  return rows[0]!.n;
};

let sequence = 0;
let beat = 0;
/** New values of each tag, some of them late, and one set right. */
async function work(): Promise<void> {
  for (const id of ids) {
    beat += 10;
    const rows = [5, 6, 7, 1, 2].map((second): [number, number] => [START + (beat + second) * SECOND, Math.sin(beat)]);
    await near.entry({ writer: 'w', sequence: ++sequence, origin: 'live' }, frameOf(id, rows));
  }
  const time = new Date((START + (beat + 5) * SECOND) / 1000).toISOString();
  await near.call('POST', '/history/corrections', { tag: 'C', reason: 'span', samples: [{ time, value: beat }] });
}

const isEntries = ({ path }: Passing): boolean => path.endsWith('/carry/entries');
const isTags = ({ path }: Passing): boolean => path.endsWith('/carry/tags');
const isPosition = ({ path }: Passing): boolean => path.endsWith('/carry/position');
/** A fault that strikes the requests of a kind, so many times. */
const striking =
  (which: (passing: Passing) => boolean, times: number, how: Fault): Fault =>
  async (passing, forwarding) => {
    if (!which(passing) || struck >= times) return forwarding();
    struck++;
    return how(passing, forwarding);
  };
const breaks: Fault = () => Promise.resolve(null);
const answerIsLost: Fault = async (_passing, forwarding) => {
  await forwarding();
  return null;
};
const says =
  (status: number, body: string, headers: IncomingMessage['headers'] = {}): Fault =>
  () =>
    Promise.resolve({ status, headers: { 'content-type': 'application/json', ...headers }, body: Buffer.from(body) });
const late = (milliseconds: number) => new Promise((done) => setTimeout(done, milliseconds));
/** Requests as they passed, to be heard again later. */
const heard: Passing[] = [];
const random = (
  (state = 7) =>
  () =>
    (state = (state * 48271) % 2147483647) / 2147483647
)();

const FAULTS: readonly (readonly [string, Fault])[] = [
  ['entries are cut off before they arrive', striking(isEntries, 2, breaks)],
  ['entries arrive, and their answer is lost', striking(isEntries, 2, answerIsLost)],
  ['the position is not answered', striking(isPosition, 2, breaks)],
  ['tags are cut off before they arrive', striking(isTags, 1, breaks)],
  ['tags arrive, and their answer is lost', striking(isTags, 1, answerIsLost)],
  [
    'entries come twice, one after the other',
    striking(isEntries, 2, async (_passing, forwarding) => {
      const first = await forwarding();
      await forwarding();
      return first;
    }),
  ],
  [
    'entries come twice at the same time',
    striking(isEntries, 2, async (_passing, forwarding) => (await Promise.all([forwarding(), forwarding()]))[0]),
  ],
  [
    'entries of before come again after those of now',
    striking(isEntries, 3, async (passing, forwarding) => {
      const now = await forwarding();
      for (const before of heard.splice(0)) await forwarding(before);
      heard.push(passing);
      return now;
    }),
  ],
  [
    'half of the entries arrives',
    striking(isEntries, 2, async (passing, forwarding) => {
      const body = passing.body.subarray(0, passing.body.length / 2);
      await forwarding({ ...passing, body, headers: { ...passing.headers, 'content-length': String(body.length) } });
      return null;
    }),
  ],
  [
    'a bit of the entries is turned on the way',
    striking(isEntries, 1, async (passing, forwarding) => {
      const body = Buffer.from(passing.body);
      body[Math.floor(body.length / 2)]! ^= 4;
      return forwarding({ ...passing, body });
    }),
  ],
  [
    'half of the answer comes back',
    striking(isEntries, 2, async (_passing, forwarding) => {
      const answer = await forwarding();
      return { ...answer, body: answer.body.subarray(0, 5), headers: { 'content-type': 'application/json' } };
    }),
  ],
  ['somebody between says 502', striking(isEntries, 3, says(502, '<html>Bad gateway</html>'))],
  ['somebody between says that all is well', striking(isEntries, 2, says(200, '{"hello":"world"}'))],
  ['it is sent elsewhere', striking(isEntries, 2, says(307, '', { location: 'http://127.0.0.1:1/' }))],
  [
    'the far end is full',
    striking(isEntries, 2, says(507, '{"detail":"There is no room left on the disk.","code":"FULL"}')),
  ],
  [
    'the far end is not ready',
    striking(isEntries, 3, says(503, '{"detail":"It is starting."}', { 'retry-after': '1' })),
  ],
  [
    'everything comes half a second later',
    striking(
      () => true,
      6,
      async (_passing, forwarding) => {
        await late(500);
        return forwarding();
      },
    ),
  ],
  [
    'one in five requests, and as many answers, are lost',
    async (_passing, forwarding) => {
      struck++;
      if (random() < 0.2) return null;
      const answer = await forwarding();
      return random() < 0.2 ? null : answer;
    },
  ],
  [
    'the far end is of an older version, which does not tell all',
    striking(isPosition, 3, async (_passing, forwarding) => {
      const answer = await forwarding();
      const {
        now: _now,
        freeBytes: _free,
        retentionMonths: _kept,
        ...rest
      } = JSON.parse(String(answer.body)) as Record<string, unknown>;
      return { ...answer, headers: { 'content-type': 'application/json' }, body: Buffer.from(JSON.stringify(rest)) };
    }),
  ],
];

test('the way to a site is walked before it was joined: what only its key would tell is seen later', async () => {
  const { body } = await near.call<LinkCheck>('POST', '/links/check', { url });
  expect(body.passed).toBe(true);
  expect(body.rungs.find(({ rung }) => rung === 'sign-in')!.sentence).toMatch(/when the site has joined/);
  const nobody = await near.call<LinkCheck>('POST', '/links/check', { url: 'http://127.0.0.1:1' });
  expect(nobody.body.rungs.map(({ outcome }) => outcome)).toEqual([
    'passed',
    'failed',
    ...Array.from({ length: 7 }, () => 'not reached'),
  ]);
  expect(nobody.body.rungs[1]!.sentence).toMatch(/^Nothing answers on 127\.0\.0\.1:1\./);
});

test.each(FAULTS)('%s', async (_what, how) => {
  await level();
  struck = 0;
  fault = how;
  // What is told of a tag is told again when it is another one.
  const { body: draft } = await near.call<{ draft: { id: number } }>('POST', '/drafts', {
    changes: [{ kind: 'tag', id: ids[0], set: { description: `at ${beat}` } }],
  });
  await near.call('POST', `/drafts/${draft.draft.id}/force`, { reason: 'Described' });
  await work();
  // It asks for its position again.
  await near.call('PATCH', `/links/${link.id}`, { paused: true });
  await near.call('PATCH', `/links/${link.id}`, { paused: false });
  await waitUntil('it struck', () => struck > 0);
  await work();
  await level();
  fault = whole;
  expect(await tallies(far)).toEqual(await tallies(near));
  expect(await displaced(far)).toBe(await displaced(near));
});

test('a tag that is made while the far end is being told of another one is carried from its first value on', async () => {
  await level();
  struck = 0;
  let goOn!: () => void;
  const held = new Promise<void>((done) => (goOn = done));
  fault = striking(isTags, 1, async (_passing, forwarding) => {
    await held;
    return forwarding();
  });
  await near.tag({ name: 'First' });
  await waitUntil('the far end is being told', () => struck > 0);
  const second = await near.tag({ name: 'Second' });
  await near.entry({ writer: 'w', sequence: ++sequence, origin: 'live' }, frameOf(second, [[START, 1]]));
  goOn();
  await level();
  fault = whole;
  const { body } = await far.call<TalliesAnswer>(
    'GET',
    '/tallies?tag=Second&by=day&from=2026-03-01T00:00:00Z&to=2026-06-01T00:00:00Z',
  );
  expect(body.rows.map(({ count }) => count)).toEqual([1]);
});

test('a clock that is ahead there is told, and told again when it is right', async () => {
  const ahead: Fault = async (passing, forwarding) => {
    const answer = await forwarding();
    if (!isPosition(passing)) return answer;
    const told = JSON.parse(String(answer.body)) as { now: string };
    const now = new Date(Date.parse(told.now) + 60_000).toISOString();
    return {
      ...answer,
      headers: { 'content-type': 'application/json' },
      body: Buffer.from(JSON.stringify({ ...told, now })),
    };
  };
  const again = async (how: Fault): Promise<void> => {
    fault = how;
    await near.call('PATCH', `/links/${link.id}`, { paused: true });
    await near.call('PATCH', `/links/${link.id}`, { paused: false });
    await level();
  };
  await again(ahead);
  expect(Math.round((await standing()).clockAheadSeconds!)).toBe(60);
  const { body: log } = await near.call<LinkLogAnswer>('GET', `/links/${link.id}/log`);
  expect(log.events.find(({ what }) => what === 'clock')!.sentence).toMatch(/The clock there is 60 s ahead/);
  const { body: check } = await near.call<LinkCheck>('POST', '/links/check', { link: link.id });
  expect(check.rungs.find(({ rung }) => rung === 'clock')!.outcome).toBe('passed, but');
  expect([check.passed, check.rungs.length]).toEqual([true, 9]);
  await again(whole);
  expect((await standing()).clockAheadSeconds).toBeNull();
});

test('a site that was stopped for a while tells from when to when nobody carried', async () => {
  await level();
  await near.query("UPDATE link_event SET at = now() - interval '2 hours'");
  await near.site.close();
  const left = new pg.Client(near.databaseUrl);
  await left.connect();
  await left.query("UPDATE link_state SET contact_at = now() - interval '1 hour'");
  await left.end();
  await far.query("UPDATE arrival SET contact_at = now() - interval '1 hour', joined_at = now() - interval '2 hours'");
  near.site = await near.beside();
  await level();
  const { body } = await near.call<LinkStrips>('GET', '/links/strips?from=now-90m&to=now');
  const [strip] = body.rows;
  expect(strip!.gaps.map(({ sentence }) => sentence)).toEqual(['Nobody carried: the server here was not running.']);
  const minutes = ({ from, to }: { from: string; to: string }): number =>
    Math.round((Date.parse(to) - Date.parse(from)) / 60_000);
  expect(minutes(strip!.gaps[0]!)).toBe(60);
  // The far end knows from when to when it heard nothing.
  const there = (await far.call<LinkStrips>('GET', '/links/strips?from=now-90m&to=now')).body.arriving[0]!;
  expect(there.gaps.map((gap) => [gap.sentence, minutes(gap)])).toEqual([['Nothing was heard of it.', 60]]);
  expect(there.there.map(minutes)).toEqual([30, 0]);
});

test('another site of the same name is let in, and both are told of it', async () => {
  const { body } = await far.call<Invitation>('POST', '/links/invitations', { name: 'Other' });
  const site = { identity: 'another', name: 'Thornmere', version: '0.2.0' };
  expect((await far.call('POST', '/links/join', { code: body.code, site })).status).toBe(201);
  const { arriving } = (await far.call<LinksAnswer>('GET', '/links')).body;
  expect(arriving.map(({ name, namesakes }) => [name, namesakes])).toEqual([
    ['North', ['Other']],
    ['Other', ['North']],
  ]);
});

test('the key is revoked, and another invitation lets it go on where it was', async () => {
  const { body: keys } = await far.call<{ keys: { id: number; name: string }[] }>('GET', '/keys');
  await far.call('DELETE', `/keys/${keys.keys.find(({ name }) => name === 'link North')!.id}`);
  await work();
  await waitUntil('it is away', async () => (await standing()).state === 'away');
  expect((await standing()).trouble).toMatch(/does not know the key of this link/);
  await waitUntil('the desk says so', async () =>
    (await near.call<Desk>('GET', '/desk')).body.concerns.some(
      ({ sentence, to }) =>
        to === '/links' && sentence.startsWith('The link Region: The far end does not know the key'),
    ),
  );
  const { body: again } = await far.call<Invitation>('POST', '/links/invitations', { name: 'North' });
  await near.call('PATCH', `/links/${link.id}`, { code: again.code });
  await level();
  expect(await tallies(far)).toEqual(await tallies(near));
  expect(await displaced(far)).toBe(await displaced(near));
});

test('the far end is restored from a backup: it says where it stood, and gets the rest again', async () => {
  await level();
  const yesterday = backup(far.databaseUrl);
  await work();
  await level();
  fault = breaks;
  await far.site.close();
  const gone = far;
  far = await gone.movedTo(await restore(yesterday, process.env.TEST_DATABASE_URL!));
  await gone.drop();
  fault = whole;
  await work();
  await level();
  expect(await tallies(far)).toEqual(await tallies(near));
  expect(await displaced(far)).toBe(await displaced(near));
});
