/** Laws of configuration: differences, merging, duty. */
import fc from 'fast-check';
import {
  applyDiff,
  canonical,
  check,
  diff,
  dutyOf,
  effectsOf,
  fieldAt,
  merge,
  plainWords,
  samePlain,
  totalLength,
  type Body,
  type Change,
  type DefinitionKind,
  type Plain,
  type SourceDuty,
  type Standing,
  type TagDuty,
} from '../../src/index.ts';

const scalar = fc.oneof(
  fc.constant(null),
  fc.boolean(),
  fc.integer({ min: -3, max: 3 }),
  fc.constantFrom('', 'a', 'b'),
);
const name = fc.constantFrom('name', 'unit', 'connection', 'states', '__proto__', 'constructor');
const { body } = fc.letrec<{ plain: Plain; body: Body }>((tie) => ({
  plain: fc.oneof({ depthSize: 'small' }, scalar, fc.array(scalar, { maxLength: 3 }), tie('body')),
  body: fc
    .uniqueArray(fc.tuple(name, tie('plain')), { selector: ([key]) => key, maxLength: 4 })
    .map((entries) => Object.fromEntries(entries)),
}));

describe('differences', () => {
  test('put on the old version give the new one', () => {
    fc.assert(
      fc.property(body, body, (before, after) => {
        expect(samePlain(applyDiff(before, diff(before, after)), after)).toBe(true);
      }),
    );
  });
  test('of equal bodies are none, whatever the order of their fields', () => {
    fc.assert(
      fc.property(body, (one) => {
        expect(diff(one, Object.fromEntries(Object.entries(one).reverse()))).toEqual([]);
      }),
    );
  });
  test('name each field once, with what is on both sides', () => {
    fc.assert(
      fc.property(body, body, (before, after) => {
        const changes = diff(before, after);
        expect(new Set(changes.map(({ path }) => JSON.stringify(path))).size).toBe(changes.length);
        for (const { path, from, to } of changes) {
          expect(samePlain(fieldAt(before, path), from)).toBe(true);
          expect(samePlain(fieldAt(after, path), to)).toBe(true);
        }
      }),
    );
  });
  test('go into objects, and take lists as one', () => {
    expect(
      diff(
        { connection: { host: 'a', port: 502 }, states: [1, 2] },
        { connection: { host: 'b', port: 502 }, states: [1], unit: null },
      ),
    ).toEqual([
      { path: ['connection', 'host'], from: 'a', to: 'b' },
      { path: ['states'], from: [1, 2], to: [1] },
      { path: ['unit'], from: undefined, to: null },
    ]);
  });
});

describe('two people’s changes', () => {
  const maybe = fc.option(body);
  test('of one definition merge to the same from either side, or conflict in the same fields', () => {
    fc.assert(
      fc.property(maybe, maybe, maybe, (base, mine, theirs) => {
        const [here, there] = [merge(base, mine, theirs), merge(base, theirs, mine)];
        const paths = (conflicts: typeof here.conflicts): string[] =>
          conflicts.map(({ path }) => JSON.stringify(path)).sort();
        expect(paths(here.conflicts)).toEqual(paths(there.conflicts));
        if (here.conflicts.length === 0) expect(samePlain(here.body, there.body)).toBe(true);
      }),
    );
  });
  test('keep every field that only one of them changed', () => {
    fc.assert(
      fc.property(body, body, (base, theirs) => {
        const merged = merge(base, base, theirs);
        expect([merged.conflicts, samePlain(merged.body, theirs)]).toEqual([[], true]);
      }),
    );
  });
  test('conflict where they set one field to different things, and nowhere else', () => {
    const base = { name: 'A', connection: { host: 'a', port: 1 }, unit: 'm' };
    const mine = { name: 'A', connection: { host: 'b', port: 2 }, unit: 'm³' };
    const theirs = { name: 'B', connection: { host: 'c', port: 2 }, unit: 'm' };
    expect(merge(base, mine, theirs)).toEqual({
      body: { name: 'B', connection: { host: 'b', port: 2 }, unit: 'm³' },
      conflicts: [{ path: ['connection', 'host'], base: 'a', mine: 'b', theirs: 'c' }],
    });
  });
  test('conflict as a whole where one retired what the other changed', () => {
    expect(merge({ unit: 'm' }, null, { unit: 'cm' }).conflicts).toEqual([
      { path: [], base: { unit: 'm' }, mine: undefined, theirs: { unit: 'cm' } },
    ]);
    expect(merge({ unit: 'm' }, null, { unit: 'm' })).toEqual({ body: null, conflicts: [] });
  });
});

describe('duty', () => {
  const span = fc
    .tuple(fc.integer({ min: 0, max: 50 }), fc.integer({ min: 1, max: 20 }))
    .map(([from, length]) => ({ from, to: from + length }));
  const tagVersion: fc.Arbitrary<TagDuty> = fc
    .tuple(span, fc.constantFrom(null, 1, 2), fc.boolean())
    .map(([one, source, paused]) => ({ ...one, source, paused }));
  const sourceVersion: fc.Arbitrary<SourceDuty> = fc
    .tuple(span, fc.constantFrom(1, 2), fc.boolean())
    .map(([one, source, paused]) => ({ ...one, source, paused }));
  test('is what the versions say, whatever the order in which they are read', () => {
    fc.assert(
      fc.property(fc.array(tagVersion), fc.array(sourceVersion), (tag, sources) => {
        const duty = dutyOf(tag, sources);
        expect(dutyOf([...tag].reverse(), [...sources].reverse())).toEqual(duty);
        // Instant by instant.
        for (let time = 0; time < 71; time++) {
          const holds = (one: { from: number; to: number; paused: boolean }): boolean =>
            one.from <= time && time < one.to && !one.paused;
          for (const source of [1, 2]) {
            const due =
              tag.some((one) => one.source === source && holds(one)) &&
              sources.some((one) => one.source === source && holds(one));
            expect(duty.some((one) => one.source === source && one.from <= time && time < one.to)).toBe(due);
          }
        }
      }),
    );
  });
  test('passes from one source to another without a seam, and stops while either is paused', () => {
    const tag: TagDuty[] = [
      { from: 0, to: 10, source: 1, paused: false },
      { from: 10, to: 20, source: 1, paused: false },
      { from: 20, to: 30, source: 2, paused: false },
      { from: 30, to: 40, source: 2, paused: true },
      { from: 40, to: Infinity, source: 2, paused: false },
    ];
    const sources: SourceDuty[] = [
      { from: 0, to: Infinity, source: 1, paused: false },
      { from: 0, to: 50, source: 2, paused: false },
      { from: 50, to: 60, source: 2, paused: true },
    ];
    const duty = dutyOf(tag, sources);
    expect(duty).toEqual([
      { from: 0, to: 20, source: 1 },
      { from: 20, to: 30, source: 2 },
      { from: 40, to: 50, source: 2 },
    ]);
    expect(totalLength(duty)).toBe(40);
  });
});

describe('checks', () => {
  const tag = (fields: Body): Body => ({
    name: 'T',
    type: 'real',
    low: null,
    high: null,
    settings: {},
    source: null,
    address: null,
    ...fields,
  });
  const standing = (
    bodies: Record<string, Body> = {},
    names: Record<string, number> = {},
    dependants = 0,
  ): Standing => ({
    body: (kind, id) => bodies[`${kind} ${id}`],
    idByName: (kind, name) => names[`${kind} ${name}`],
    tagsSpelt: (spelling) =>
      Object.entries(names).flatMap(([key, id]) => (key.toLowerCase() === `tag ${spelling}` ? [id] : [])),
    dependants: () => dependants,
  });
  const found = (changes: Change[], beside = standing()): string[] =>
    check(changes, beside).map(({ severity, path, sentence }) => `${severity} ${path.join('.')}: ${sentence}`);
  const put = (kind: DefinitionKind, id: number, after: Body | null, before: Body | null = null): Change => ({
    kind,
    id,
    before,
    after,
  });

  test('a name is one’s own, also beside the other changes and those that were retired', () => {
    const twice = [put('tag', 1, tag({})), put('tag', 2, tag({}))];
    expect(found(twice)).toEqual([
      'blocks name: There is another tag named T.',
      'blocks name: There is another tag named T.',
    ]);
    expect(found([put('tag', 1, tag({}))], standing({ 'tag 9': tag({}) }, { 'tag T': 9 }))).toEqual([
      'blocks name: There is another tag named T.',
    ]);
    expect(found([put('tag', 1, tag({}))], standing({}, { 'tag T': 9 }))[0]).toContain('was retired');
    // One that gives the name up in the same changes leaves it free.
    const swap = [
      put('tag', 1, tag({ name: 'T' }), tag({ name: 'U' })),
      put('tag', 9, tag({ name: 'U' }), tag({ name: 'T' })),
    ];
    expect(
      found(swap, standing({ 'tag 9': tag({}), 'tag 1': tag({ name: 'U' }) }, { 'tag T': 9, 'tag U': 1 })),
    ).toEqual([]);
  });
  test('a name that is new keeps the rules of its place, and differs from others not only in capital letters', () => {
    const names = { begins: 'TW-', signs: '-', capitals: true, longest: null, letters: false, binding: false };
    const places = {
      'place 1': { name: 'Wells', parent: null, names },
      'place 2': { name: 'Well 1', parent: 1 },
      'place 3': { name: 'Strict', parent: 1, names: { ...names, binding: true } },
    };
    expect(found([put('tag', 1, tag({ place: 2 }))], standing(places))).toEqual([
      'warns name: T: Names here begin with TW-.',
    ]);
    expect(found([put('tag', 1, tag({ place: 3 }))], standing(places))).toEqual([
      'blocks name: T: Names here begin with TW-.',
    ]);
    // One that has its name already keeps it.
    expect(found([put('tag', 1, tag({ place: 3, low: 1 }), tag({ place: 3 }))], standing(places))).toEqual([]);
    const beside = standing({ ...places, 'tag 9': tag({ name: 'tW-1' }) }, { 'tag tW-1': 9 });
    expect(found([put('tag', 1, tag({ name: 'TW-1', place: 3 }))], beside)).toEqual([
      'blocks name: TW-1 and tW-1 are the same but for capital letters.',
    ]);
    // The other one is renamed in the same changes.
    const both = [put('tag', 1, tag({ name: 'TW-1' })), put('tag', 9, tag({ name: 'X' }), tag({ name: 'tW-1' }))];
    expect(found(both, beside)).toEqual([]);
    const twins = [put('tag', 1, tag({ name: 'TW-1' })), put('tag', 2, tag({ name: 'tw-1' }))];
    expect(found(twins).map((one) => one.slice(0, 10))).toEqual(['warns name', 'warns name']);
  });
  test('what is referred to has to be there, and what is referred to cannot go', () => {
    expect(found([put('tag', 1, tag({ pace: 5 }))])).toEqual(['blocks pace: The pace of T is not there, or retired.']);
    expect(found([put('tag', 1, tag({ pace: 5 })), put('pace', 5, { name: 'P' })])).toEqual([]);
    expect(found([put('pace', 5, null, { name: 'P' })], standing({}, {}, 3))).toEqual([
      'blocks : 3 in force still refer to the pace P. Change or retire them too.',
    ]);
    expect(found([put('store', 1, null, { name: 'S' })])).toEqual([
      'blocks : A store is not retired while it holds history.',
    ]);
  });
  test('a tag with a source has an address; what will not work as meant is said', () => {
    const source = { 'source 2': { name: 'S', paused: true } };
    expect(found([put('tag', 1, tag({ source: 2 }))], standing(source))).toEqual([
      'blocks address: T has a source, but no address in it.',
      'warns source: The source of T is paused: nothing is read.',
    ]);
    const percent = { deadband: { kind: 'percent', percent: 1 } };
    expect(found([put('tag', 1, tag({ settings: percent }))])[0]).toContain('no range');
    const along = { deadband: { kind: 'line percent', percent: 1 } };
    expect(found([put('tag', 1, tag({ settings: along }))])[0]).toContain('no range');
    expect(found([put('tag', 1, tag({ settings: along, low: 0, high: 1, stepped: true }))])[0]).toContain(
      'along lines',
    );
    expect(found([put('tag', 1, tag({ settings: along, low: 0, high: 1, stepped: false }))])).toEqual([]);
    expect(found([put('tag', 1, tag({ settings: percent, low: 0, high: 1 }))])).toEqual([]);
    expect(
      found([put('tag', 1, tag({ type: 'text', settings: { deadband: { kind: 'absolute', width: 1 } } }))])[0],
    ).toContain('texts');
  });
});

describe('effects', () => {
  const around = {
    pace: (id: number) => (id === 5 ? { name: 'P', intervalMilliseconds: 500 } : undefined),
    useOf: () => ({ tags: 10, ownInterval: 4 }),
    words: (_: DefinitionKind, path: readonly string[], value: Plain | undefined) => plainWords(path, value),
    title: (_: DefinitionKind, path: readonly string[]) => path.at(-1)!,
  };
  const tag = (id: number, before: Body | null, after: Body | null): Change => ({ kind: 'tag', id, before, after });
  test('are counted where many change alike, with the values that are read more or fewer', () => {
    const read = (milliseconds: number): Body => ({ source: 1, settings: { intervalMilliseconds: milliseconds } });
    const changes = Array.from({ length: 26 }, (_, i) => tag(i, read(1000), read(5000)));
    expect(effectsOf(changes, around)).toEqual([
      '26 tags: intervalMilliseconds: every 1 s → every 5 s.',
      'About 21 values/s fewer are read.',
    ]);
    expect(effectsOf([tag(1, null, { source: 1, settings: {} })], around)).toEqual([
      '1 tag comes new.',
      'About 1 value/s more are read.',
    ]);
    expect(effectsOf([tag(1, { source: 1, pace: 5 }, null)], around)).toEqual([
      '1 tag is retired; its history stays.',
      'About 2 values/s fewer are read.',
    ]);
  });
  test('of a pace count the tags that follow it', () => {
    const pace = (milliseconds: number): Body => ({ name: 'P', intervalMilliseconds: milliseconds });
    const changes: Change[] = [{ kind: 'pace', id: 5, before: pace(1000), after: pace(2000) }];
    expect(effectsOf(changes, around)).toContain('About 3 values/s fewer are read.');
  });
  test('paused, or sent to, nothing is read', () => {
    const before: Body = { source: 1, paused: false };
    expect(effectsOf([tag(1, before, { source: 1, paused: true })], around)).toContain(
      'About 1 value/s fewer are read.',
    );
    expect(effectsOf([tag(1, null, { source: null })], around)).toEqual(['1 tag comes new.']);
  });
});

test('one value has one text, whatever the order of its fields', () => {
  fc.assert(
    fc.property(body, body, (a, b) => {
      expect(canonical(a) === canonical(b)).toBe(samePlain(a, b));
      expect(canonical(Object.fromEntries(Object.entries(a).reverse()))).toBe(canonical(a));
      expect(samePlain(JSON.parse(canonical(a)) as Plain, a)).toBe(true);
    }),
  );
});

test('values in words: a pace is every so often, another time is a length, an empty list is none', () => {
  expect(plainWords(['intervalMilliseconds'], 1500)).toBe('every 1.5 s');
  expect(plainWords(['intervalMilliseconds'], 2000)).toBe('every 2 s');
  expect(plainWords(['connection', 'timeoutMilliseconds'], 5000)).toBe('5 s');
  expect(plainWords(['connection', 'trusted'], [])).toBe('none');
  expect(plainWords(['connection', 'trusted'], ['A', 'B'])).toBe('A, B');
});

test('two intervals that differ are never the same words', () => {
  const some = fc.oneof(
    fc.integer({ min: 50, max: 86_400_000 }),
    fc.integer({ min: 1, max: 86_400 }).map((seconds) => seconds * 1000),
    fc.integer({ min: 1, max: 1440 }).map((minutes) => minutes * 60_000),
  );
  fc.assert(
    fc.property(some, some, (a, b) => {
      const words = (milliseconds: number): string => plainWords(['intervalMilliseconds'], milliseconds);
      expect(words(a) === words(b)).toBe(a === b);
    }),
  );
});
