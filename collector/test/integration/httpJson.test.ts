/** JSON over HTTP over real sockets: the bench's weather station, and a service with every bad habit. */
import { Status } from '@wide-ledger/core';
import { once } from 'node:events';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { ServiceDevice } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { SourceAway, httpJson, type SourceOf, type Surroundings } from '../../src/index.ts';
import { retryAfter } from '../../src/kinds/httpJson/service.ts';
import { ALONE } from '../alone.ts';
import { tagAt } from '../tags.ts';

type Connection = SourceOf<'http-json'>['connection'];
type Manner = (request: IncomingMessage, response: ServerResponse) => void;

/** How it answers, by the path; what it was asked. */
const manners = new Map<string, Manner>();
const asked: { readonly url: string; readonly headers: IncomingMessage['headers'] }[] = [];
const service = createServer((request, response) => {
  asked.push({ url: request.url!, headers: request.headers });
  const manner = manners.get(request.url!);
  if (manner) manner(request, response);
  else response.writeHead(404).end('nothing here');
});
const json =
  (body: unknown, headers: Record<string, string> = {}): Manner =>
  (_request, response) =>
    void response.writeHead(200, { 'content-type': 'application/json', ...headers }).end(JSON.stringify(body));
let base: string;
const stationPort = await freePort();
const station = new ServiceDevice('127.0.0.1', stationPort, await freePort(), () => 1_795_780_803);

beforeAll(async () => {
  service.listen(0, '127.0.0.1');
  await once(service, 'listening');
  base = `http://127.0.0.1:${(service.address() as AddressInfo).port}`;
  await station.start();
});
beforeEach(() => {
  asked.length = 0;
  manners.clear();
  manners.set('/', json({ ok: true }));
});
afterAll(async () => {
  await station.stop();
  service.closeAllConnections();
  service.close();
});

const secrets: Record<number, string> = { 1: 'key-1' };
const around: Surroundings = { ...ALONE, secret: (id) => (id === null ? null : (secrets[id] ?? null)) };
const source = (over: Partial<Connection> = {}): SourceOf<'http-json'> => ({
  name: 'Service',
  kind: 'http-json',
  connection: {
    base,
    requests: ['/'],
    signIn: 'none',
    user: '',
    password: null,
    expression: '',
    time: 'ts',
    zone: '',
    dates: 'ymd',
    status: '',
    next: '',
    timeoutMilliseconds: 5000,
    ...over,
  },
});
const tag = (id: number, request: string, field: string, over: { holdsSeconds?: number } = {}) =>
  tagAt(id, { request, field, ...over });
const open = (over: Partial<Connection> = {}) => httpJson.open(source(over), around);
const requestsTo = (url: string): number => asked.filter((one) => one.url === url).length;

test('several tags of one answer are one request; their time is that of the answer', async () => {
  const session = await httpJson.open(
    source({ base: `http://127.0.0.1:${stationPort}`, requests: ['/weather'] }),
    around,
  );
  const before = station.state.requests;
  const samples = await session.read([
    tag(1, '/weather', 'temperature'),
    tag(2, '/weather', 'wind.speed'),
    tag(3, '/weather', 'gone'),
  ]);
  expect(station.state.requests).toBe(before + 1);
  const told = new Map(station.state.points.map(({ name, raw }) => [name, Number(raw)]));
  // The station looks every five seconds.
  const sourceTime = 1_795_780_800_000_000;
  expect(samples).toMatchObject([
    { tag: 1, value: told.get('SQ-TT-501'), status: Status.Good, sourceTime },
    { tag: 2, value: told.get('SQ-ST-503'), status: Status.Good, sourceTime },
    { tag: 3, value: null, fault: { sentence: 'The message does not have this field.' } },
  ]);
  session.close();
});

test('a request that is slow or fails costs its own tags, and none of the others', async () => {
  manners.set('/quick', json({ v: 1 }));
  let answerSlow: (() => void) | null = null;
  manners.set('/slow', (request, response) => {
    answerSlow = () => json({ v: 2 })(request, response);
  });
  const session = await open({ time: '', timeoutMilliseconds: 60_000 });
  const pace = { reading: { intervalMilliseconds: 300 } };
  const tags = [tagAt(1, { request: '/quick', field: 'v' }, pace), tagAt(2, { request: '/slow', field: 'v' }, pace)];
  const read = async () => (await session.read(tags)).map(({ value, fault }) => [value, fault?.code]);
  expect(await read()).toEqual([
    [1, undefined],
    [null, 'LATE'],
  ]);
  expect(await read()).toEqual([
    [1, undefined],
    [null, 'LATE'],
  ]);
  // It is asked once, and taken when it comes.
  expect([requestsTo('/quick'), requestsTo('/slow')]).toEqual([2, 1]);
  answerSlow!();
  for (let values = await read(); values[1]![0] !== 2; values = await read()) expect(values[0]).toEqual([1, undefined]);
  session.close();
  // One of which nobody hears in time fails by itself; all of them together are a source that is away.
  manners.set('/never', () => undefined);
  const short = await open({ time: '', timeoutMilliseconds: 200 });
  const never = tagAt(3, { request: '/never', field: 'v' }, { reading: { intervalMilliseconds: 60_000 } });
  expect((await short.read([tags[0]!, never])).map(({ value, fault }) => [value, fault?.code])).toEqual([
    [1, undefined],
    [null, 'NO_ANSWER'],
  ]);
  await expect(short.read([never])).rejects.toMatchObject({ code: 'NO_ANSWER' });
  short.close();
});

test('a service says for how long it is to be left alone, in seconds or by a date', () => {
  // RFC 9110, 10.2.3 gives both forms.
  const now = Date.parse('Fri, 31 Dec 1999 23:59:00 GMT');
  expect(
    ['Fri, 31 Dec 1999 23:59:59 GMT', '120', '0', 'soon', '', null, '99999999'].map((said) => retryAfter(said, now)),
  ).toEqual([59, 120, 1, null, null, null, 3600]);
});

test('what says that it holds is not asked again; what may have changed is asked whether it has', async () => {
  manners.set('/plate', json({ serial: 7 }, { 'cache-control': 'max-age=3600' }));
  manners.set('/held', json({ v: 1 }));
  let version = 1;
  manners.set('/etag', (request, response) => {
    const etag = `"${version}"`;
    if (request.headers['if-none-match'] === etag) response.writeHead(304, { etag }).end();
    else json({ v: version }, { etag })(request, response);
  });
  const session = await open({ time: '' });
  const tags = [tag(1, '/plate', 'serial'), tag(2, '/held', 'v', { holdsSeconds: 600 }), tag(3, '/etag', 'v')];
  const values = async (): Promise<unknown[]> => (await session.read(tags)).map(({ value }) => value);
  expect(await values()).toEqual([7, 1, 1]);
  expect(await values()).toEqual([7, 1, 1]);
  version = 2;
  expect(await values()).toEqual([7, 1, 2]);
  expect(['/plate', '/held', '/etag'].map(requestsTo)).toEqual([1, 1, 3]);
  expect(asked.filter(({ url }) => url === '/etag').map(({ headers }) => headers['if-none-match'])).toEqual([
    undefined,
    '"1"',
    '"1"',
  ]);
});

test('each bad habit is a sentence, of the tags that it concerns alone', async () => {
  manners.set('/good', json({ v: 1 }));
  manners.set('/broken', (_, response) => void response.writeHead(500).end('stack'));
  manners.set('/text', (_, response) => void response.writeHead(200).end('<html>'));
  manners.set('/moved', (_, response) => void response.writeHead(302, { location: '/good' }).end());
  manners.set('/often', (_, response) => void response.writeHead(429, { 'retry-after': '60' }).end());
  manners.set('/huge', (_, response) => void response.writeHead(200).end(`{"v":1,"x":"${'y'.repeat(16_000_000)}"}`));
  const session = await open();
  const of = ['/good', '/broken', '/text', '/moved', '/often', '/huge', '/missing'];
  const tags = of.map((request, i) => tag(i, request, 'v'));
  const samples = await session.read(tags);
  expect(samples.map(({ value }) => value)).toEqual([1, null, null, null, null, null, null]);
  const faults = samples.map(({ fault }) => fault?.sentence ?? '');
  for (const [i, words] of [
    '',
    'answered 500',
    'does not answer in JSON',
    'sends on to /good',
    'left alone for 60 s',
    'more than',
    'answered 404',
  ].entries())
    expect(faults[i]).toContain(words);
  // Who asked to be left alone is.
  await session.read(tags);
  expect(requestsTo('/often')).toBe(1);
  expect(requestsTo('/broken')).toBe(2);
});

test('an expression puts another message in the place of each answer; where it fails is said', async () => {
  manners.set(
    '/list',
    json({
      ts: '2026-11-27T00:00:00Z',
      rows: [
        { n: 'a', v: 1 },
        { n: 'b', v: 2 },
      ],
    }),
  );
  manners.set('/none', json({ rows: [{ n: 1 }] }));
  const expression = '$merge([{"ts": ts}, rows.{n: v}])';
  const session = await open({ expression });
  const samples = await session.read([tag(1, '/list', 'a'), tag(2, '/list', 'b'), tag(3, '/none', 'a')]);
  expect(samples).toMatchObject([
    { value: 1, sourceTime: Date.UTC(2026, 10, 27) * 1000 },
    { value: 2 },
    { value: null, fault: { sentence: expect.stringMatching(/^\/none: The expression fails on this message: /) } },
  ]);
  const { nodes } = await httpJson.browse!(source({ expression, requests: ['/list'] }), '/list#', around);
  expect(nodes.map(({ name }) => name)).toEqual(['ts', 'a', 'b']);
  session.close();
});

test('who is not let in, meets nobody or waits in vain is away as a whole', async () => {
  manners.set('/', (_, response) => void response.writeHead(401).end());
  await expect(open()).rejects.toThrow('does not let this user in (401)');
  manners.set('/', () => undefined);
  await expect(open({ timeoutMilliseconds: 200 })).rejects.toThrow('did not answer');
  // A body that never ends is no answer either.
  manners.set('/', (_, response) => void response.writeHead(200).write('{"v":'));
  await expect(open({ timeoutMilliseconds: 200 })).rejects.toThrow(SourceAway);
  const nobody = await freePort();
  await expect(open({ base: `http://127.0.0.1:${nobody}` })).rejects.toThrow(`Nothing answers on 127.0.0.1:${nobody}`);
});

test.each([
  ['basic', 'reader', 'authorization', `Basic ${Buffer.from('reader:key-1').toString('base64')}`],
  ['bearer', '', 'authorization', 'Bearer key-1'],
  ['header', 'x-plant-key', 'x-plant-key', 'key-1'],
] as const)('it signs in by %s', async (signIn, user, header, value) => {
  await open({ signIn, user, password: 1 });
  expect(asked[0]!.headers[header]).toBe(value);
});

test('the path is climbed to a first value, and its answers are a tree', async () => {
  const weather = source({ base: `http://127.0.0.1:${stationPort}`, requests: ['/weather', '/nameplates/1'] });
  const check = await httpJson.check(weather, around, () => undefined);
  expect(check.rungs.map(({ outcome }) => outcome[0]).join('')).toBe('pppppp');
  expect(check.rungs.at(-1)!.sentence).toBe('/weather ts: "2026-11-27T12:00:00.000Z"');
  const below = async (node: string | null) => (await httpJson.browse!(weather, node, around)).nodes;
  expect((await below(null)).map(({ node, hasBelow }) => [node, hasBelow])).toEqual([
    ['/weather#', true],
    ['/nameplates/1#', true],
  ]);
  expect((await below('/weather#')).map(({ node, type }) => [node, type])).toContainEqual([
    '/weather#wind.speed',
    'real',
  ]);
  const missing = await httpJson.check(
    source({ base: `http://127.0.0.1:${stationPort}`, requests: ['/nothing'] }),
    around,
    () => undefined,
  );
  expect(missing.rungs.find(({ outcome }) => outcome === 'failed')).toMatchObject({ rung: 'browse', code: 'HTTP_404' });
  manners.set('/', (_, response) => void response.writeHead(403).end());
  const shut = await httpJson.check(source(), around, () => undefined);
  expect(shut.rungs.find(({ outcome }) => outcome === 'failed')).toMatchObject({ rung: 'sign-in', code: 'HTTP_403' });
});

describe('answers in pages', () => {
  const tags = [tag(1, '/list', 'rows[*].v'), tag(2, '/list', 'total')];
  const page = (v: number, next: unknown): Manner => json({ total: 3, rows: [{ ts: at(v), v }], next });
  const at = (second: number): string => new Date(Date.UTC(2026, 10, 27, 12, 0, second)).toISOString();
  const valuesOf = async (): Promise<unknown[]> => {
    const session = await open({ next: 'next', time: 'rows[*].ts' });
    const samples = await session.read(tags);
    return [
      samples.filter((one) => one.tag === 1).map(({ value }) => value),
      samples.flatMap(({ fault }) => fault ?? []),
    ];
  };

  test('are followed to the last, by addresses of the same service, whole or relative', async () => {
    manners.set('/list', page(1, '/list?page=2'));
    manners.set('/list?page=2', page(2, `${base}/list?page=3`));
    manners.set('/list?page=3', page(3, null));
    expect((await valuesOf())[0]).toEqual([1, 2, 3]);
  });

  test('are not followed to somebody else, in circles, or where one is missing', async () => {
    manners.set('/list', page(1, 'http://elsewhere.test/list'));
    expect((await valuesOf())[1]).toMatchObject([{ code: 'NEXT_PAGE' }, { code: 'NEXT_PAGE' }]);
    manners.set('/list', page(1, '/list?page=2'));
    manners.set('/list?page=2', page(2, '/list'));
    expect((await valuesOf())[1]).toMatchObject([{ sentence: 'The pages of /list go round: /list comes twice.' }, {}]);
    manners.delete('/list?page=2');
    expect((await valuesOf())[1]).toMatchObject([{ code: 'HTTP_404' }, {}]);
  });
});
