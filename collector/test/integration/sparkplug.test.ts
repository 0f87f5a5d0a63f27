/**
 * Sparkplug B over a broker of another make (Debian's mosquitto), told by an encoder of another make (the package
 * sparkplug-payload, of the Eclipse project that keeps the standard).
 */
import { sparkplugConnection, sparkplugNode, type SparkplugAddress } from '@wide-ledger/contract';
import { Status, metricValue, readSparkplug } from '@wide-ledger/core';
import { execFile } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { connectAsync, type MqttClient } from 'mqtt';
import { get } from 'sparkplug-payload';
import { BenchEdgeNode, SALTQUAY_STATION, startBroker } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { sparkplug, type Account, type SourceOf, type Surroundings } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { tagAt } from '../tags.ts';
import { Told } from '../told.ts';

const run = promisify(execFile);
const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-sparkplug-'));
const port = await freePort();
let stop: () => Promise<void>;
let edge: BenchEdgeNode;
/** Seconds since 1970. */
let now = 1_795_800_000;

beforeAll(async () => {
  stop = await startBroker(port, folder);
});
afterAll(async () => {
  await stop();
  rmSync(folder, { recursive: true, force: true });
});
beforeEach(async () => {
  edge = new BenchEdgeNode('127.0.0.1', port, () => now);
  await edge.start();
});
afterEach(() => edge.stop());

const around: Surroundings = {
  ...ALONE,
  account: () => Promise.resolve({ report: { name: 'east' } } as Account),
};
const source = (): SourceOf<'sparkplug'> => ({
  name: 'Station',
  kind: 'sparkplug',
  connection: sparkplugConnection.parse({ port, groups: ['Emberfold'] }),
});
const TYPES: Readonly<Record<string, string>> = { Float: 'real', Boolean: 'boolean' };
const { metrics } = SALTQUAY_STATION;
/** A tag for each metric, by its number. */
const TAGS = metrics.map(({ device, name, type }, i) =>
  tagAt<SparkplugAddress>(
    i,
    { group: 'Emberfold', edge: 'Saltquay', device, metric: name },
    { type: TYPES[type] ?? 'integer' },
  ),
);
const UPTIME = 0;
const PRESSURE = 1;
const ENERGY = 4;

async function opened() {
  const session = await sparkplug.open(source(), around);
  const told = new Told();
  await session.follow(TAGS, told);
  return { session, told };
}
/** What each tag's metric is at a moment, as its type keeps it. */
const valueAt = (i: number, seconds: number): number =>
  metrics[i]!.type === 'Float' ? Math.fround(metrics[i]!.at(seconds)) : metrics[i]!.at(seconds);

test('whoever comes later asks for a birth; then what changes is told, by aliases, with its time', async () => {
  const { session, told } = await opened();
  await told.until(() => TAGS.every(({ id }) => told.of(id).length > 0));
  for (const { id } of TAGS)
    expect(told.of(id)[0]).toMatchObject({ value: valueAt(id, now), status: Status.Good, sourceTime: now * 1e6 });
  now += 2;
  await told.until(() => told.of(ENERGY).length > 1);
  expect(told.of(ENERGY)[1]).toMatchObject({ value: valueAt(ENERGY, now), sourceTime: now * 1e6 });
  expect(session.facts[0]).toEqual(['Edge nodes', '1 of 1 are alive; 1 are heard']);
  session.close();
});

test('a message that is lost is noticed, and what was in it is asked for', async () => {
  const { session, told } = await opened();
  await told.until(() => told.of(UPTIME).length > 0);
  // It was asked a moment ago, and is not asked again sooner.
  await new Promise((done) => setTimeout(done, 5100));
  edge.skip();
  const before = told.of(UPTIME).length;
  now += 2;
  // The value that came, and the birth after it.
  await told.until(() => told.of(UPTIME).length >= before + 2);
  expect(session.facts[1]![1]).toMatch(
    /^Emberfold\/Saltquay was asked to begin anew: message \d+ came after message \d+\.$/,
  );
  session.close();
});

test('a killed edge node dies by its last will: its last values are no more than that, until it is born again', async () => {
  const { session, told } = await opened();
  await told.until(() => told.of(PRESSURE).length > 0);
  await edge.stop(false);
  await told.until(() => told.of(PRESSURE).at(-1)!.status === Status.UncertainLastUsableValue);
  expect(told.of(PRESSURE).at(-1)!.value).toBe(told.of(PRESSURE).at(-2)!.value);
  now += 60;
  await edge.start();
  await told.until(() => told.of(PRESSURE).at(-1)!.status === Status.Good);
  expect(told.of(PRESSURE).at(-1)).toMatchObject({ value: valueAt(PRESSURE, now), sourceTime: now * 1e6 });
  session.close();
});

test('a device dies alone; values of the past come with their times', async () => {
  const { session, told } = await opened();
  await told.until(() => told.of(PRESSURE).length > 0);
  edge.device('Booster pumps', false);
  await told.until(() => told.of(PRESSURE).at(-1)!.status === Status.UncertainLastUsableValue);
  expect(told.of(UPTIME).at(-1)!.status).toBe(Status.Good);
  edge.device('Booster pumps', true);
  await told.until(() => told.of(PRESSURE).at(-1)!.status === Status.Good);
  const before = told.of(ENERGY).length;
  edge.history(metrics[ENERGY], [now - 100, now - 50]);
  await told.until(() => told.of(ENERGY).length === before + 2);
  expect(told.of(ENERGY).slice(before)).toMatchObject([
    { value: valueAt(ENERGY, now - 100), sourceTime: (now - 100) * 1e6 },
    { value: valueAt(ENERGY, now - 50), sourceTime: (now - 50) * 1e6 },
  ]);
  session.close();
});

test('edge nodes that wait for their host hear when it is there, is gone in order, or was killed', async () => {
  const listener = await connectAsync({ host: '127.0.0.1', port });
  const said: { online: boolean; timestamp: number }[] = [];
  let look = (): void => undefined;
  listener.on('message', (_topic, payload) => {
    const heard = JSON.parse(String(payload)) as (typeof said)[number];
    // A new connection under the same name may end the one before it in the middle of its goodbye: then its will follows.
    if (JSON.stringify(heard) !== JSON.stringify(said.at(-1))) said.push(heard);
    look();
  });
  const topic = 'spBv1.0/STATE/region';
  await listener.subscribeAsync(topic, { qos: 1 });
  const told = new Told();
  const hears = (...states: boolean[]): Promise<void> =>
    new Promise((done) => {
      look = () => JSON.stringify(said.map(({ online }) => online)) === JSON.stringify(states) && done();
      look();
    });
  const given = source();
  const hosted = { ...given, connection: { ...given.connection, hostId: 'region' } };
  const session = await sparkplug.open(hosted, around);
  await session.follow(TAGS, told);
  await hears(true);
  // The will of a connection that was lost long ago arrives late: it is there all the same.
  await listener.publishAsync(topic, JSON.stringify({ online: false, timestamp: 1 }), { qos: 1, retain: true });
  await hears(true, false, true);
  session.close();
  await hears(true, false, true, false);
  const killed = await sparkplug.open(hosted, around);
  await killed.follow(TAGS, told);
  await hears(true, false, true, false, true);
  // Killed: its line ends without a word.
  (killed as unknown as { client: MqttClient }).client.stream.destroy();
  await hears(true, false, true, false, true, false);
  expect(said.at(-1)!.timestamp).toBe(said.at(-2)!.timestamp);
  killed.close();
  await listener.endAsync(true);
});

test('what is no Sparkplug is told, and nothing else suffers', async () => {
  const { session, told } = await opened();
  await told.until(() => told.of(UPTIME).length > 0);
  const file = join(folder, 'noise');
  writeFileSync(file, Buffer.from([0xff, 0x01, 0x00, 0x99, 0x88]));
  const tell = (topic: string): Promise<unknown> =>
    run('/usr/bin/mosquitto_pub', ['-h', '127.0.0.1', '-p', String(port), '-t', topic, '-f', file]);
  await tell('spBv1.0/Emberfold/NDATA/Other');
  await tell('spBv1.0/Emberfold/NONSENSE');
  await told.until(() => (session.facts[1]?.[1] ?? '').startsWith('A message of Emberfold/Other cannot be read'));
  const before = told.of(UPTIME).length;
  now += 2;
  await told.until(() => told.of(UPTIME).length > before);
  session.close();
});

test('the tree has edge nodes, devices and metrics, with types and units; the path check says what is born', async () => {
  const browse = async (node: string | null) => (await sparkplug.browse!(source(), node, around)).nodes;
  // Nobody knows an edge node that says nothing.
  const moving = setInterval(() => (now += 2), 500);
  expect((await browse(null)).map(({ node }) => node)).toEqual(['Emberfold/Saltquay']);
  clearInterval(moving);
  const [device, ...own] = await browse('Emberfold/Saltquay');
  expect(device).toMatchObject({ name: 'Booster pumps', description: '4 metrics', hasBelow: true });
  expect(own.map(({ name }) => name)).toEqual(['bdSeq', 'Node Control/Rebirth', 'Uptime']);
  expect((await browse(device!.node)).map(({ name, type, typeWords, unit }) => [name, type, typeWords, unit])).toEqual([
    ['Energy', 'integer', 'Int64', 'Wh'],
    ['Header/Pressure', 'real', 'Float', 'bar'],
    ['Pump 1/Speed', 'integer', 'Int32', '1/min'],
    ['Pump 2/Running', 'boolean', 'Boolean', ''],
  ]);
  expect((await browse(device!.node))[0]!.node).toBe(sparkplugNode(TAGS[ENERGY]!.reading.address));
  const { passed, rungs } = await sparkplug.check(source(), around, () => undefined);
  expect([passed, rungs.at(-1)!.sentence]).toEqual([true, 'Emberfold/Saltquay: 7 metrics.']);
});

test('every type that the other make encodes is read as it was meant', () => {
  const { encodePayload } = get('spBv1.0')!;
  const encoded = encodePayload({
    timestamp: 1_795_800_000_123,
    seq: 255,
    metrics: [
      { name: 'i8', type: 'Int8', value: -5 },
      { name: 'i32', type: 'Int32', value: -123_456 },
      { name: 'u32', type: 'UInt32', value: 4_000_000_000 },
      { name: 'i64', type: 'Int64', value: -9_000_000_000 },
      { name: 'f', type: 'Float', value: 1.5 },
      { name: 'd', type: 'Double', value: 0.1 },
      { name: 'b', type: 'Boolean', value: true },
      { name: 's', type: 'String', value: 'größe' },
      { name: 'none', type: 'Int32', value: null },
      { name: 'old', type: 'Int32', value: 1, isHistorical: true, timestamp: 7, alias: 3 },
      {
        name: 'q',
        type: 'Int32',
        value: 1,
        properties: { Quality: { type: 'Int32', value: 500 }, engUnit: { type: 'String', value: 'bar' } },
      },
    ],
  });
  const { time, seq, metrics: read } = readSparkplug(encoded);
  expect([time, seq]).toEqual([1_795_800_000_123, 255]);
  expect(read.find(({ name }) => name === 'old')).toMatchObject({ historical: true, time: 7, alias: '3' });
  expect(read.find(({ name }) => name === 'none')).toMatchObject({ isNull: true });
  expect(read.find(({ name }) => name === 'q')!.properties).toEqual({ Quality: 500, engUnit: 'bar' });
  const valueOf = (wanted: string) => {
    const found = read.find(({ name }) => name === wanted)!;
    return metricValue(found, found.type);
  };
  expect(['i8', 'i32', 'u32', 'i64', 'f', 'd', 'b', 's'].map(valueOf)).toEqual([
    -5,
    -123_456,
    4_000_000_000,
    -9_000_000_000,
    1.5,
    0.1,
    1,
    'größe',
  ]);
});
