/** Far ends that are no site: a table of another database, files by day, a broker; over the real protocols. */
import type {
  Job,
  LinkCheck,
  LinkLogAnswer,
  LinkTry,
  LinksAnswer,
  ReconcilingReport,
  SendingLink,
} from '@wide-ledger/contract';
import { Status, commandPayload } from '@wide-ledger/core';
import { Aedes } from 'aedes';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Socket } from 'node:net';
import { join } from 'node:path';
import pg from 'pg';
import { get } from 'sparkplug-payload';
import { freePort } from '../../../launch/ground.mjs';
import { createDatabase } from './testDatabase.ts';
import { TestSite, frameOf } from './testSite.ts';
import { until } from './until.ts';

const site = await TestSite.open({ WIDE_LEDGER_SITE: 'Thornmere' });
const other = await createDatabase();
const table = new pg.Client(other.url);
await table.connect();
const brokerPort = await freePort();
const broker = await Aedes.createBroker();
const lines = new Set<Socket>();
const gate = createServer((line) => {
  lines.add(line);
  broker.handle(line);
});
await new Promise<void>((done) => gate.listen(brokerPort, '127.0.0.1', done));
afterAll(async () => {
  await site.close();
  await table.end();
  await other.drop();
  broker.close();
  gate.close();
});

const START = Date.UTC(2026, 2, 1, 6) * 1000;
const SECOND = 1_000_000;
const link = async (name: string): Promise<SendingLink> =>
  (await site.call<LinksAnswer>('GET', '/links')).body.sending.find((one) => one.name === name)!;
const waitUntil = (what: string, check: () => Promise<boolean> | boolean): Promise<void> =>
  until(what, check, async () => (await site.call('GET', '/links')).body);
const level = (name: string) =>
  waitUntil(`${name} is level`, async () => {
    const { waiting, state } = await link(name);
    return waiting === 0 && state === 'level';
  });
let sequence = 0;
const deliver = (tag: number, rows: Parameters<typeof frameOf>[1], texts?: string[]) =>
  site.entry({ writer: 'w', sequence: ++sequence, origin: 'live' }, frameOf(tag, rows, texts));

const flow = await site.tag({ name: 'FT-1', unit: 'm³/h', place: 'Wells / One' });
const note = await site.tag({ name: 'NOTE', type: 'text', place: 'Wells' });
const address = new URL(other.url);
const to = {
  kind: 'sql-table',
  host: address.hostname,
  port: Number(address.port),
  database: address.pathname.slice(1),
  user: decodeURIComponent(address.username),
  table: 'history',
  password: (
    await site.call<{ id: number }>('POST', '/secrets', { value: decodeURIComponent(address.password) || 'none' })
  ).body.id,
};
const rows = async (): Promise<unknown[][]> =>
  (
    await table.query<unknown[]>({
      text: `SELECT tag, round((extract(epoch FROM time) - ${START / SECOND}))::int, value, text_value, quality, unit
             FROM history ORDER BY 1, 2`,
      rowMode: 'array',
    })
  ).rows;

test('a table gets a row for each value that stands: late, corrected and removed ones too, once', async () => {
  const { body: check } = await site.call<LinkCheck>('POST', '/links/check', { to });
  expect(check.rungs.map(({ rung, outcome }) => [rung, outcome])).toEqual([
    ['name', 'passed'],
    ['port', 'passed'],
    ['encryption', 'passed'],
    ['sign-in', 'passed'],
    ['permission', 'passed'],
    ['clock', 'passed'],
  ]);
  // Walking the path leaves nothing behind.
  expect((await table.query("SELECT to_regclass('history') AS t")).rows).toEqual([{ t: null }]);
  const { body: made, status } = await site.call<SendingLink>('POST', '/links', { name: 'Table', to });
  expect([status, made.kind, made.comparable]).toEqual([201, 'sql-table', true]);
  await deliver(flow, [
    [START + 2 * SECOND, 2.5],
    [START, -0],
    [START + SECOND, NaN, Status.BadNoCommunication],
  ]);
  await deliver(note, [[START, 0]], ["it's; DROP TABLE history;--"]);
  await level('Table');
  expect(await rows()).toEqual([
    ['FT-1', 0, -0, null, 'Good', 'm³/h'],
    ['FT-1', 1, null, null, 'Bad_NoCommunication', 'm³/h'],
    ['FT-1', 2, 2.5, null, 'Good', 'm³/h'],
    ['NOTE', 0, null, "it's; DROP TABLE history;--", 'Good', ''],
  ]);
  const at = (second: number): string => new Date((START + second * SECOND) / 1000).toISOString();
  await site.call('POST', '/history/corrections', {
    tag: 'FT-1',
    reason: 'span',
    samples: [{ time: at(2), value: 7 }],
  });
  await site.call('POST', '/history/removals', { tag: 'FT-1', reason: 'test', from: at(1), to: at(2) });
  await level('Table');
  expect((await rows()).slice(0, 2)).toEqual([
    ['FT-1', 0, -0, null, 'Good', 'm³/h'],
    ['FT-1', 2, 7, null, 'Good', 'm³/h'],
  ]);
});

test('a table is compared like a site, and made the same', async () => {
  const { id } = await link('Table');
  const compare = async (repair: string): Promise<ReconcilingReport> => {
    const { body } = await site.call<{ job: number }>('POST', `/links/${id}/reconcile`, {
      from: '2026-02-01T00:00:00Z',
      to: '2026-04-01T00:00:00Z',
      repair,
    });
    let job!: Job;
    await waitUntil('compared', async () => {
      job = (await site.call<Job>('GET', `/jobs/${body.job}`)).body;
      return job.state === 'done';
    });
    return job.report as ReconcilingReport;
  };
  expect(await compare('nothing')).toMatchObject({ equal: true, compared: 3, hours: 0 });
  await table.query('UPDATE history SET value = 8 WHERE value = 7');
  await table.query("DELETE FROM history WHERE tag = 'NOTE'");
  const { differing, equal } = await compare('nothing');
  expect([equal, differing]).toMatchObject([
    false,
    [
      { tag: 'NOTE', missingThere: 1 },
      { tag: 'FT-1', differentValue: 1, missingThere: 0 },
    ],
  ]);
  expect(await compare('there')).toMatchObject({ equal: true, hours: 2, repaired: 2 });
  expect((await rows()).at(-1)).toEqual(['NOTE', 0, null, "it's; DROP TABLE history;--", 'Good', '']);
});

test('a tag that is renamed takes its rows along; a database that goes away is waited for, and says so', async () => {
  const { body: draft } = await site.call<{ draft: { id: number } }>('POST', '/drafts', {
    changes: [{ kind: 'tag', id: flow, set: { name: 'FT-100' } }],
  });
  await site.call('POST', `/drafts/${draft.draft.id}/force`, { reason: 'Renamed' });
  await table.query('ALTER TABLE history RENAME TO elsewhere');
  await deliver(flow, [[START + 5 * SECOND, 5]]);
  await waitUntil('the link says so', async () => (await link('Table')).state === 'away');
  expect((await link('Table')).trouble).toMatch(
    /The database at 127\.0\.0\.1:\d+ says: relation "history" does not exist/,
  );
  await table.query('ALTER TABLE elsewhere RENAME TO history');
  await level('Table');
  expect((await rows()).filter(([tag]) => tag !== 'NOTE').map(([tag, second]) => [tag, second])).toEqual([
    ['FT-100', 0],
    ['FT-100', 2],
    ['FT-100', 5],
  ]);
  const { id } = await link('Table');
  const { body: log } = await site.call<LinkLogAnswer>('GET', `/links/${id}/log`);
  expect(log.events.map(({ what }) => what)).toEqual(['there', 'away', 'there', 'made']);
});

test('a table that is there and does not fit is refused with what to change', async () => {
  await table.query('CREATE TABLE narrow (time timestamptz, tag text, value integer)');
  const { body: wrong } = await site.call<LinkCheck>('POST', '/links/check', {
    to: { ...to, table: 'narrow', columns: { text: null, status: null, quality: null, unit: null, place: null } },
  });
  expect(wrong.rungs.find(({ outcome }) => outcome === 'failed')).toMatchObject({
    rung: 'permission',
    sentence: 'The column "value" of "narrow" is integer; it has to be double precision.',
  });
  const named = await site.call<{ detail: string }>('POST', '/links/check', { to: { ...to, table: 'a"; --' } });
  expect([named.status, named.body.detail]).toEqual([400, expect.stringContaining('has to be a name such as')]);
});

test('files hold what stands of each day, written again when something late comes; the manifest proves it', async () => {
  const files = { kind: 'files', folder: 'region', format: 'csv', settleMinutes: 0 };
  expect((await site.call<LinkCheck>('POST', '/links/check', { to: files })).body.passed).toBe(true);
  expect(existsSync(join(site.folder, 'carried'))).toBe(false);
  const { body: made } = await site.call<SendingLink>('POST', '/links', {
    name: 'Files',
    to: files,
  });
  expect(made.comparable).toBe(true);
  await deliver(flow, [[START + 10 * SECOND, 10]]);
  const folder = join(site.folder, 'carried', 'region');
  const manifest = (): {
    position: number;
    files: Record<string, { samples: number; sha256: string; tally: string }>;
  } => JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8')) as ReturnType<typeof manifest>;
  const samples = (): Promise<boolean> => Promise.resolve(manifest().files['2026-03-01']?.samples === 5);
  await level('Files');
  await waitUntil('the day is written', samples);
  const text = readFileSync(join(folder, '2026-03-01.csv'));
  const { sha256 } = manifest().files['2026-03-01']!;
  expect(createHash('sha256').update(text).digest('hex')).toBe(sha256);
  expect(String(text).split('\r\n').slice(0, 3)).toEqual([
    'tag,time,value,status,quality,origin',
    "NOTE,2026-03-01T06:00:00.000Z,it's; DROP TABLE history;--,0,Good,live",
    'FT-100,2026-03-01T06:00:00.000Z,-0,0,Good,live',
  ]);
  await deliver(flow, [[START + 10 * SECOND, 11]]);
  await waitUntil('it is written again', () => Promise.resolve(manifest().files['2026-03-01']!.sha256 !== sha256));
  expect(String(readFileSync(join(folder, '2026-03-01.csv')))).toContain('2026-03-01T06:00:10.000Z,11,');
  expect(manifest().files['2026-03-01']!.samples).toBe(5);

  // Compared by a job: equal; what somebody altered, or took away, is found and mended, and so is what is from before.
  const reconcile = async (repair: string): Promise<Job & { report: ReconcilingReport }> => {
    const { job } = (
      await site.call<{ job: number }>('POST', `/links/${made.id}/reconcile`, {
        from: '2026-02-27T00:00:00Z',
        to: '2026-03-03T00:00:00Z',
        repair,
      })
    ).body;
    await site.jobsDone('reconcile');
    return (await site.call<Job & { report: ReconcilingReport }>('GET', `/jobs/${job}`)).body;
  };
  expect((await reconcile('nothing')).report).toMatchObject({ equal: true, compared: 5, hours: 0 });
  const file = join(folder, '2026-03-01.csv');
  const good = readFileSync(file);
  writeFileSync(file, String(good).replace(',11,', ',12,'));
  expect((await reconcile('nothing')).report).toMatchObject({
    equal: false,
    hours: 24,
    differing: [{ tag: '2026-03-01.csv', differentValue: 5, missingThere: 0 }],
  });
  rmSync(file);
  expect((await reconcile('nothing')).report.differing).toMatchObject([{ missingThere: 5, differentValue: 0 }]);
  expect((await reconcile('there')).report).toMatchObject({ equal: true, repaired: 24, compared: 5 });
  expect(readFileSync(file)).toEqual(good);
  const here = { from: '2026-02-27T00:00:00Z', to: '2026-03-03T00:00:00Z', repair: 'here' };
  const refused = await site.call<{ detail: string }>('POST', `/links/${made.id}/reconcile`, here);
  expect([refused.status, refused.body.detail]).toEqual([400, expect.stringContaining('this end cannot')]);
});

test('an edge node of Sparkplug is born with the tags, tells what comes, and is born again when it is asked to', async () => {
  const to = { kind: 'sparkplug', host: '127.0.0.1', port: brokerPort, group: 'Emberfold', edge: 'Thornmere' };
  const { decodePayload } = get('spBv1.0')!;
  const heard: { readonly verb: string; readonly payload: ReturnType<typeof decodePayload> }[] = [];
  const listen = ({ topic, payload }: { topic: string; payload: Buffer | string }): void => {
    const verb = /^spBv1\.0\/Emberfold\/(N\w+)\/Thornmere$/.exec(topic)?.[1];
    if (verb && verb !== 'NCMD') heard.push({ verb, payload: decodePayload(Buffer.from(payload)) });
  };
  broker.on('publish', listen);
  const { body: tried } = await site.call<LinkTry>('POST', '/links/try', { to, carries: [{ search: '', place: '' }] });
  expect(tried.columns).toEqual(['metric', 'time', 'value', 'quality']);
  expect((await site.call<LinkCheck>('POST', '/links/check', { to })).body.passed).toBe(true);
  const { body: made } = await site.call<SendingLink>('POST', '/links', { name: 'Edge', to });
  expect([made.comparable, made.url]).toEqual([false, `mqtt://127.0.0.1:${brokerPort}, Emberfold/Thornmere`]);
  await level('Edge');
  await waitUntil('it is born', () => heard.some(({ verb }) => verb === 'NBIRTH'));
  const { metrics } = heard.find(({ verb }) => verb === 'NBIRTH')!.payload;
  const flowBorn = metrics!.find(({ name }) => name === 'FT-100')!;
  expect(flowBorn.properties).toMatchObject({ engUnit: { value: 'm³/h' } });
  await deliver(flow, [[START + 30 * SECOND, 30.5]]);
  await level('Edge');
  const data = heard.filter(({ verb }) => verb === 'NDATA').at(-1)!.payload;
  expect(data.metrics).toMatchObject([{ value: 30.5 }]);
  expect([Number(data.metrics![0]!.alias), Number(data.metrics![0]!.timestamp)]).toEqual([
    Number(flowBorn.alias),
    (START + 30 * SECOND) / 1000,
  ]);
  const births = (): number => heard.filter(({ verb }) => verb === 'NBIRTH').length;
  const before = births();
  const payload = Buffer.from(commandPayload('Node Control/Rebirth', Date.now()));
  const command = {
    cmd: 'publish',
    topic: 'spBv1.0/Emberfold/NCMD/Thornmere',
    payload,
    qos: 0,
    dup: false,
    retain: false,
  } as const;
  broker.publish(command, () => undefined);
  await waitUntil('it is born again', () => births() > before);
  const again = heard.filter(({ verb }) => verb === 'NBIRTH').at(-1)!.payload;
  expect(again.metrics!.find(({ name }) => name === 'FT-100')!.value).toBe(30.5);
  // Whoever stops it hears it die.
  await site.call('PATCH', `/links/${made.id}`, { paused: true });
  await waitUntil('it is dead', () => heard.at(-1)!.verb === 'NDEATH');
  broker.off('publish', listen);
});

test('a broker gets a message for each value, acknowledged; what it missed comes when it is back', async () => {
  const to = { kind: 'mqtt', host: '127.0.0.1', port: brokerPort, topic: 'plant/{place}/{name}' };
  const { body: tried } = await site.call<LinkTry>('POST', '/links/try', { to, carries: [{ search: '', place: '' }] });
  expect(tried.columns).toEqual(['topic', 'message']);
  const heard: [string, unknown][] = [];
  broker.on('publish', ({ topic, payload }) => {
    if (!topic.startsWith('$SYS')) heard.push([topic, JSON.parse(String(payload))]);
  });
  expect((await site.call<LinkCheck>('POST', '/links/check', { to })).body.passed).toBe(true);
  await site.call('POST', '/links', { name: 'Broker', to });
  await level('Broker');
  await deliver(flow, [[START + 20 * SECOND, 20.5]]);
  await level('Broker');
  expect(heard).toEqual([
    ['plant/Wells/One/FT-100', { time: '2026-03-01T06:00:20.000Z', value: 20.5, status: 0, unit: 'm³/h' }],
  ]);
  await new Promise<void>((done) => {
    gate.close(() => done());
    for (const line of lines) line.destroy();
  });
  await deliver(flow, [[START + 21 * SECOND, 21]]);
  await waitUntil('the broker is missed', async () => (await link('Broker')).state === 'away');
  await new Promise<void>((done) => gate.listen(brokerPort, '127.0.0.1', done));
  await level('Broker');
  expect(heard.map(([, told]) => (told as { value: number }).value)).toEqual([20.5, 21]);
});
