/** Links: which tags are carried, by what names, and over which intervals they are summed up. */
import fc from 'fast-check';
import {
  TAG_NAME,
  carriedKinds,
  chosenTags,
  endedBetween,
  farNameOf,
  farNames,
  lastEdge,
  shortestOf,
  summaryInterval,
  wholeIntervals,
  type Naming,
  type NamingRule,
} from '../../src/index.ts';

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

describe('summaries', () => {
  const zone = 'Europe/Berlin';
  const span = fc
    .tuple(
      fc.integer({ min: Date.UTC(2026, 2, 20), max: Date.UTC(2026, 3, 5) }),
      fc.integer({ min: 0, max: 400_000_000 }),
    )
    .map(([from, length]) => ({ from: from * 1000, to: (from + length) * 1000 }));
  const written = fc.constantFrom(
    'PT1H',
    'PT7M',
    'hour',
    '15 minutes',
    'day',
    'week',
    'month',
    'shift:06:00/14:00/22:00',
  );

  test('intervals are the same wherever one begins to count: none is left out, and none is cut', () => {
    fc.assert(
      fc.property(written, span, fc.double({ min: 0, max: 1, noNaN: true }), (text, { from, to }, share) => {
        const interval = summaryInterval(text)!;
        const middle = Math.round(from + (to - from) * share);
        const all = wholeIntervals({ from, to }, Infinity, interval, zone);
        const known = new Set(all.map(({ begin, finish }) => `${begin} ${finish}`));
        const parts = [
          { from, to: middle },
          { from: middle, to },
        ].flatMap((part) => wholeIntervals(part, Infinity, interval, zone));
        expect(new Set(parts.map(({ begin, finish }) => `${begin} ${finish}`))).toEqual(known);
        all.forEach(({ begin, finish }, i) => {
          expect(finish).toBeGreaterThan(from);
          expect(begin).toBeLessThan(to);
          expect(finish - begin).toBeGreaterThanOrEqual(shortestOf(interval));
          if (i > 0) expect(begin).toBe(all[i - 1]!.finish);
        });
      }),
    );
  });

  test('whoever looks again and again finds each interval that ended once, however often that is', () => {
    fc.assert(
      fc.property(
        written,
        span,
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 5 }),
        (text, { from, to }, shares) => {
          const interval = summaryInterval(text)!;
          const looks = [
            from,
            ...shares.map((share) => Math.round(from + (to - from) * share)).sort((a, b) => a - b),
            to,
          ];
          const found = looks.slice(1).flatMap((by, i) => endedBetween(looks[i]!, by, interval, zone));
          expect(found).toEqual(endedBetween(from, to, interval, zone));
          for (const { finish } of found) expect(finish > from && finish <= to).toBe(true);
        },
      ),
    );
  });

  test('the day of a change of clocks is an interval of 23 hours, and so an hour of it is not lost', () => {
    const from = Date.UTC(2026, 2, 28, 23) * 1000;
    const [day] = wholeIntervals({ from, to: from + 1 }, Infinity, summaryInterval('day')!, zone);
    expect((day!.finish - day!.begin) / 3_600_000_000).toBe(23);
    expect(lastEdge(day!.finish, summaryInterval('day')!, zone)).toBe(day!.finish);
  });

  test('what would not begin at the same instants wherever one counts is no interval of a summary', () => {
    for (const text of ['P2D', '3 months', 'PT0S', 'PT0.5S', 'now and then', 'P2W'])
      expect(summaryInterval(text)).toBeUndefined();
  });

  test('each has a name of its own after that of its tag, its collisions are found, and text has what can be counted', () => {
    const summaries = [
      { aggregate: 'Average', interval: 'PT1H' },
      { aggregate: 'Count', interval: 'shift:06:00/18:00' },
    ] as const;
    const tags = [
      { name: 'A', place: '', type: 'real' },
      { name: 'W', place: '', type: 'text' },
      { name: 'A.Average.PT1H', place: '', type: 'real' },
    ];
    const named = farNames(tags, { rules: [], single: {} }, carriedKinds(true, summaries));
    expect(named.map(({ farName }) => farName)).toEqual([
      'A',
      'A.Average.PT1H',
      'A.Count.shift-06-00-18-00',
      'W',
      'W.Count.shift-06-00-18-00',
      'A.Average.PT1H',
      'A.Average.PT1H.Average.PT1H',
      'A.Average.PT1H.Count.shift-06-00-18-00',
    ]);
    expect(
      named.filter(({ problem }) => problem !== null).map(({ tag, summary }) => [tag.name, summary?.aggregate]),
    ).toEqual([
      ['A', 'Average'],
      ['A.Average.PT1H', undefined],
    ]);
  });
});
