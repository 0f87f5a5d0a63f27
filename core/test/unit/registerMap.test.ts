/** Register maps: out and in again without loss, and what is wrong in a line said of that line alone. */
import fc from 'fast-check';
import {
  REGISTER_MAP_HEADS,
  REGISTER_TYPES,
  WORD_ORDERS,
  readRegisterMap,
  registerMapLine,
  type Body,
} from '../../src/index.ts';

const number = fc.oneof(
  fc.integer({ min: -1000, max: 1000 }),
  fc.double({ noNaN: true, noDefaultInfinity: true }).map((n) => n + 0),
);
const text = fc.string({ maxLength: 20 }).map((one) => one.trim());
const scaling = fc.oneof(
  fc.constant(null),
  fc.record({ factor: number, offset: number }),
  fc.record({
    factor: number,
    offset: number,
    ranges: fc.record({ rawLow: number, rawHigh: number, low: number, high: number }),
  }),
);
const tag = fc.record({
  name: fc.stringMatching(/^[A-Za-z][\w.-]{0,20}$/),
  description: text,
  unit: text,
  type: fc.constantFrom('real', 'integer', 'boolean', 'text', 'state'),
  low: fc.option(number),
  high: fc.option(number),
  address: fc.record({
    area: fc.constantFrom('coil', 'discrete', 'input', 'holding'),
    address: fc.integer({ min: 0, max: 65_535 }),
    type: fc.constantFrom(...REGISTER_TYPES),
    order: fc.constantFrom(...WORD_ORDERS),
  }),
  scaling,
});

test('what a map says of a tag comes back as it was, in whatever order its columns stand', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(tag, { selector: ({ name }) => name.toLowerCase(), maxLength: 10 }),
      fc.integer(),
      (tags, seed) => {
        const order = REGISTER_MAP_HEADS.map((_, i) => i).sort(
          (a, b) => (Math.imul(a + 1, seed) >>> 0) - (Math.imul(b + 1, seed) >>> 0),
        );
        const shuffled = (cells: readonly string[]): string[] => order.map((i) => cells[i]!);
        const rows = [
          shuffled(REGISTER_MAP_HEADS),
          ...tags.map((one) => shuffled(registerMapLine(one as unknown as Body))),
        ];
        const { lines, strange, sentence } = readRegisterMap(rows, false);
        expect([strange, sentence]).toEqual([[], '']);
        expect(lines.map(({ fields, sentence: why }) => [fields, why])).toEqual(tags.map((one) => [one, '']));
      },
    ),
  );
});

const read = (...lines: string[]) =>
  readRegisterMap(
    lines.map((line) => line.split(';')),
    true,
  );
const fieldsOf = (...lines: string[]) => read(...lines).lines.map(({ fields }) => fields);

test('a reference of five or six digits says its area and counts from one', () => {
  const addresses = fieldsOf('Name;Address', 'A;40001', 'B;300010', 'C;10001', 'D;00017', 'E;465536').map(
    (fields) => fields?.address,
  );
  expect(addresses).toEqual([
    { area: 'holding', address: 0 },
    { area: 'input', address: 9 },
    { area: 'discrete', address: 0 },
    { area: 'coil', address: 16 },
    { area: 'holding', address: 65_535 },
  ]);
  // Where the area is said, an address is an address.
  expect(fieldsOf('Name;Area;Address', 'A;holding;40001')[0]?.address).toEqual({ area: 'holding', address: 40_001 });
  expect(fieldsOf('Name;Address', 'A;17')[0]?.address).toEqual({ address: 17 });
});

test('decimal commas count where fields are parted by semicolons, and a number that is none is named', () => {
  const heads = 'name;address;factor';
  expect(fieldsOf(heads, 'A;1;0,1')[0]?.scaling).toEqual({ factor: 0.1 });
  expect(
    readRegisterMap(
      [
        ['name', 'address', 'factor'],
        ['A', '1', '0,1'],
      ],
      false,
    ).lines[0],
  ).toMatchObject({
    fields: null,
    sentence: 'In "factor" stands "0,1", which is no number.',
  });
});

test('each line is said to be wrong by itself, and what no column goes by is named', () => {
  const { lines, strange } = read('Name;Address;Remark', 'A;1;x', ';2;x', '', 'a;3;', 'B;4;');
  expect(lines.map(({ line, name, sentence }) => [line, name, sentence])).toEqual([
    [2, 'A', ''],
    [3, '', 'It has no name.'],
    [5, 'a', 'a is in line 2 already.'],
    [6, 'B', ''],
  ]);
  expect(strange).toEqual(['Remark']);
});

test.each([
  ['Tag;Address', 'The first line has no column "name".'],
  ['', 'The first line has no column "name" and no column "address".'],
  ['name;address;unit;Unit', 'The column "unit" is there twice.'],
])('a map whose heads are "%s" says what is missing', (heads, sentence) => {
  expect(read(heads, 'A;1').sentence).toBe(sentence);
});
