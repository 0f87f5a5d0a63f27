import type { GapStory, GapsAnswer } from '@wide-ledger/contract';
import { parseInstant } from '@wide-ledger/core';
import { PASSWORD, TestSite, frameOf } from './testSite.ts';

interface Problem {
  status: number;
  title: string;
  detail: string;
  code?: string;
}

let site: TestSite;
beforeAll(async () => {
  site = await TestSite.open();
  await site.tag({ name: 'T', type: 'real' });
}, 120_000);
afterAll(() => site.close());

describe('bad input gets a sentence', () => {
  test.each([
    ['GET', '/history/raw?tag=nobody&from=now-1h&to=now', undefined, 404, 'There is no tag "nobody".'],
    ['GET', '/history/raw?tag=T&from=last%20week&to=now', undefined, 400, 'from: "last week" is neither a date-time'],
    ['GET', '/history/processed?tag=T&from=now-1h&to=now&aggregate=Best', undefined, 400, 'aggregate'],
    [
      'GET',
      '/history/processed?tag=T&from=now-1h&to=now&aggregate=Average&interval=hourly',
      undefined,
      400,
      'Use an ISO 8601 duration',
    ],
    [
      'GET',
      '/history/processed?tag=T&from=2026-01-01T00:00:00Z&to=2026-01-01T00:00:00Z&aggregate=Average',
      undefined,
      400,
      'start and end are the same',
    ],
    [
      'GET',
      '/history/processed?tag=T&from=now-1h&to=now&aggregate=Average&percentDataBad=80&percentDataGood=0',
      undefined,
      400,
      'at least 100 − percentDataBad',
    ],
    [
      'GET',
      '/history/processed?tag=T&from=now-90d&to=now&aggregate=Average&interval=PT0.01S',
      undefined,
      400,
      'at most 200000',
    ],
    ['POST', '/tags', { name: 'has space' }, 400, 'may hold letters, digits'],
    ['POST', '/tags', { name: 'X', low: 5, high: 1 }, 400, 'The range is upside down'],
    ['POST', '/samples', { samples: [] }, 400, 'samples'],
    ['PUT', '/sources', { name: 'x', kind: 'modbus-tcp', connection: { port: 99999 } }, 400, 'connection.port'],
    ['GET', '/nothing', undefined, 404, 'There is no call GET /api/v1/nothing'],
  ])('%s %s', async (method, path, body, status, words) => {
    const answer = await site.call<Problem>(method, path, body);
    expect(answer.status).toBe(status);
    expect(answer.headers.get('content-type')).toContain('application/problem+json');
    expect(answer.body.detail).toContain(words);
  });

  test.each([
    [
      '/history/raw?tag=T&from=now-1h&to=now&limits=5',
      'limits: GET /history/raw knows no such parameter. It takes tag,',
    ],
    ['/history/processed?tag=T&from=now-1h&to=now&aggregate=Average&percentdatabad=5', 'percentdatabad'],
    ['/coverage?from=now-1h&to=now&source=S', 'source'],
    ['/gaps?from=now-1h&to=now&quality=Bad', 'quality'],
    ['/stores?all=true', 'all: GET /stores knows no such parameter. It takes none.'],
    ['/tags/T?quality=Bad', 'quality'],
    ['/desk?x=1', 'x: GET /desk'],
  ])('GET %s: an unknown parameter is refused by its name', async (path, words) => {
    const answer = await site.call<Problem>('GET', path);
    expect([answer.status, answer.body.detail]).toEqual([400, expect.stringContaining(words)]);
  });

  test.each([
    ['POST', '/samples', { samples: [{}], quality: 'Bad' }, '"quality" is not known here.'],
    ['POST', '/keys', { name: 'k', scopes: ['read'], end: 'never' }, '"end" is not known here.'],
    [
      'PUT',
      '/sources',
      { name: 'S', kind: 'modbus-tcp', connection: { port: 502, tls: true } },
      'connection: "tls" is not known here.',
    ],
    [
      'POST',
      '/history/corrections',
      { tag: 'T', reason: 'r', samples: [{}], status: 0 },
      '"status" is not known here.',
    ],
    ['POST', '/annotations', { tag: 'T', time: 'now', text: 'x', colour: 'red' }, '"colour" is not known here.'],
    ['POST', '/stores/moves', { tags: ['T'], store: 'Embedded', now: true }, '"now" is not known here.'],
  ])('%s %s: an unknown member is refused by its name', async (method, path, body, words) => {
    const answer = await site.call<Problem>(method, path, body);
    expect([answer.status, answer.body.detail]).toEqual([400, expect.stringContaining(words)]);
  });

  test('times of the first century and before 1900 are what they say; what cannot be kept is set aside', async () => {
    const { body } = await site.call<{ accepted: number; setAside: { index: number; reason: string }[] }>(
      'POST',
      '/samples',
      {
        samples: [
          '0050-01-01T00:00:00Z',
          '0099-12-31T00:00:00Z',
          '1699-12-31T23:59:59Z',
          '1850-06-01T00:00:00Z',
          '2016-12-31T23:59:60Z',
        ].map((time) => ({ tag: 'T', time, value: 1 })),
      },
    );
    expect(body.setAside.map(({ index }) => index)).toEqual([0, 1, 2]);
    expect(body.setAside[0]!.reason).toContain('outside what can be kept (1700 to 2255)');
    const read = async (from: string, to: string): Promise<string[]> =>
      (
        await site.call<{ samples: { time: string }[] }>('GET', `/history/raw?tag=T&from=${from}&to=${to}`)
      ).body.samples.map(({ time }) => time);
    expect(await read('0001-01-01T00:00:00Z', '1900-01-01T00:00:00Z')).toEqual(['1850-06-01T00:00:00.000Z']);
    // RFC 3339, 5.7: a leap second. Here it is the first instant of the next minute.
    expect(await read('2016-12-31T00:00:00Z', '2017-01-02T00:00:00Z')).toEqual(['2017-01-01T00:00:00.000Z']);
  });

  test('a body that is no frame', async () => {
    const answer = await site.call<Problem>('POST', '/entries', new TextEncoder().encode('hello, world'));
    expect(answer.status).toBe(400);
    expect(answer.body).toMatchObject({
      detail: 'This is not a frame: it does not start with "WLE1".',
      code: 'NOT_A_FRAME',
    });
  });

  test('an entry keeps what can be kept and sets the rest aside', async () => {
    const good = parseInstant('2026-04-01T00:00:00Z')!;
    const frame = frameOf(1, [
      [good, 1],
      [parseInstant('2200-01-01T00:00:00Z')!, 2],
    ]);
    const answer = await site.entry({ writer: 'x', sequence: 1, origin: 'live' }, frame);
    expect(answer.body).toMatchObject({ accepted: 1, setAside: 1 });
    const stranger = await site.entry({ writer: 'x', sequence: 2, origin: 'live' }, frameOf(4711, [[good, 1]]));
    expect(stranger.body).toMatchObject({ accepted: 0, setAside: 1 });
    const rows = await site.query<{ tag: string; reason: string }>(
      "SELECT tag, reason FROM set_aside WHERE writer = 'x' ORDER BY id",
    );
    expect(rows.map((row) => row.tag)).toEqual(['T', 'number 4711']);
  });
});

describe('access', () => {
  test('needs a cookie or a key, with the scope', async () => {
    const cookie = site.cookie;
    const made = await site.call<{ key: string }>('POST', '/keys', { name: 'reader', scopes: ['read'] });
    site.cookie = '';
    try {
      expect((await site.call('GET', '/tags')).status).toBe(401);
      const authorization = `Bearer ${made.body.key}`;
      expect((await site.call('GET', '/tags', undefined, { authorization })).status).toBe(200);
      const refused = await site.call<Problem>('POST', '/samples', { samples: [{}] }, { authorization });
      expect(refused.status).toBe(403);
      expect(refused.body.detail).toBe('This needs the scope "write"; key reader has read.');
      expect((await site.call('GET', '/tags', undefined, { authorization: 'Bearer wl_wrong' })).status).toBe(401);
      expect((await site.call('GET', '/tags', undefined, { cookie: `${cookie}x` })).status).toBe(401);
    } finally {
      site.cookie = cookie;
    }
    const kept = await site.query<{ key_hash: string }>('SELECT key_hash FROM access_key');
    expect(kept.every((row) => !row.key_hash.includes(made.body.key))).toBe(true);
  });

  /** What a call of the description needs in place of the names in its path. */
  const filled = (path: string): string => path.replace('/api/v1', '').replace(/\{\w+\}/g, '1');
  const OPEN = ['get /health', 'post /session', 'delete /session', 'get /openapi.json', 'post /links/join'];

  test.each([
    [
      'collect',
      [
        'post /entries',
        'get /entries/position',
        'get /collector/configuration',
        'post /collector/report',
        'get /collector/questions',
        'post /collector/answers',
      ],
    ],
    ['carry', []],
    ['operate', ['get /tags/1/device-value', 'put /tags/1/device-value']],
  ])('a key that may only %s is refused by every call of the description but its own', async (scope, own) => {
    const made = await site.call<{ key: string }>('POST', '/keys', { name: scope, scopes: [scope] });
    const { paths } = (await site.call<{ paths: Record<string, object> }>('GET', '/openapi.json')).body;
    const calls = Object.entries(paths).flatMap(([path, methods]) =>
      Object.keys(methods).map((method) => [method, filled(path)] as const),
    );
    expect(calls.length).toBeGreaterThan(45);
    const cookie = site.cookie;
    site.cookie = '';
    try {
      for (const [method, path] of calls) {
        const call = `${method} ${path}`;
        if (OPEN.includes(call)) continue;
        const { status } = await site.call(method.toUpperCase(), path, method === 'get' ? undefined : {}, {
          authorization: `Bearer ${made.body.key}`,
        });
        if (own.some((one) => one === call)) expect([call, [200, 400, 404].includes(status)]).toEqual([call, true]);
        else expect([call, status]).toEqual([call, 403]);
      }
    } finally {
      site.cookie = cookie;
    }
  });

  test('is signed, http-only, same-site; wrong passwords are slowed down', async () => {
    const right = await site.call('POST', '/session', { name: 'admin', password: PASSWORD });
    expect(right.headers.getSetCookie()[0]).toMatch(/HttpOnly; SameSite=Strict/);
    const wrong: number[] = [];
    for (let i = 0; i < 12; i++)
      wrong.push((await site.call('POST', '/session', { name: 'nobody', password: 'wrong' })).status);
    expect(wrong).toEqual([...Array<number>(10).fill(401), 429, 429]);
    // Whoever guesses one name does not lock out another.
    expect((await site.call('POST', '/session', { name: 'admin', password: PASSWORD })).status).toBe(200);
  });
});

describe('coverage', () => {
  test('names gaps by their cause, a tag’s own among them, and joins watches that touch', async () => {
    const source = (
      await site.call<{ id: number }>('PUT', '/sources', { name: 'S', kind: 'modbus-tcp', connection: { port: 502 } })
    ).body.id;
    const start = parseInstant('2026-01-01T00:00:00Z')!;
    const hour = 3_600_000_000;
    const collection = { source: 'S', address: { area: 'holding', address: 0 } };
    const since = '2026-01-01T00:00:00Z';
    const one = await site.tag([{ name: 'S.1', collection, inForceSince: since }]);
    await site.tag([{ name: 'S.2', collection, inForceSince: since }]);
    const watch = (from: number, to: number): object => ({
      source,
      version: 1,
      from: start + from * hour,
      to: start + to * hour,
    });
    const outage = {
      source,
      tag: null,
      from: start + 2 * hour,
      to: start + 3 * hour,
      cause: 'source',
      sentence: 'Nothing answers.',
      code: 'ECONNREFUSED',
      recoverable: false,
    };
    const own = {
      ...outage,
      tag: one,
      from: start + 4 * hour,
      to: start + 5 * hour,
      cause: 'tag',
      sentence: 'Illegal data address.',
      code: 'MODBUS_02',
    };
    await site.entry({ writer: 'c', sequence: 1, origin: 'live', watches: [watch(0, 1)], outages: [] }, null);
    await site.entry(
      { writer: 'c', sequence: 2, origin: 'live', watches: [watch(1, 2), watch(3, 6)], outages: [outage, own] },
      null,
    );
    const window = 'from=2026-01-01T00:00:00Z&to=2026-01-01T07:00:00Z';
    const { body } = await site.call<{
      rows: {
        tag: string | null;
        spans: unknown[];
        gaps: { sentence: string; seconds: number; cause: string }[];
        watchedPercent: number;
      }[];
    }>('GET', `/coverage?${window}`);
    const [row, exception] = body.rows;
    expect(row!.spans).toHaveLength(2);
    expect(row!.gaps.map(({ cause, seconds, sentence }) => [cause, seconds, sentence])).toEqual([
      ['source', 3600, 'Nothing answers.'],
      ['collector', 3600, 'The collector was not running or not configured for this.'],
    ]);
    expect(row!.watchedPercent).toBeCloseTo((5 / 7) * 100, 6);
    expect(exception!.tag).toBe('S.1');
    expect(exception!.gaps.map(({ cause }) => cause)).toEqual(['source', 'tag', 'collector']);
    const gaps = await site.call<{ gaps: { tag: string | null }[] }>('GET', `/gaps?${window}`);
    expect(gaps.body.gaps).toHaveLength(3);
  });
});

test('health and the description of the interface are open to everybody', async () => {
  const cookie = site.cookie;
  site.cookie = '';
  const health = await site.call<{ status: string; checks: Record<string, string> }>('GET', '/health');
  expect(health.body).toMatchObject({ status: 'ok', checks: { database: 'ok', journal: 'ok', posting: 'ok' } });
  const document = await site.call<{ paths: Record<string, unknown> }>('GET', '/openapi.json');
  expect(Object.keys(document.body.paths)).toContain('/api/v1/history/processed');
  site.cookie = cookie;
});

test('values that were set aside are told with the gaps, stretch by stretch, with the reason', async () => {
  const at = (minutes: number): string => new Date(Date.UTC(2026, 4, 4, 10, minutes)).toISOString();
  await site.tag({ name: 'Odd', type: 'integer', place: 'Somewhere' });
  const samples = [0, 5, 9, 40].map((minutes) => ({ tag: 'Odd', time: at(minutes), value: 1.5 }));
  await site.call('POST', '/samples', { samples: [...samples, { tag: 'Odd', time: at(20), value: 3 }] });
  const gaps = async (more: string) =>
    (await site.call<GapsAnswer>('GET', `/gaps?from=${at(-60)}&to=${at(120)}${more}`)).body.gaps.filter(
      ({ cause }) => cause === 'set aside',
    );
  const told = await gaps('');
  expect(told.map(({ tag, from, to, seconds }) => [tag, from, to, seconds])).toEqual([
    ['Odd', at(40), at(40), 0],
    ['Odd', at(0), at(9), 540],
  ]);
  expect(told[1]!.sentence).toMatch(
    /^3 values came and were set aside: Odd keeps 64-bit whole numbers, and 1.5 is none/,
  );
  expect(await gaps('&place=Somewhere')).toHaveLength(2);
  expect([await gaps('&tag=T'), await gaps('&place=Elsewhere')]).toEqual([[], []]);
});

test('more than a queue holds is told as an overrun', async () => {
  await site.call('PUT', '/sources', {
    name: 'Fast',
    kind: 'modbus-tcp',
    connection: { host: '10.1.1.1', port: 502, unit: 1 },
  });
  const address = { area: 'holding', address: 1, type: 'float32', order: 'ABCD' };
  const start = parseInstant('2026-05-05T10:00:00Z')!;
  const tag = await site.tag({
    name: 'Quick',
    type: 'real',
    inForceSince: '2026-05-05T09:00:00Z',
    collection: { source: 'Fast', address, intervalMilliseconds: 1000 },
  });
  const { body: sources } = await site.call<{ sources: { id: number; name: string }[] }>('GET', '/sources');
  const source = sources.sources.find(({ name }) => name === 'Fast')!.id;
  const minute = 60_000_000;
  const outage = {
    source,
    tag,
    from: start + minute,
    to: start + 2 * minute,
    cause: 'tag',
    sentence: 'The source dropped values.',
    code: 'OVERFLOW',
    recoverable: false,
    within: true,
  };
  const watches = [{ source, version: 1, from: start, to: start + 10 * minute }];
  expect(
    (await site.entry({ writer: 'fast', sequence: 1, origin: 'live', watches, outages: [outage] }, null)).status,
  ).toBe(200);
  const { body } = await site.call<GapsAnswer>(
    'GET',
    '/gaps?tag=Quick&from=2026-05-05T10:00:00Z&to=2026-05-05T10:10:00Z',
  );
  expect(body.gaps.map(({ cause, seconds, code }) => [cause, seconds, code])).toEqual([['overrun', 60, 'OVERFLOW']]);
});

test('the story of a gap: what the collector said, what came later and by whom, what people said and did', async () => {
  const body = {
    tag: 'Quick',
    from: '2026-05-05T10:01:00Z',
    to: '2026-05-05T10:02:00Z',
    reason: 'the queue is too short',
  };
  expect((await site.call('POST', '/gaps/explanations', body)).status).toBe(201);
  await site.call('POST', '/samples', { samples: [{ tag: 'Quick', time: '2026-05-05T10:01:30Z', value: 7 }] });
  const story = async (query: string) =>
    (await site.call<GapStory>('GET', `/gaps/story?${query}&from=2026-05-05T10:01:00Z&to=2026-05-05T10:02:00Z`)).body;
  const told = (await story('tag=Quick')).events.map(({ at, told: from, who, sentence }) => [
    at.slice(0, 10),
    from,
    who,
    sentence,
  ]);
  const today = new Date().toISOString().slice(0, 10);
  expect(told).toEqual([
    ['2026-05-05', 'outage', '', 'The source dropped values. (OVERFLOW)'],
    ['2026-05-05', 'end', '', 'That was over.'],
    [today, 'explanation', 'admin', 'the queue is too short'],
    [today, 'values', 'admin', 'A value of it came in, entered.'],
  ]);
  // What is said of one tag is no story of its source; the outage of a tag of it is told.
  expect((await story('source=Fast')).events.map(({ told: from }) => from)).toEqual(['outage', 'end', 'values']);
  // What was done just now stands around a gap of just now.
  const { body: now } = await site.call<GapStory>('GET', '/gaps/story?source=Fast&from=now-1m&to=now');
  expect(now.events.some(({ told: from, who }) => from === 'logbook' && who === 'admin')).toBe(true);
  expect((await site.call('GET', '/gaps/story?from=now-1m&to=now')).status).toBe(400);
});
