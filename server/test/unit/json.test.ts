/** JSON read in turns is JSON (RFC 8259): JSON.parse, which reads it at once, is the second opinion. */
import fc from 'fast-check';
import { CrowdedJson, readJson } from '../../src/ground/index.ts';

const PARTS = 400_000;
const read = (text: string): Promise<unknown> => readJson(Buffer.from(text), { parts: PARTS });

/** Blanks of the length of a piece: a list may be cut behind each of them. */
const WIDE = ' '.repeat(140_000);

/** The same value with blanks between the elements of its lists, so that few values make long lists. */
const widened = (value: object): string =>
  `{${Object.entries(value)
    .map(
      ([name, member]) =>
        `${JSON.stringify(name)}:${Array.isArray(member) ? `[${member.map((one) => JSON.stringify(one)).join(`${WIDE},`)}]` : JSON.stringify(member)}`,
    )
    .join(',')}}`;

test('whatever it is and wherever it is cut', async () => {
  const whole = fc.dictionary(
    fc.oneof(fc.string(), fc.constant('__proto__'), fc.string({ unit: 'binary' })),
    fc.oneof(fc.array(fc.jsonValue(), { maxLength: 6 }), fc.jsonValue()),
    { maxKeys: 4 },
  );
  await fc.assert(
    fc.asyncProperty(whole, async (value) => {
      const text = widened(value);
      expect(await read(text)).toEqual(JSON.parse(text));
    }),
    { numRuns: 150 },
  );
});

test('what is no JSON is refused by both', async () => {
  const fragment = fc.constantFrom(
    '{',
    '}',
    '[',
    ']',
    ',',
    ':',
    '"a"',
    '"a":[',
    '1',
    'null',
    WIDE,
    '"',
    '\\',
    '[{',
    '}]',
  );
  await fc.assert(
    fc.asyncProperty(fc.array(fragment, { maxLength: 12 }), async (fragments) => {
      const text = `{"a":[1,${fragments.join('')}`;
      const expected = ((): unknown => {
        try {
          return JSON.parse(text);
        } catch {
          return SyntaxError;
        }
      })();
      expect(await read(text).catch((error: Error) => error.constructor)).toEqual(expected);
    }),
    { numRuns: 400 },
  );
});

test.each([
  ['a comma at the end of a list, behind a cut', `{"a":[1${WIDE},2${WIDE},]}`],
  ['two commas', `{"a":[1${WIDE},,2]}`],
  ['a list that ends as an object', `{"a":[1${WIDE},2}]`],
  ['an end too early', `{"a":[1${WIDE},2`],
  ['something behind', `{"a":[1${WIDE},2]} 1`],
])('%s is no JSON', async (_what, text) => {
  await expect(read(text)).rejects.toThrow(SyntaxError);
});

test('a byte order mark is passed over; of members with one name the last one stands', async () => {
  expect(await read(`\ufeff{"a":[1${WIDE},2]}`)).toEqual({ a: [1, 2] });
  expect(await read(`{"a":[1${WIDE},2],"a":[3${WIDE},4]}`)).toEqual({ a: [3, 4] });
  expect(await read(`{"a":[1${WIDE},2],"a":5}`)).toEqual({ a: 5 });
});

test('each element is looked at, by where it stands', async () => {
  const looked: [unknown, string][] = [];
  await readJson(Buffer.from(`{"a":[1${WIDE},2],"b":3}`), {
    parts: PARTS,
    look: (value, where) => looked.push([value, where]),
  });
  expect(looked).toEqual([
    [1, 'a.0'],
    [2, 'a.1'],
    [{ b: 3 }, ''],
  ]);
});

test('others have their turn while a long list is read', async () => {
  const text = JSON.stringify({ samples: Array.from({ length: 60_000 }, (_, n) => ({ tag: `T-${n}`, value: n })) });
  let turns = 0;
  let reading = true;
  const others = (): void => {
    turns++;
    if (reading) setImmediate(others);
  };
  setImmediate(others);
  await read(text);
  reading = false;
  // A turn for each piece of 128 KB, and for each MB that is walked through.
  expect(turns).toBeGreaterThan(text.length / 200_000);
});

test('one member of too many values is not taken apart', async () => {
  await expect(read(`{"a":[[${'1,'.repeat(400_001)}1]]}`)).rejects.toThrow(CrowdedJson);
  await expect(read(`{"a":{"b":[${'1,'.repeat(400_001)}1]}}`)).rejects.toThrow(/more than 400000 values in one member/);
});
