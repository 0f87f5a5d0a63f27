/** Families: what a change of one makes of its tags, and that what was set by hand stays. */
import type { Body, Family } from '@wide-ledger/core';
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Standing } from '../../src/configuration/drafting.ts';
import type { References } from '../../src/sheet/cells.ts';
import { sheetColumns } from '../../src/sheet/columns.ts';
import { questionsFor } from '../../src/sheet/AskSources.tsx';
import { familyEffects, type AmongTags } from '../../src/sheet/family.ts';

const references: References = { nameOf: () => '', idOf: () => null, kindOfSource: () => null };
const columns = sheetColumns([]);
const FAMILY = 7;

const standing = (id: number, body: Body): Standing => ({ kind: 'tag', id, inForce: body, body, life: 'in force' });
const among = (...standings: Standing[]): AmongTags => ({ standings, columns, references });
const pumps = (list: string, more: Record<string, string> = {}): Family => ({
  cells: { name: 'P-{n:00}', type: 'real', unit: 'bar', ...more },
  roster: [{ name: 'n', list }],
  way: 'all combinations',
});

/** The tags that a family makes, as they stand once the draft is in force. */
function made(family: Family, before: Family | null, standings: readonly Standing[]): Standing[] {
  const effects = familyEffects(before ? FAMILY : null, before, family, among(...standings));
  const bodies = new Map(standings.map(({ id, body }) => [id, body!]));
  let next = 100 + standings.length;
  for (const change of effects.changes(FAMILY)) {
    if ('create' in change) bodies.set(next++, { store: 1, stepped: false, ...change.create });
    else if ('set' in change) bodies.set(change.id, { ...bodies.get(change.id), ...(change.set as Body) });
    else if ('retire' in change) bodies.delete(change.id);
  }
  return [...bodies].map(([id, body]) => standing(id, body));
}
const told = (standings: readonly Standing[]): unknown[] =>
  standings.map(({ body }) => [body!.name, body!.unit, body!.description ?? '', body!.labels]);

test('a new family makes its tags, labelled by its variables; one that is there by the name comes into it', () => {
  const there = standing(1, {
    name: 'P-02',
    type: 'real',
    unit: 'psi',
    stepped: false,
    store: 1,
    labels: { line: 'A' },
  });
  const effects = familyEffects(null, null, pumps('1-3'), among(there));
  expect(effects.rows.map(({ name, does }) => [name, does])).toEqual([
    ['P-01', 'new'],
    ['P-02', 'changed'],
    ['P-03', 'new'],
  ]);
  expect(effects.changes(FAMILY)).toEqual([
    { kind: 'tag', create: { name: 'P-01', type: 'real', unit: 'bar', labels: { n: '1' }, family: FAMILY } },
    { kind: 'tag', id: 1, set: { unit: 'bar', labels: { line: 'A', n: '2' }, family: FAMILY } },
    { kind: 'tag', create: { name: 'P-03', type: 'real', unit: 'bar', labels: { n: '3' }, family: FAMILY } },
  ]);
});

test('what was changed by hand stays and is told; what is not in the roster any more leaves', () => {
  const first = made(pumps('1-3'), null, []);
  const [one, two, three] = first as [Standing, Standing, Standing];
  const byHand = standing(two.id, { ...two.body, unit: 'kPa' });
  const renamed = standing(three.id, { ...three.body, name: 'OLD-3' });
  const next = pumps('2-4', { unit: 'mbar', description: 'pump {n}' });
  const effects = familyEffects(FAMILY, pumps('1-3'), next, among(one, byHand, renamed));
  expect(effects.rows.map(({ body, ...row }) => ({ ...row, unit: body?.unit ?? null }))).toEqual([
    { name: 'P-02', does: 'changed', exceptions: [{ key: 'unit', holds: 'kPa' }], troubles: [], unit: 'kPa' },
    { name: 'OLD-3', does: 'changed', exceptions: [{ key: 'name', holds: 'OLD-3' }], troubles: [], unit: 'mbar' },
    { name: 'P-04', does: 'new', exceptions: [], troubles: [], unit: 'mbar' },
    { name: 'P-01', does: 'leaves', exceptions: [], troubles: [], unit: null },
  ]);
  expect(told(made(next, pumps('1-3'), [one, byHand, renamed]))).toEqual([
    ['P-02', 'kPa', 'pump 2', { n: '2' }],
    ['OLD-3', 'mbar', 'pump 3', { n: '3' }],
    ['P-04', 'mbar', 'pump 4', { n: '4' }],
  ]);
});

test('addresses are asked for together by source and type, so many at a time', () => {
  const read = (source: number | null, type: string, n: number): Body => ({ source, type, address: { node: `n${n}` } });
  const bodies = [
    ...Array.from({ length: 250 }, (_, n) => read(1, 'real', n)),
    read(1, 'integer', 1),
    read(2, 'real', 1),
    read(null, 'real', 1),
    { source: 1, type: 'real', address: null },
  ];
  expect(questionsFor(bodies).map(({ source, type, tags }) => [source, type, tags.length])).toEqual([
    [1, 'real', 200],
    [1, 'real', 50],
    [1, 'integer', 1],
    [2, 'real', 1],
  ]);
});

test('what cannot be is refused, the rest is not', () => {
  const effects = familyEffects(null, null, pumps('1-2', { low: '{n}', high: '1.5' }), among());
  expect(effects.rows.map(({ name, does }) => [name, does])).toEqual([
    ['P-01', 'new'],
    ['P-02', 'refused'],
  ]);
  expect(() => familyEffects(null, null, pumps('3-1'), among())).toThrow('runs backwards');
});

test('without anything set by hand, a changed family makes the same tags as one that was so from the beginning', () => {
  const list = fc
    .uniqueArray(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 5 })
    .map((all) => all.join(', '));
  const unit = fc.constantFrom('bar', 'kPa', 'm/s');
  const description = fc.constantFrom('', 'pump {n}', 'the {n:000}');
  const family = fc
    .tuple(list, unit, description)
    .map(([numbers, one, words]) => pumps(numbers, { unit: one, description: words }));
  fc.assert(
    fc.property(family, family, (before, after) => {
      const sorted = (standings: readonly Standing[]): string[] =>
        told(standings)
          .map((one) => JSON.stringify(one))
          .sort();
      const changed = made(after, before, made(before, null, []));
      expect(sorted(changed)).toEqual(sorted(made(after, null, [])));
      // Once more, nothing is left to do.
      expect(familyEffects(FAMILY, after, after, among(...changed)).changes(FAMILY)).toEqual([]);
    }),
  );
});
