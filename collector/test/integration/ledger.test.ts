/** Another Wide Ledger as a source: a real site, read on by its own HTTP interface. */
import { ledgerConnection, type LedgerAddress } from '@wide-ledger/contract';
import { SECOND, Status, formatInstant } from '@wide-ledger/core';
import { freePort } from '../../../launch/ground.mjs';
import { TestSite } from '../../../server/test/integration/testSite.ts';
import { SourceAway, ledger, type SourceOf, type Surroundings } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { RecordReader, type ConnectionOf } from '../recordReader.ts';
import { tagAt } from '../tags.ts';

type Connection = ConnectionOf<'ledger'>;

let far: TestSite;
let around: Surroundings;
const began = Date.now() * 1000 - 3600 * SECOND;

beforeAll(async () => {
  far = await TestSite.open();
  const tags = [
    { name: 'A', unit: 'bar', place: 'Kilnbank / Pumps', low: 0, high: 10 },
    { name: 'WHOLE', type: 'integer' },
    { name: 'NOTE', type: 'text', place: 'Kilnbank / Pumps' },
  ];
  expect((await far.call('POST', '/tags', tags)).status).toBe(201);
  const { body } = await far.call<{ key: string }>('POST', '/keys', { name: 'other site', scopes: ['read'] });
  around = { ...ALONE, secret: (id) => (id === 1 ? body.key : 'wrong') };
}, 60_000);
afterAll(() => far.close());

const write = async (
  ...samples: readonly [tag: string, second: number, value: unknown, status?: number][]
): Promise<void> => {
  const sent = samples.map(([tag, second, value, status = 0]) => ({
    tag,
    time: formatInstant(began + second * SECOND),
    value,
    status,
  }));
  const { body } = await far.call<{ setAside: unknown[] }>('POST', '/samples', { samples: sent });
  expect(body.setAside).toEqual([]);
};
const source = (over: Partial<Connection> = {}): SourceOf<'ledger'> => ({
  name: 'Kilnbank',
  kind: 'ledger',
  connection: ledgerConnection.parse({ url: far.site.url, key: 1, begin: 'at its beginning', ...over }),
});
const tag = (id: number, name: string, type = 'real') => tagAt<LedgerAddress>(id, { tag: name }, { type });
const TAGS = [tag(1, 'A'), tag(2, 'WHOLE', 'integer'), tag(3, 'NOTE', 'text')];
const open = async (over: Partial<Connection> = {}, tags = TAGS): Promise<RecordReader<'ledger'>> =>
  new RecordReader(await ledger.open(source(over), around), tags);

test('values come as they are there: times, statuses, wide numbers, texts, none', async () => {
  await write(
    ['A', 1, 1.5],
    ['A', 2, null, Status.BadSensorFailure],
    ['WHOLE', 1, '9007199254740993'],
    ['NOTE', 1, '007'],
  );
  const reader = await open();
  const samples = await reader.rest();
  expect(
    samples.map(({ tag: id, value, status, sourceTime }) => [id, value, status, (sourceTime! - began) / SECOND]),
  ).toEqual([
    [1, 1.5, Status.Good, 1],
    [1, null, Status.BadSensorFailure, 2],
    [2, 9007199254740993n, Status.Good, 1],
    [3, '007', Status.Good, 1],
  ]);
  await write(['A', 3, 3]);
  expect(await reader.values()).toEqual([3]);
  expect(await reader.values()).toEqual([]);
});

test('at its end: what was there stays there, and can be asked for as history', async () => {
  const reader = await open({ begin: 'at its end' });
  expect(await reader.values()).toEqual([]);
  await write(['A', 3000, 9]);
  // It began after that time.
  expect(await reader.values()).toEqual([]);
  const { session } = reader;
  const asked = { tag: TAGS[0]!, from: began, to: began + 10 * SECOND, most: 2, newestFirst: false };
  const parts = [];
  for await (const part of session.history!(asked)) parts.push(part);
  expect(parts.map(({ samples, more }) => [samples.map(({ value }) => value), more])).toEqual([
    [[1.5, null], true],
    [[3], false],
  ]);
  expect(await session.historyStart!(TAGS[0]!)).toBe(began + SECOND);
});

test('what comes late there is looked back for, and nothing is told twice', async () => {
  const now = Math.floor((Date.now() * 1000 - began) / SECOND);
  await write(['A', now - 20, 20], ['A', now - 10, 10]);
  const reader = await open();
  expect((await reader.values()).slice(-2)).toEqual([20, 10]);
  await write(['A', now - 15, 15]);
  expect(await reader.values()).toEqual([]);
  // As after a restart: the cursor is known, and what was told is not.
  const again = await open();
  again.cursor = reader.cursor;
  expect(await again.values()).toEqual(expect.arrayContaining([15]));
  expect(await again.values()).toEqual([]);
});

test('more than a page comes page by page, each value once', async () => {
  const rows = 12_000;
  const many = Array.from({ length: rows }, (_, i) => ['WHOLE', 10 + i / 10, i] as [string, number, number]);
  await write(...many);
  const reader = await open({}, [tag(2, 'WHOLE', 'integer')]);
  expect((await reader.values(2)).slice(1)).toEqual(Array.from({ length: rows }, (_, i) => i));
});

test('a tag that is not there is told, and the others are read', async () => {
  const reader = await open({}, [tag(1, 'A'), tag(9, 'GONE')]);
  expect((await reader.values()).length).toBeGreaterThan(2);
  expect(reader.troubles[0]).toMatch(/^GONE: /);
});

test('the path, the tree, and who is not let in', async () => {
  const { passed, rungs } = await ledger.check(source(), around, () => undefined);
  expect(passed).toBe(true);
  expect(rungs.map(({ sentence }) => sentence).slice(2)).toEqual([
    'A Wide Ledger answers. The line is open: anybody on the way can read what passes.',
    'The key may read.',
    'It has 3 tags.',
    expect.stringMatching(/^\w+ was .* at /),
    'Both clocks agree within two seconds.',
  ]);
  const browse = async (node: string | null) => (await ledger.browse!(source(), node, around)).nodes;
  const folders = await browse(null);
  expect(folders.map(({ name, description }) => [name, description])).toEqual([
    ['Kilnbank / Pumps', '2 tags'],
    ['no place', '1 tag'],
  ]);
  expect((await browse(folders[0]!.node)).map(({ name, type, unit, high }) => [name, type, unit, high])).toEqual([
    ['A', 'real', 'bar', 10],
    ['NOTE', 'text', '', null],
  ]);
  await expect(open({ key: 2 })).rejects.toThrow('The other site does not let this key read');
  const refused = await ledger.check(source({ key: 2 }), around, () => undefined);
  expect(refused.rungs.map(({ outcome }) => outcome).slice(2, 5)).toEqual(['passed', 'failed', 'not reached']);
  await expect(open({ url: `http://127.0.0.1:${await freePort()}` })).rejects.toThrow(SourceAway);
});
