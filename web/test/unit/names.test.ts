/** Names looked through: against the rules of their places, alike, misspelt; and what would mend it. */
import type { Body } from '@wide-ledger/core';
import { expect, test } from '@jest/globals';
import type { Standing } from '../../src/configuration/drafting.ts';
import { nameFindings } from '../../src/sheet/names.ts';

const standing = (kind: 'tag' | 'place', id: number, body: Body): Standing => ({
  kind,
  id,
  inForce: body,
  body,
  life: 'in force',
});
const tag = (id: number, name: string, more: Body = {}): Standing => standing('tag', id, { name, ...more });
const names = { begins: 'TW-', signs: '-', capitals: true, longest: null, letters: true, binding: false };
const places = [
  standing('place', 1, { name: 'Wells', parent: null, names }),
  standing('place', 2, { name: 'Well 1', parent: 1 }),
  standing('place', 3, { name: 'Kiln', parent: null }),
];

test('rules hold for what lies in a place, and what only signs and capitals are wrong with can be renamed', () => {
  const { againstRules } = nameFindings(
    [
      tag(1, 'TW-PT-1', { place: 2 }),
      tag(2, 'tw_tt_2', { place: 2 }),
      tag(3, 'kiln', { place: 3 }),
      tag(4, 'pump', { place: 1 }),
      tag(5, 'tw_pt_1', { place: 2 }),
    ],
    places,
  );
  expect(againstRules.map(({ about, mends }) => [about, mends?.changes ?? null])).toEqual([
    ['tw_tt_2', [{ kind: 'tag', id: 2, set: { name: 'TW-TT-2' } }]],
    ['pump', null],
    ['tw_pt_1', null],
  ]);
  expect(againstRules[2]!.sentences.at(-1)).toBe('TW-PT-1 would, and is another tag.');
});

test('rules that are being written ask for what they say so far', () => {
  const begun = [standing('place', 1, { name: 'Wells', names: { begins: 'TW-', longest: 'x' } })];
  const { againstRules } = nameFindings([tag(1, 'pump', { place: 1 }), tag(2, 'TW-x', { place: 1 })], begun);
  expect(againstRules.map(({ about, sentences }) => [about, sentences])).toEqual([
    ['pump', ['Names here begin with TW-.']],
  ]);
});

test('two names that would become one are not both renamed to it', () => {
  const { againstRules } = nameFindings([tag(1, 'tw_tt_2', { place: 1 }), tag(2, 'tw.tt.2', { place: 1 })], places);
  expect(againstRules.map(({ mends }) => mends?.says ?? null)).toEqual(['Rename to TW-TT-2', null]);
});

test('names that are one when read in passing are told together', () => {
  const { alike } = nameFindings([tag(1, 'TW-PT-110'), tag(2, 'TW-PT-11O'), tag(3, 'TW-PT-111')], []);
  expect(alike.map(({ tags }) => tags)).toEqual([['TW-PT-110', 'TW-PT-11O']]);
});

test('a misspelt word is put right in every description that holds it, and nothing else is changed', () => {
  const right = Array.from({ length: 8 }, (_, i) => tag(i + 1, `P-${i}`, { description: `Pressure ${i}` }));
  const { words } = nameFindings(
    [...right, tag(20, 'X', { description: 'Presure behind pump' }), tag(21, 'Y', { description: 'Low presure' })],
    [],
  );
  expect(words).toHaveLength(1);
  expect(words[0]!.tags).toEqual(['X', 'Y']);
  expect(words[0]!.mends!.changes).toEqual([
    { kind: 'tag', id: 20, set: { description: 'Pressure behind pump' } },
    { kind: 'tag', id: 21, set: { description: 'Low pressure' } },
  ]);
});
