/** Links: which tags are carried, and by what names. */
import fc from 'fast-check';
import { TAG_NAME, chosenTags, farNameOf, farNames, type Naming, type NamingRule } from '../../src/index.ts';

const tag = (name: string, place = '', description = '', unit = '') => ({ name, place, description, unit });

test('searches add up; every word of one has to occur; a place holds what lies in it', () => {
  const tags = [
    tag('TW-FT-101', 'Thornmere Wells / Well 1', 'flow', 'm³/h'),
    tag('TW-PT-102', 'Thornmere Wells / Well 1', 'pressure', 'bar'),
    tag('KB-FT-301', 'Kilnbank', 'flow', 'm³/h'),
    tag('KB-TT-302', 'Kilnbank Annex', 'temperature', '°C'),
  ];
  const names = (...selections: [search: string, place: string][]): string[] =>
    chosenTags(
      tags,
      selections.map(([search, place]) => ({ search, place })),
    ).map(({ name }) => name);
  expect(names(['', ''])).toHaveLength(4);
  expect(names()).toEqual([]);
  expect(names(['FLOW tw', ''])).toEqual(['TW-FT-101']);
  expect(names(['', 'Kilnbank'])).toEqual(['KB-FT-301']);
  expect(names(['', 'Kilnbank'], ['bar', ''])).toEqual(['TW-PT-102', 'KB-FT-301']);
});

test('rules apply one after the other; a single name counts instead of them', () => {
  const rules: NamingRule[] = [
    { kind: 'replace', find: '-', by: '_' },
    { kind: 'prefix', text: 'TH.' },
  ];
  const one = tag('TW-FT-101', 'Thornmere Wells / Well 1');
  expect(farNameOf(one, { rules, single: {} })).toBe('TH.TW_FT_101');
  expect(farNameOf(one, { rules, single: { 'TW-FT-101': 'Flow' } })).toBe('Flow');
  const pattern: NamingRule[] = [{ kind: 'pattern', pattern: '{place}.{name}' }];
  expect(farNameOf(one, { rules: pattern, single: {} })).toBe('ThornmereWells.Well1.TW-FT-101');
  // A dollar sign is one, and braces within a name are not filled in.
  expect(farNameOf(tag('a'), { rules: [{ kind: 'replace', find: 'a', by: '$&{name}' }], single: {} })).toBe('$&{name}');
});

const name = fc.stringMatching(/^[A-Za-z0-9][A-Za-z0-9._-]{0,8}$/);
const rule: fc.Arbitrary<NamingRule> = fc.oneof(
  fc.record({ kind: fc.constant('prefix' as const), text: fc.string({ maxLength: 3 }) }),
  fc.record({
    kind: fc.constant('replace' as const),
    find: fc.string({ maxLength: 2 }),
    by: fc.string({ maxLength: 2 }),
  }),
  fc.record({
    kind: fc.constant('pattern' as const),
    pattern: fc.constantFrom('{name}', '{place}.{name}', 'x', '{place}'),
  }),
);
const naming: fc.Arbitrary<Naming> = fc.record({
  rules: fc.array(rule, { maxLength: 3 }),
  single: fc.dictionary(name, fc.string({ maxLength: 5 }), { maxKeys: 3 }),
});
const tags = fc.uniqueArray(fc.record({ name, place: fc.constantFrom('', 'A', 'A / B 1') }), {
  selector: (one) => one.name,
  maxLength: 20,
});

test('naming is a function of the tag alone, and a name is carried by one tag at most: every collision is found', () => {
  fc.assert(
    fc.property(tags, naming, (all, by) => {
      const named = farNames(all, by);
      expect(named.map(({ tag: one }) => one)).toEqual(all);
      for (const { tag: one, farName } of named) expect(farNameOf(one, by)).toBe(farName);
      const carried = named.filter(({ problem }) => problem === null).map(({ farName }) => farName);
      expect(new Set(carried).size).toBe(carried.length);
      for (const farName of carried) expect(farName).toMatch(TAG_NAME);
      // And nothing is held back without a reason.
      for (const { farName, problem } of named) {
        const alone = named.filter((other) => other.farName === farName).length === 1;
        expect(problem === null).toBe(alone && TAG_NAME.test(farName));
      }
    }),
  );
});
