/** Laws of configuration: differences, merging, duty. */
import fc from 'fast-check';
import {
  applyDiff,
  diff,
  dutyOf,
  fieldAt,
  merge,
  samePlain,
  totalLength,
  type Body,
  type Plain,
  type SourceDuty,
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
