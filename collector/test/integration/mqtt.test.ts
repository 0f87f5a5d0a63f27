/** MQTT over real sockets, against a broker and clients of another make (Debian's mosquitto). */
import { Status } from '@wide-ledger/core';
import { execFile, spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connectAsync } from 'mqtt';
import { OPCUACertificateManager } from 'node-opcua';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { Relay, SALTQUAY, messageOf, startBroker } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { mqtt, type Account, type SourceOf, type Surroundings } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { Told } from '../told.ts';
import { tagAt } from '../tags.ts';

type Connection = SourceOf<'mqtt'>['connection'];
const run = promisify(execFile);

const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-mqtt-'));
const [innerPort, port, guardedPort] = [await freePort(), await freePort(), await freePort()];
const line = new Relay('broker', '127.0.0.1', port, innerPort);
const passwords = join(folder, 'passwords');
const stops: (() => Promise<void>)[] = [];

beforeAll(async () => {
  writeFileSync(passwords, '', { mode: 0o644 });
  await run('/usr/bin/mosquitto_passwd', ['-b', passwords, 'meter', 'right']);
  stops.push(await startBroker(innerPort, folder));
  const guard = `allow_anonymous false\npassword_file ${passwords}\n`;
  stops.push(await startBroker(guardedPort, folder, guard));
  await line.open();
}, 60_000);
afterAll(async () => {
  await line.stop();
  for (const stop of stops) await stop();
  rmSync(folder, { recursive: true, force: true });
}, 60_000);

/** How somebody else reaches the broker, to tell of a topic. */
const telling = (topic: string): string[] => ['-h', '127.0.0.1', '-p', String(innerPort), '-q', '1', '-t', topic];
const TELLER = '/usr/bin/mosquitto_pub';
const tell = (topic: string, message: string, ...more: string[]): Promise<unknown> =>
  run(TELLER, [...telling(topic), '-m', message, ...more]);
const tellFile = (topic: string, file: string): Promise<unknown> => run(TELLER, [...telling(topic), '-f', file]);
/** Many messages from one client: a line each. */
async function tellMany(topic: string, messages: readonly string[]): Promise<void> {
  const child = spawn(TELLER, [...telling(topic), '-l']);
  child.stdin.end(messages.join('\n') + '\n');
  await once(child, 'exit');
}

const secrets: Record<number, string> = { 1: 'right', 2: 'wrong' };
const around = (name = 'east'): Surroundings => ({
  ...ALONE,
  secret: (id) => (id === null ? null : (secrets[id] ?? null)),
  account: () => Promise.resolve({ report: { name } } as Account),
});
const source = (over: Partial<Connection> = {}): SourceOf<'mqtt'> => ({
  name: 'Meters',
  kind: 'mqtt',
  connection: {
    host: '127.0.0.1',
    port,
    encrypted: false,
    authority: '',
    version: '3.1.1',
    user: '',
    password: null,
    topics: ['plant/#'],
    payload: 'json',
    expression: '',
    time: 'ts',
    zone: '',
    dates: 'ymd',
    status: '',
    keptSeconds: 0,
    timeoutMilliseconds: 10_000,
    ...over,
  },
});
const tag = (id: number, topic: string, field: string, over: Parameters<typeof tagAt>[2] = {}) =>
  tagAt(id, { topic, field }, over as object);

const open = (over: Partial<Connection> = {}, name?: string) => mqtt.open(source(over), around(name));
const at = (seconds: number): string => new Date(Date.UTC(2026, 10, 27) + seconds * 1000).toISOString();
const micros = (seconds: number): number => (Date.UTC(2026, 10, 27) / 1000 + seconds) * 1e6;

describe.each(['3.1.1', '5'] as const)('by MQTT %s', (version) => {
  test('several tags from one message, each with its time; what nobody takes is counted', async () => {
    const session = await open({ version, status: 'q' });
    const told = new Told();
    const topic = `plant/${version}/pump`;
    await session.follow(
      [
        tag(1, topic, 'flow', { low: 0, high: 10 }),
        tag(2, topic, 'deep.x[1]'),
        tag(3, topic, 'name', { type: 'text' }),
        tag(4, topic, 'gone'),
      ],
      told,
    );
    await tell(topic, JSON.stringify({ ts: at(0), q: 'ok', flow: 3.5, deep: { x: [0, 7] }, name: 'P1' }));
    await tell(topic, JSON.stringify({ ts: at(1), q: 'suspect', flow: 11, deep: { x: [0, 8] }, name: 'P1' }));
    await tell(`plant/${version}/other`, '1');
    await told.until(() => told.of(3).length === 2 && session.traffic.requests === 3);
    expect(told.of(1).map(({ value, status, sourceTime }) => [value, status, sourceTime])).toEqual([
      [3.5, Status.Good, micros(0)],
      [11, Status.Uncertain, micros(1)],
    ]);
    expect([told.of(2).map(({ value }) => value), told.of(3).map(({ value }) => value)]).toEqual([
      [7, 8],
      ['P1', 'P1'],
    ]);
    expect(told.of(4)[0]).toMatchObject({ value: null, fault: { sentence: 'The message does not have this field.' } });
    expect(session.facts).toContainEqual(['Messages', '3, of which 1 have no tag']);
    session.close();
  });

  test('what passes while the line is cut is kept by the broker, and comes when it is whole again', async () => {
    const name = `cut ${version}`;
    const topic = `plant/${version}/cut`;
    const kept = { version, keptSeconds: 600 };
    const first = await open(kept, name);
    const told = new Told();
    await first.follow([tag(1, topic, 'v')], told);
    await tell(topic, JSON.stringify({ ts: at(0), v: 0 }));
    await told.until(() => told.of(1).length === 1);
    await line.set({ kind: 'cut' });
    await told.until(() => told.error !== null);
    await tellMany(
      topic,
      Array.from({ length: 200 }, (_, i) => JSON.stringify({ ts: at(1 + i), v: 1 + i })),
    );
    await expect(open(kept, name)).rejects.toThrow(/Nothing answers|closed|refused/);
    await line.set(null);
    const again = await open(kept, name);
    await again.follow([tag(1, topic, 'v')], told);
    // What was not acknowledged when the line was cut comes again: with the same time it is the same value.
    const byTime = (): Map<number, unknown> => new Map(told.of(1).map(({ sourceTime, value }) => [sourceTime!, value]));
    await told.until(() => byTime().size === 201);
    expect([...byTime()].sort(([a], [b]) => a - b)).toEqual(Array.from({ length: 201 }, (_, i) => [micros(i), i]));
    expect(again.facts[1]![1]).toMatch(/^taken up again/);
    again.close();
    // Under another name nothing was kept.
    const other = await open(kept, `${name} other`);
    expect(other.facts[1]![1]).toMatch(/^new/);
    other.close();
  });
});

test('a message that is broken, of another kind or far too large says so, and the others come', async () => {
  const session = await open();
  const told = new Told();
  await session.follow([tag(1, 'plant/a', 'v'), tag(2, 'plant/b', 'v')], told);
  await tell('plant/a', '{"v":');
  await tell('plant/a', JSON.stringify({ ts: at(0), v: 'many' }));
  const file = join(folder, 'large.json');
  writeFileSync(file, JSON.stringify({ ts: at(0), v: 1, more: 'x'.repeat(16_000_000) }));
  await tellFile('plant/a', file);
  await tellMany(
    'plant/a',
    Array.from({ length: 1000 }, (_, i) => `${'['.repeat(i % 50)}${i}`),
  );
  await tell('plant/b', JSON.stringify({ ts: at(1), v: 2 }));
  await told.until(() => told.of(2).length === 1 && told.of(1).length === 1003);
  const faults = new Set(told.of(1).map(({ fault }) => fault?.sentence.replace(/\d+/g, 'n').slice(0, 40)));
  expect(told.of(1).every(({ value, fault }) => value === null && fault !== null)).toBe(true);
  expect([...faults].some((words) => words?.startsWith('The message is no JSON'))).toBe(true);
  expect([...faults].some((words) => words?.startsWith('The message has n bytes'))).toBe(true);
  expect([...faults].some((words) => words?.startsWith('The source holds "many", which is not'))).toBe(true);
  expect(told.of(2)[0]).toMatchObject({ value: 2, status: Status.Good });
  session.close();
}, 60_000);

test('texts and lines; what the broker kept from before is not taken for fresh', async () => {
  await tell('plant/kept', '21.5', '-r');
  const texts = await open({ payload: 'text', time: '' });
  const told = new Told();
  await texts.follow([tag(1, 'plant/kept', ''), tag(2, 'plant/mode', '', { type: 'text' })], told);
  await told.until(() => told.of(1).length === 1);
  expect(told.of(1)[0]).toMatchObject({ value: 21.5, status: Status.UncertainLastUsableValue, sourceTime: null });
  await tell('plant/kept', '22');
  await tell('plant/mode', 'running');
  await told.until(() => told.of(2).length === 1 && told.of(1).length === 2);
  expect([told.of(1)[1], told.of(2)[0]]).toMatchObject([{ value: 22, status: Status.Good }, { value: 'running' }]);
  texts.close();
  const lines = await open({ payload: 'csv', time: '[0]', status: '[2]' });
  await lines.follow([tag(3, 'plant/line', '[1]')], told);
  await tell('plant/line', `${at(5)};3.25;ok`);
  await told.until(() => told.of(3).length === 1);
  expect(told.of(3)[0]).toMatchObject({ value: 3.25, status: Status.Good, sourceTime: micros(5) });
  lines.close();
});

test('a list in a message is a value each', async () => {
  const session = await open({ time: 'rows[*].t' });
  const told = new Told();
  await session.follow([tag(1, 'plant/list', 'rows[*].v')], told);
  await tell('plant/list', JSON.stringify({ rows: [0, 1, 2].map((i) => ({ t: at(i), v: i * 10 })) }));
  await told.until(() => told.of(1).length === 3);
  expect(told.of(1).map(({ value, sourceTime }) => [value, sourceTime])).toEqual(
    [0, 1, 2].map((i) => [i * 10, micros(i)]),
  );
  session.close();
});

test('an expression puts another message in the place of each, in their order; where it fails is said', async () => {
  const expression = '$merge([{"ts": t}, readings.{$split($topic, "/")[1] & "." & id: val / 10}])';
  const session = await open({ expression });
  const told = new Told();
  await session.follow([tag(1, 'plant/odd', '["odd.a"]'), tag(2, 'plant/odd', '["odd.b"]')], told);
  const odd = (second: number, a: unknown): string =>
    JSON.stringify({
      t: at(second),
      readings: [
        { id: 'a', val: a },
        { id: 'b', val: second },
      ],
    });
  await tellMany('plant/odd', [
    ...Array.from({ length: 300 }, (_, i) => odd(i, i * 10)),
    odd(300, 'none'),
    odd(301, 5),
  ]);
  await told.until(() => told.of(1).length === 302);
  expect(
    told
      .of(1)
      .slice(0, 300)
      .map(({ value, sourceTime }) => [value, sourceTime]),
  ).toEqual(Array.from({ length: 300 }, (_, i) => [i, micros(i)]));
  expect(told.of(1)[300]!.fault?.sentence).toMatch(/^The expression fails on this message: .*\/.*\.$/);
  expect([told.of(1)[301]!.value, told.of(2)[301]!.value]).toEqual([0.5, 30.1]);
  expect(session.facts.at(-1)).toEqual(['Expression', expect.stringMatching(/^takes \d+\.\d\d ms of each message$/)]);
  session.close();
  await tell('shapes/odd', odd(0, 70), '-r');
  const { nodes } = await mqtt.browse!(source({ expression, topics: ['shapes/#'] }), 'shapes/odd#', around());
  expect(nodes.map(({ name, value }) => [name, value])).toEqual([
    ['ts', at(0)],
    ['["odd.a"]', '7'],
    ['["odd.b"]', '0'],
  ]);
});

describe('a value written by a message', () => {
  const commanded = (over: object = {}) =>
    tagAt(
      1,
      { topic: 'plant/valve', field: 'open', command: 'plant/valve/set', ...over },
      {
        reading: { scaling: { factor: 0.1, offset: 0 } },
      },
    );

  test('goes to the topic of its own, and is read back where it is told', async () => {
    const session = await open();
    const told = new Told();
    const valve = commanded({ commandMessage: '{"to": {value}}' });
    await session.follow([valve], told);
    await expect(session.readNow(valve)).rejects.toThrow(/^Nothing was told of it/);
    await tell('plant/valve', JSON.stringify({ ts: at(0), open: 250 }));
    await told.until(() => told.of(1).length === 1);
    expect((await session.readNow(valve)).value).toBe(25);
    const device = await connectAsync({ host: '127.0.0.1', port: innerPort });
    await device.subscribeAsync('plant/valve/set', { qos: 1 });
    const asked: string[] = [];
    device.on('message', (_topic, payload) => {
      asked.push(payload.toString());
      const { to } = JSON.parse(payload.toString()) as { to: number };
      // What it held when the command came is told once more before.
      void device.publishAsync('plant/valve', JSON.stringify({ ts: at(1), open: 250 }), { qos: 1 });
      void device.publishAsync('plant/valve', JSON.stringify({ ts: at(2), open: to }), { qos: 1 });
    });
    await session.write(valve, 40);
    expect([asked, (await session.readNow(valve)).value]).toEqual([['{"to": 400}'], 40]);
    await device.endAsync();
    session.close();
  });

  test('is refused without a topic; where the device is silent, nobody knows', async () => {
    const session = await open({ timeoutMilliseconds: 500 });
    const told = new Told();
    const [silent, plain] = [commanded(), commanded({ command: '' })];
    await session.follow([silent], told);
    await expect(session.write(plain, 40)).rejects.toThrow('Its address names no topic that takes new values.');
    await expect(session.write(silent, 40)).rejects.toThrow(
      'The broker took the command, and the device told nothing within 0.5 s.',
    );
    session.close();
  });
});

describe('the path', () => {
  const walk = async (over: Partial<Connection> = {}) => {
    const { rungs } = await mqtt.check(source(over), around(), () => undefined);
    return {
      outcomes: rungs.map(({ outcome }) => outcome[0]).join(''),
      rungs,
      failed: rungs.find(({ outcome }) => outcome === 'failed'),
    };
  };
  test('is climbed to a first message, and what it says', async () => {
    await tell('plant/kept', '{"v":1}', '-r');
    const { outcomes, rungs } = await walk();
    expect(outcomes).toBe('pppppp');
    expect(rungs.map(({ sentence }) => sentence).join('\n')).toMatch(
      /by MQTT 3\.1\.1\. The line is open[\s\S]*plant\/kept: \{"v":1\}/,
    );
  });
  test('ends where nobody listens, and where a user is not let in', async () => {
    expect(await walk({ port: 1 })).toMatchObject({ outcomes: 'pfnnnn' });
    for (const version of ['3.1.1', '5'] as const) {
      const wrong = await walk({ port: guardedPort, user: 'meter', password: 2, version });
      expect([wrong.outcomes, wrong.failed!.sentence]).toEqual([
        'pppfnn',
        expect.stringContaining('Check user and password'),
      ]);
      expect((await walk({ port: guardedPort, user: 'meter', password: 1, version })).outcomes).toBe('pppppp');
    }
  });
});

test('an encrypted line: its certificate is checked against the authority that is given, and against the name', async () => {
  const manager = new OPCUACertificateManager({ rootFolder: join(folder, 'authority') });
  await manager.initialize();
  const made = async (name: string): Promise<string> => {
    const outputFile = join(folder, `${name}.pem`);
    const to = { applicationUri: `urn:${name}`, dns: [], ip: ['127.0.0.1'], subject: `/CN=${name}` };
    await manager.createSelfSignedCertificate({ ...to, outputFile, startDate: new Date(), validity: 10 });
    return outputFile;
  };
  const [broker, stranger] = [await made('broker'), await made('stranger')];
  const securePort = await freePort();
  const lines = [`certfile ${broker}`, `keyfile ${manager.privateKey}`, 'allow_anonymous true'];
  stops.push(await startBroker(securePort, folder, lines.join('\n')));
  const failure = async (over: Partial<Connection>): Promise<unknown> =>
    open({ port: securePort, encrypted: true, ...over }).then(
      (session) => (session.close(), null),
      (error: Error) => error.message,
    );
  const authority = readFileSync(broker, 'utf8');
  expect(await failure({ authority })).toBeNull();
  // Pasted into one line it is the same.
  expect(await failure({ authority: authority.replace(/\n/g, ' ') })).toBeNull();
  for (const wrong of [
    { authority: '' },
    { authority: readFileSync(stranger, 'utf8') },
    { authority, host: 'localhost' },
  ])
    expect(await failure(wrong)).toMatch(/^The certificate of the broker at .* is not trusted \([A-Z_]+\)\./);
  expect(await failure({ encrypted: false })).toMatch(/broke the connection off|closed/);
}, 60_000);

test('a message is acknowledged once it is on the disk: what a kill takes from memory the broker sends again', async () => {
  const topic = 'plant/acknowledged';
  const kept = { keptSeconds: 600 };
  /** A collector whose disk does not answer, and that is killed then. */
  const killed = await open(kept, 'killed');
  const before = new Told();
  before.kept = () => new Promise(() => undefined);
  await killed.follow([tag(1, topic, 'v')], before);
  await tellMany(
    topic,
    Array.from({ length: 5 }, (_, i) => JSON.stringify({ ts: at(i), v: i })),
  );
  await before.until(() => before.of(1).length === 5);
  await line.set({ kind: 'cut' });
  await before.until(() => before.error !== null);
  await line.set(null);
  const again = await open(kept, 'killed');
  const after = new Told();
  let asked = 0;
  after.kept = () => Promise.resolve(void asked++);
  await again.follow([tag(1, topic, 'v')], after);
  await after.until(() => after.of(1).length === 5);
  expect(after.of(1).map(({ value }) => value)).toEqual([0, 1, 2, 3, 4]);
  // More than the broker sends ahead: it goes on only as it hears that they arrived.
  await tellMany(
    topic,
    Array.from({ length: 300 }, (_, i) => JSON.stringify({ ts: at(10 + i), v: 10 + i })),
  );
  await after.until(() => after.of(1).length === 305);
  expect(asked).toBeGreaterThan(0);
  // These are acknowledged in the turn in which they came: by the time another one is here, that is done.
  await tell(topic, JSON.stringify({ ts: at(400), v: 400 }));
  await after.until(() => after.of(1).length === 306);
  again.close();
  const last = await open(kept, 'killed');
  const nothing = new Told();
  await last.follow([tag(1, topic, 'v')], nothing);
  await tell(topic, JSON.stringify({ ts: at(900), v: 900 }));
  await nothing.until(() => nothing.of(1).some(({ value }) => value === 900));
  // The last one of before may come once more: nobody waited for its acknowledgement.
  expect(nothing.of(1).flatMap(({ value }) => (value === 400 ? [] : [value]))).toEqual([900]);
  last.close();
}, 60_000);

test('whole numbers of 64 bits and numbers in texts keep every digit; what a tag cannot hold is told', async () => {
  const session = await open({ time: '' });
  const told = new Told();
  const topic = 'plant/exact';
  await session.follow(
    [
      tag(1, topic, 'most', { type: 'integer' }),
      tag(2, topic, 'odd', { type: 'integer' }),
      tag(3, topic, 'over', { type: 'integer' }),
      tag(4, topic, 'text', { type: 'real' }),
      tag(5, topic, 'over', { type: 'real' }),
    ],
    told,
  );
  await tell(
    topic,
    '{"most": 9223372036854775807, "odd": -9007199254740993, "over": 9223372036854775808, "text": "1.25"}',
  );
  await told.until(() => told.of(5).length > 0);
  expect([1, 2, 3, 4, 5].map((id) => told.of(id)[0]!.value)).toEqual([
    9223372036854775807n,
    -9007199254740993n,
    null,
    1.25,
    2 ** 63,
  ]);
  expect(told.of(3)[0]!.fault).toMatchObject({ code: 'TOO_LARGE' });
  session.close();
});

test('what passes is a tree: levels, messages, fields with what they hold', async () => {
  const [meter] = SALTQUAY.meters;
  await tell(meter!.topic, messageOf(meter!, 1_795_780_800), '-r');
  await tell('saltquay/gateway/status', 'online', '-r');
  const over = source({ topics: ['saltquay/#'] });
  const below = async (node: string | null) => (await mqtt.browse!(over, node, around())).nodes;
  expect((await below(null)).map(({ node, hasBelow }) => [node, hasBelow])).toEqual([['saltquay/#', true]]);
  expect((await below('saltquay/#')).map(({ name }) => name)).toEqual(['exchange', 'gateway']);
  const [message] = await below('saltquay/exchange/1/#');
  expect(message).toMatchObject({ node: 'saltquay/exchange/1/meter#', hasBelow: true, type: null });
  const fields = await below(message!.node);
  expect(fields.map(({ name, type }) => [name, type])).toEqual([
    ['ts', 'text'],
    ['quality', 'text'],
    ['flow', 'real'],
    ['temperature.supply', 'real'],
    ['temperature.return', 'real'],
    ['power', 'real'],
    ['heat', 'real'],
  ]);
  expect(fields[3]!.node).toBe('saltquay/exchange/1/meter#temperature.supply');
  expect((await below('saltquay/gateway/#'))[0]).toMatchObject({
    description: expect.stringContaining('no JSON') as unknown,
  });
  const { messages, topics } = await mqtt.messages!(over, around());
  expect([topics, messages.find(({ topic }) => topic === meter!.topic)!.payload]).toEqual([
    2,
    messageOf(meter!, 1_795_780_800),
  ]);
});

test('a storm of 100,000 topics: what is followed comes, what is looked through is bounded', async () => {
  const storm = 100_000;
  const everything = { topics: ['storm/#'] };
  const session = await open(everything);
  const told = new Told();
  await session.follow([tag(1, 'storm/eye', 'v')], told);
  // Somebody looks through it all the while.
  await mqtt.messages!(source(everything), around());
  const sender = await connectAsync({ host: '127.0.0.1', port: innerPort });
  for (let n = 0; n < storm; n++) {
    const sent = sender.publishAsync(`storm/${n}`, '{"v":1}', { qos: 0 });
    if (n % 1000 === 0) await sent;
  }
  await sender.publishAsync('storm/eye', JSON.stringify({ ts: at(0), v: 7 }), { qos: 1 });
  await told.until(() => told.of(1).length > 0);
  expect(told.of(1)).toMatchObject([{ value: 7, status: Status.Good }]);
  expect(session.facts[0]).toEqual(['Messages', `${storm + 1}, of which ${storm} have no tag`]);
  const { nodes, more } = await mqtt.browse!(source(everything), 'storm/#', around());
  expect([nodes.length, more]).toEqual([2000, true]);
  expect((await mqtt.messages!(source(everything), around())).topics).toBe(20_000);
  await sender.endAsync();
  session.close();
}, 120_000);
