/** Editing a draft, item by item. */
import type { DraftChange } from '@wide-ledger/contract';
import type { Body, DefinitionKind } from '@wide-ledger/core';
import fc from 'fast-check';
import { UneditableError, edit, type Items } from '../../src/configuration/drafts/items.ts';
import type { Wish } from '../../src/configuration/force/settle.ts';

const IN_FORCE: ReadonlyMap<string, Body> = new Map([
  ['tag 1', { name: 'A', unit: 'bar', since: '2026-01-01T00:00:00Z' }],
  ['pace 2', { name: 'Slow', intervalMilliseconds: 10_000 }],
]);

/** The items after some edits, new definitions numbered from 100. */
function after(changes: readonly DraftChange[], items: Items = new Map()): Items {
  let next = 100;
  for (const change of changes) edit(items, change, IN_FORCE, () => next++);
  return items;
}
const itemOf = (items: Items, key: string): Wish => {
  const item = items.get(key);
  if (!item) throw new Error(`The draft does not touch ${key}.`);
  return item;
};

test('what is set is kept beside what was in force, and set back it is no change', () => {
  const changed = after([{ kind: 'tag', id: 1, set: { unit: 'mbar' } }]);
  expect(itemOf(changed, 'tag 1')).toEqual({
    kind: 'tag',
    id: 1,
    base: IN_FORCE.get('tag 1'),
    body: { name: 'A', unit: 'mbar', since: '2026-01-01T00:00:00Z' },
  });
  expect(after([{ kind: 'tag', id: 1, set: { unit: 'bar' } }], changed).get('tag 1')).toBeNull();
});

test('something new has all the fields of its kind, and goes without a trace when it is retired', () => {
  const made = after([{ kind: 'tag', create: { name: 'N' } }]);
  expect(itemOf(made, 'tag 100')).toMatchObject({
    base: null,
    body: { name: 'N', type: 'real', settings: {}, store: 1 },
  });
  expect(after([{ kind: 'tag', id: 100, retire: true }], made).get('tag 100')).toBeNull();
});

test('a copy takes everything along but its past', () => {
  const copied = after([{ kind: 'tag', id: 1, copy: true, set: { name: 'B' } }]);
  expect(itemOf(copied, 'tag 100')).toMatchObject({ base: null, body: { name: 'B', unit: 'bar', since: null } });
  // Of what stands in the draft already, where that is so.
  const twice = after([
    { kind: 'pace', id: 2, set: { intervalMilliseconds: 500 } },
    { kind: 'pace', id: 2, copy: true, set: { name: 'Other' } },
  ]);
  expect(itemOf(twice, 'pace 100').body).toEqual({ name: 'Other', intervalMilliseconds: 500 });
});

test('what is to be retired keeps what it was, and can be taken out again', () => {
  const retired = after([
    { kind: 'tag', id: 1, set: { unit: 'mbar' } },
    { kind: 'tag', id: 1, retire: true },
  ]);
  expect(itemOf(retired, 'tag 1')).toMatchObject({ base: { unit: 'bar' }, body: null });
  expect(after([{ kind: 'tag', id: 1, discard: true }], retired).get('tag 1')).toBeNull();
});

test('what is not there, or to be retired, is not changed', () => {
  expect(() => after([{ kind: 'tag', id: 9, set: { unit: 'm' } }])).toThrow(UneditableError);
  expect(() =>
    after([
      { kind: 'tag', id: 1, retire: true },
      { kind: 'tag', id: 1, set: { unit: 'm' } },
    ]),
  ).toThrow('The tag number 1 is not there, or retired.');
  expect(() => after([{ kind: 'pace', id: 1, copy: true, set: {} }])).toThrow(UneditableError);
});

test('edits of different fields come to the same in any order, and never lose what was in force', () => {
  const field = fc.constantFrom('unit', 'description', 'low', 'high');
  const sets = fc.uniqueArray(fc.tuple(field, fc.integer()), { selector: ([name]) => name, minLength: 1 });
  fc.assert(
    fc.property(sets, (given) => {
      const changes = given.map(([name, value]): DraftChange => ({ kind: 'tag', id: 1, set: { [name]: value } }));
      const [there, back] = [after(changes), after([...changes].reverse())];
      expect(there.get('tag 1')).toEqual(back.get('tag 1'));
      expect(itemOf(there, 'tag 1').base).toBe(IN_FORCE.get('tag 1'));
    }),
  );
});

test('numbers are asked for once for each that is new', () => {
  const asked: DefinitionKind[] = [];
  const items: Items = new Map();
  const changes: DraftChange[] = [
    { kind: 'place', create: { name: 'Site' } },
    { kind: 'tag', id: 1, set: { unit: 'm' } },
    { kind: 'tag', id: 1, copy: true, set: { name: 'C' } },
  ];
  for (const change of changes) {
    edit(items, change, IN_FORCE, (kind) => {
      asked.push(kind);
      return 200 + asked.length;
    });
  }
  expect(asked).toEqual(['place', 'tag']);
  expect([...items.keys()]).toEqual(['place 201', 'tag 1', 'tag 202']);
});
