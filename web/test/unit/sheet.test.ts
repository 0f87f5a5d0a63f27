/** The tag sheet: fields as cells and back, rows from elsewhere, files, and what is shown in which order. */
import { BODIES } from '@wide-ledger/contract';
import type { Body, DefinitionKind } from '@wide-ledger/core';
import fc from 'fast-check';
import type { Standing } from '../../src/configuration/drafting.ts';
import { cellOf, cellsOf, fieldsThatDiffer, troublesOf, withCells, type References } from '../../src/sheet/cells.ts';
import { FIRST, sheetColumns, type SheetColumn } from '../../src/sheet/columns.ts';
import { IncomingReader, columnsOfHead, isHead, type TextRow } from '../../src/sheet/incoming.ts';
import { arranged, rowOf } from '../../src/sheet/rows.ts';
import { rowsOfText, rowsOfWorkbook, tableIn, textOfRows, workbookOfRows } from '../../src/sheet/table.ts';

const NAMES: Partial<Record<DefinitionKind, readonly string[]>> = {
  place: ['Kilnbank', 'Kilnbank / Pumps'],
  pace: ['slow'],
  store: ['Embedded'],
  source: ['Meters', 'Controller'],
  tag: ['TW-PT-110', 'odd = name; x'],
};
const references: References = {
  nameOf: (kind, id) => NAMES[kind]![id - 1]!,
  idOf: (kind, name) => NAMES[kind]!.indexOf(name) + 1 || null,
  kindOfSource: (id) => (id === 1 ? 'mqtt' : 'modbus-tcp'),
};
const columns = sheetColumns(['mqtt', 'modbus-tcp', 'opc-ua', 'files']);
const column = (key: string): SheetColumn => columns.find((one) => one.key === key)!;
const texts = (cells: Readonly<Record<string, string>>) =>
  Object.entries(cells).map(([key, text]) => [column(key), text] as const);

/** Without what says nothing: null, absent and an empty text are the same in a cell. */
const said = (body: Body): Body =>
  JSON.parse(
    JSON.stringify(body, (_, value: unknown) =>
      value === null || value === '' || JSON.stringify(value) === '{}' ? undefined : value,
    ),
  ) as Body;

const word = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 12 }).map((text) => text.trim() || 'x');
const number = fc.oneof(fc.integer(), fc.double({ noNaN: true, noDefaultInfinity: true }));
const maybe = <Value>(one: fc.Arbitrary<Value>) => fc.option(one, { nil: null });
const address = fc.oneof(
  fc.record({ topic: fc.constant('plant/a'), field: fc.constantFrom('', 'x.y') }),
  fc.record({
    area: fc.constantFrom('holding', 'input'),
    address: fc.nat(65_535),
    type: fc.constantFrom('uint16', 'float32'),
    order: fc.constantFrom('ABCD', 'CDAB'),
  }),
);
const tag: fc.Arbitrary<Body> = fc
  .record({
    name: fc.stringMatching(/^[A-Z][A-Z0-9-]{0,8}$/),
    type: fc.constantFrom('real', 'integer', 'text', 'state'),
    unit: word,
    description: word,
    place: maybe(fc.integer({ min: 1, max: 2 })),
    stepped: fc.boolean(),
    low: maybe(number),
    high: maybe(number),
    states: maybe(fc.dictionary(fc.nat(9).map(String), word, { minKeys: 1, maxKeys: 3 })),
    store: fc.constant(1),
    source: maybe(fc.integer({ min: 1, max: 2 })),
    address: maybe(address),
    scaling: maybe(fc.record({ factor: number, offset: number })),
    pace: maybe(fc.constant(1)),
    paused: fc.boolean(),
    settings: fc.oneof(
      fc.constant({}),
      fc.record({
        intervalMilliseconds: fc.integer({ min: 50, max: 10_000 }),
        deadband: fc.oneof(
          fc.constant({ kind: 'none' as const }),
          fc.record({
            kind: fc.constantFrom('absolute' as const, 'line' as const),
            width: fc.double({ min: 0, max: 9, noNaN: true }),
          }),
        ),
      }),
    ),
  })
  .map((body) => JSON.parse(JSON.stringify(body)) as Body);

describe('columns', () => {
  test('what a formula is computed of goes out and in by names', () => {
    const body: Body = { name: 'SUM', type: 'real', formula: 'a + b', inputs: { a: 1, b: 2 } };
    const text = cellOf(body, column('inputs'), references);
    expect(text).toBe('a=TW-PT-110; b=odd = name\\; x');
    const made = withCells({ ...body, inputs: {} }, [[column('inputs'), text]], references);
    expect([made.body, made.troubles]).toEqual([body, []]);
    const wrong = withCells(body, [[column('inputs'), 'a=NOBODY']], references);
    expect(wrong.troubles).toEqual([{ key: 'inputs', sentence: 'There is no tag NOBODY.' }]);
  });

  test('are every field of a tag once, with a title of its own; the usual ones are among them', () => {
    expect(new Set(columns.map(({ key }) => key)).size).toBe(columns.length);
    expect(new Set(columns.map(({ title }) => title)).size).toBe(columns.length);
    expect(columns.slice(0, FIRST.length).map(({ key }) => key)).toEqual([...FIRST]);
    const tops = new Set(columns.map(({ path }) => path[0]));
    for (const field of Object.keys(BODIES.tag.shape)) expect([field, tops.has(field)]).toEqual([field, true]);
    expect(column('settings.deadband.kind')).toMatchObject({
      holds: 'choice',
      choices: ['none', 'absolute', 'percent', 'line', 'line percent'],
    });
  });
});

describe('cells', () => {
  test('law: what is taken out and brought in again is what it was, as a file of either kind, too', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(tag, { minLength: 1, maxLength: 4 }), async (bodies) => {
        const head = columns.map(({ title }) => title);
        const rows = bodies.map((body) => columns.map(({ key }) => cellsOf(body, columns, references)[key]!));
        const csv = rowsOfText(textOfRows([head, ...rows]));
        const numeric = columns.map(({ holds }) => holds === 'number');
        const book = await rowsOfWorkbook(await (await workbookOfRows(head, rows, numeric)).arrayBuffer());
        for (const [first, ...back] of [csv, book]) {
          expect(columnsOfHead(first!, columns)).toEqual(columns);
          back.forEach((row, i) => {
            const filled = columns.flatMap((one, at) => (row[at] ? [[one, row[at]] as const] : []));
            const { body, troubles } = withCells({}, filled, references);
            expect([troubles, said(body)]).toEqual([[], said(bodies[i]!)]);
          });
        }
      }),
      { numRuns: 25 },
    );
  });

  test('law: putting the same texts back changes nothing, and a text that changes one field leaves the others', () => {
    fc.assert(
      fc.property(tag, (body) => {
        const cells = cellsOf(body, columns, references);
        expect(withCells(body, texts(cells), references).body).toEqual(body);
        const { body: renamed } = withCells(body, [[column('unit'), 'kPa']], references);
        expect({ ...renamed, unit: body.unit }).toEqual(body);
      }),
    );
  });

  test('what cannot stand there is told at its cell, and left as it was', () => {
    const before: Body = { name: 'A', type: 'real', low: 1, settings: {} };
    const wrong = { low: 'abc', type: 'reel', place: 'Nowhere', paused: 'perhaps', states: '0 off' };
    const { body, troubles } = withCells(before, texts({ ...wrong, unit: 'bar' }), references);
    expect(troubles).toEqual([
      { key: 'low', sentence: '"abc" is no number.' },
      { key: 'type', sentence: 'It is one of: real, integer, boolean, text, state.' },
      { key: 'place', sentence: 'There is no place Nowhere.' },
      { key: 'paused', sentence: '"perhaps" is neither yes nor no.' },
      { key: 'states', sentence: 'Write it as 0=off; 1=on.' },
    ]);
    expect(body).toEqual({ ...before, unit: 'bar' });
  });

  test('a field of another kind loses what only the old one has; emptied, it is none', () => {
    const before: Body = { settings: { deadband: { kind: 'absolute', width: 2 } }, scaling: { factor: 2 } };
    expect(withCells(before, texts({ 'settings.deadband.kind': 'none' }), references).body.settings).toEqual({
      deadband: { kind: 'none' },
    });
    expect(withCells(before, texts({ 'scaling.factor': '' }), references).body.scaling).toBeNull();
  });

  test('what a tag lacks is told where it belongs, also within an address', () => {
    expect(troublesOf({ name: 'A B', type: 'real', low: 5, high: 1 }, references).map(({ key }) => key)).toEqual([
      'name',
      '',
    ]);
    expect(troublesOf({ name: 'A', type: 'real', low: 5, high: 1 }, references)[0]!.sentence).toContain('upside down');
    expect(troublesOf({}, references)).toEqual([{ key: 'name', sentence: 'It has to be filled in.' }]);
    const mqtt = { name: 'A', type: 'real', source: 1, address: { topic: 'a/#' } };
    expect(troublesOf(mqtt, references)).toEqual([
      { key: 'address.topic', sentence: expect.stringContaining('a topic holds no #') as unknown },
    ]);
  });
});

const standing = (id: number, body: Body, over: Partial<Standing> = {}): Standing => ({
  kind: 'tag',
  id,
  inForce: body,
  body,
  life: 'in force',
  ...over,
});

describe('rows from elsewhere', () => {
  const there = [standing(7, { name: 'A-1', type: 'real', unit: 'bar', description: 'first' })];
  const bringIn = (rows: readonly TextRow[]) => {
    const [head, ...others] = rows;
    const reader = new IncomingReader(others, columnsOfHead(head!, columns), there, references);
    while (reader.look(1));
    return reader.result;
  };

  test('a head is known by the titles, in any order and any letters', () => {
    expect(isHead(['unit', 'NAME', 'Colour'], columns)).toBe(true);
    expect(isHead(['A-1', 'bar'], columns)).toBe(false);
    expect(columnsOfHead(['  name ', 'address.topic', 'x'], columns).map((one) => one?.key)).toEqual([
      'name',
      'address.topic',
      undefined,
    ]);
  });

  test('what each would do: new, changed, as it is, refused cell by cell; the good ones are kept', () => {
    const { rows, changes } = bringIn([
      ['Name', 'Unit', 'Type', 'Description'],
      ['A-1', 'mbar', 'real', 'first'],
      ['A-2', 'bar', 'real', ''],
      ['', 'bar', 'real', ''],
      ['A-2', 'bar', 'real', ''],
      ['A-3', 'bar', 'reel', ''],
      ['', '', '', ''],
    ]);
    expect(rows.map(({ row, does }) => [row, does])).toEqual([
      [1, 'changed'],
      [2, 'new'],
      [3, 'refused'],
      [4, 'refused'],
      [5, 'refused'],
    ]);
    expect(changes).toEqual([
      { kind: 'tag', id: 7, set: { unit: 'mbar' } },
      { kind: 'tag', create: { name: 'A-2', unit: 'bar', type: 'real' } },
    ]);
    expect(
      bringIn([
        ['Name', 'Unit'],
        ['A-1', 'bar'],
      ]).rows[0]!.does,
    ).toBe('same');
    // An empty cell of one that is there empties the field.
    expect(
      bringIn([
        ['Name', 'Description'],
        ['A-1', ''],
      ]).changes,
    ).toEqual([{ kind: 'tag', id: 7, set: { description: null } }]);
  });

  test('texts of a spreadsheet, of files, quoted or not', () => {
    expect(rowsOfText('a\tb;c\r\n1\t2\r\n')).toEqual([
      ['a', 'b;c'],
      ['1', '2'],
    ]);
    expect(rowsOfText('\ufeffa;"b;\n""x"\n1;2')).toEqual([
      ['a', 'b;\n"x'],
      ['1', '2'],
    ]);
    expect(rowsOfText('a,b')).toEqual([['a', 'b']]);
    expect(() => rowsOfText('"a,b')).toThrow('The rows cannot be told apart');
    expect(tableIn('"a,b')).toBeNull();
  });
});

test('fields that differ are those that an edit sets', () => {
  expect(fieldsThatDiffer({ a: 1, b: { c: 1 }, d: 2 }, { a: 1, b: { c: 2 } })).toEqual({ b: { c: 2 }, d: null });
});

test('rows are found by any of their fields, and sorted by numbers where there are some', () => {
  const rows = [
    standing(1, { name: 'P-10', unit: 'bar', high: 9 }),
    standing(2, { name: 'P-9', unit: 'bar', high: 100 }),
    standing(3, { name: 'T-1', unit: '°C', high: 20 }, { life: 'changed in draft', body: { name: 'T-1', unit: 'K' } }),
  ].map((one) => rowOf(one, columns, references));
  const names = (words: string, sort: { key: string; descending: boolean } | null = null): string[] =>
    arranged(rows, { columns: [], words, sort }).map(({ cells }) => cells.name!);
  expect(names('')).toEqual(['P-9', 'P-10', 'T-1']);
  expect(names('BAR 10')).toEqual(['P-9', 'P-10']);
  expect(names('p-', { key: 'high', descending: true })).toEqual(['P-9', 'P-10']);
  expect(rows[2]).toMatchObject({ cells: { unit: 'K' }, inForce: { unit: '°C' } });
});
