/** Register maps as CSV: what goes out comes back in, and a map of another hand lands in the draft line by line. */
import type { DefinitionOutput, RegisterMapAnswer, Review } from '@wide-ledger/contract';
import { TestSite } from './testSite.ts';

let site: TestSite;
let source: number;
beforeAll(async () => {
  site = await TestSite.open();
  const connection = { host: '127.0.0.1', port: 1, unit: 1, timeoutMilliseconds: 1000 };
  source = (await site.call<{ id: number }>('PUT', '/sources', { name: 'Meter, east', kind: 'modbus-tcp', connection }))
    .body.id;
  const collection = (address: number, more: object = {}) => ({
    source: 'Meter, east',
    address: { area: 'holding', address, type: 'float32', order: 'CDAB' },
    ...more,
  });
  await site.tag({ name: 'M-2', type: 'real', unit: 'kW', description: 'power, "active"', collection: collection(4) });
  await site.tag({
    name: 'M-1',
    type: 'real',
    unit: 'V',
    collection: collection(2, { scaling: { factor: 0.1, offset: 0 } }),
  });
  await site.tag({ name: 'OTHER', type: 'real' });
}, 60_000);
afterAll(() => site.close());

const take = (text: string, dryRun = false) =>
  site.call<RegisterMapAnswer>('POST', `/sources/${source}/register-map`, { text, dryRun });
const map = () => site.call<string>('GET', `/sources/${source}/register-map`);

test('a map that goes out and comes back in changes nothing', async () => {
  const { body, headers } = await map();
  expect(headers.get('content-disposition')).toBe('attachment; filename="Meter-east-registers.csv"');
  const lines = body.trimEnd().split('\r\n');
  expect(lines.map((line) => line.split(',')[0])).toEqual(['name', 'M-1', 'M-2']);
  expect(lines[2]).toBe('M-2,"power, ""active""",kW,real,,,holding,4,float32,CDAB,,,,,,,,,');
  const { body: back } = await take(body);
  expect(back.lines.map(({ name, what }) => [name, what])).toEqual([
    ['M-1', 'same'],
    ['M-2', 'same'],
  ]);
  expect([back.taken, back.ignored]).toEqual([0, []]);
  expect((await site.call<{ drafts: unknown[] }>('GET', '/drafts')).body.drafts).toEqual([]);
});

test('a maker’s list lands in the draft: new tags by what lies in their registers, changes field by field', async () => {
  const text = [
    'Name;Address;Register type;Byte order;Factor;Unit;Remark',
    'M-1;2;float32;CDAB;0,2;V;',
    'M-3;40011;uint16;;;A;first of a row',
    'M-4;00008;;;;;a coil',
    'M-5;40013;int16;;0,1;°C;',
    'OTHER;7;uint16;;;;',
    'M-6;40007;uint17;;;;',
    'M 7;7;uint16;;;;',
    'M-8;;uint16;;;;',
  ].join('\r\n');
  const rehearsed = await take(text, true);
  expect(rehearsed.body.lines.map(({ line, name, what, sentence }) => [line, name, what, sentence])).toEqual([
    [2, 'M-1', 'wrong', expect.stringMatching(/^Say the area: /)],
    [3, 'M-3', 'new', ''],
    [4, 'M-4', 'new', ''],
    [5, 'M-5', 'new', ''],
    [6, 'OTHER', 'wrong', 'Another source has a tag of this name.'],
    [7, 'M-6', 'wrong', expect.stringMatching(/^address type: /)],
    [8, 'M 7', 'wrong', expect.stringMatching(/^The name /)],
    [9, 'M-8', 'wrong', 'It has no address.'],
  ]);
  expect([rehearsed.body.taken, rehearsed.body.ignored]).toEqual([0, ['Remark']]);
  expect((await take(text.replace('M-1;2', 'M-1;40003'))).body.taken).toBe(4);
  const { body: review } = await site.call<Review>('GET', `/drafts/${await ownDraft()}`);
  const changed = review.items.map(({ name, what, fields }) => [name, what, fields.map(({ path }) => path.join('.'))]);
  expect(changed.find(([name]) => name === 'M-1')).toEqual(['M-1', 'changed', ['scaling.factor']]);
  expect(review.findings.filter(({ severity }) => severity === 'blocks')).toEqual([]);
  const drafted = (await site.call<{ definitions: DefinitionOutput[] }>('GET', '/definitions?kind=tag&draft=only'))
    .body;
  const bodies = new Map(drafted.definitions.map(({ draft }) => [draft!.name, draft!]));
  expect(bodies.get('M-3')).toMatchObject({ type: 'integer', stepped: true, unit: 'A', source });
  expect(bodies.get('M-3')!.address).toMatchObject({ area: 'holding', address: 10, type: 'uint16', order: 'ABCD' });
  expect(bodies.get('M-4')).toMatchObject({ type: 'boolean', address: { area: 'coil', address: 7 } });
  expect(bodies.get('M-5')).toMatchObject({ type: 'real', stepped: false, scaling: { factor: 0.1, offset: 0 } });
  // What stands in the draft goes out with it.
  expect((await map()).body).toContain('M-5,,°C,real');
});

const ownDraft = async (): Promise<number> =>
  (await site.call<{ drafts: { id: number }[] }>('GET', '/drafts')).body.drafts[0]!.id;

test('what is no map says so, and so does a source without registers', async () => {
  const wrong = await site.call<{ detail: string }>('POST', `/sources/${source}/register-map`, { text: 'a,"b\n"c' });
  expect([wrong.status, wrong.body.detail]).toEqual([
    400,
    expect.stringMatching(/^The file is no CSV: |^The first line/),
  ]);
  const { body } = await site.call<{ id: number }>('PUT', '/sources', {
    name: 'U',
    kind: 'opc-ua',
    connection: { endpoint: 'opc.tcp://127.0.0.1:1' },
  });
  const none = await site.call<{ detail: string }>('GET', `/sources/${body.id}/register-map`);
  expect([none.status, none.body.detail]).toEqual([
    400,
    'Only sources whose values lie in registers have a register map.',
  ]);
  expect((await site.call('GET', '/sources/9999/register-map')).status).toBe(404);
});
