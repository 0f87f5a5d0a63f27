/** What people take from a source's tree, and the tags that it becomes. */
import { tagName, type BrowsedNode } from '@wide-ledger/contract';
import fc from 'fast-check';
import { labelsByPattern, labelsProblem, partsOf } from '../../src/sources/take/namePattern.ts';
import type { Placed } from '../../src/sources/take/choice.ts';
import { choicesOf, matches, proposedNames, taking } from '../../src/sources/take/proposals.ts';

const nodeOf = (over: Partial<BrowsedNode> = {}): BrowsedNode => ({
  node: 'ns=2;s=Pump1.Pressure',
  name: 'Pressure',
  description: 'discharge pressure',
  hasBelow: false,
  type: 'real',
  typeWords: 'Double',
  unit: 'bar',
  low: 0,
  high: 16,
  states: null,
  value: '7',
  quality: 'Good',
  elements: [],
  taken: [],
  ...over,
});
const placed = (over: Partial<BrowsedNode> = {}, path: string[] = ['Pumps', 'Pump 1']): Placed => ({
  node: nodeOf(over),
  path,
});

test('names are proposed from the folder and the node, in the characters that names may have', () => {
  expect(proposedNames([...choicesOf(placed()), ...choicesOf(placed({ name: 'µ-Wert' }, ['Größe']))])).toEqual([
    'Pump-1.Pressure',
    'Gr-e.Wert',
  ]);
});

test('proposed names are valid and no two are the same, whatever nodes are called', () => {
  const some = fc.record({
    name: fc.string({ minLength: 1, unit: 'grapheme' }),
    path: fc.array(fc.string(), { maxLength: 3 }),
  });
  fc.assert(
    fc.property(
      fc.array(some, { maxLength: 20 }),
      fc.constantFrom('', '{1}', '_{name}-{-1}', '{9}.'),
      (given, pattern) => {
        const names = proposedNames(
          given.flatMap(({ name, path }, i) => choicesOf(placed({ name, node: `i=${i}` }, path))),
          pattern,
        );
        expect(new Set(names).size).toBe(names.length);
        for (const name of names) expect([name, tagName.safeParse(name).success]).toEqual([name, true]);
      },
    ),
  );
});

test('a pattern makes names of the levels above a node, and is none where it holds nothing', () => {
  const meters = [1, 2].map((n) => placed({ name: 'flow' }, ['saltquay', 'exchange', String(n), 'meter']));
  const choices = meters.flatMap(choicesOf);
  expect(proposedNames(choices, 'SQ-{3}.{name}')).toEqual(['SQ-1.flow', 'SQ-2.flow']);
  expect(proposedNames(choices, '{-1}-{-2}')).toEqual(['meter-1', 'meter-2']);
  // Two of one name are told apart; a level that is not there is nothing.
  expect(proposedNames(choices, '{2}{9}')).toEqual(['exchange', 'exchange-2']);
  expect(proposedNames(choices, '{9}')).toEqual(['meter.flow', 'meter.flow-2']);
  const vibration = placed({ type: null, name: 'Vibration', elements: ['[0]', '[1]'] });
  expect(proposedNames(choicesOf(vibration), '{name}{element}')).toEqual(['Vibration0', 'Vibration1']);
  expect(partsOf(choices[0]!).map(([place, is]) => `${place} ${is}`)).toEqual([
    '{1} saltquay',
    '{2} exchange',
    '{3} 1',
    '{4} meter',
    '{name} flow',
  ]);
});

test('labels come of the levels above a node, of its name, and as they are written', () => {
  const [choice] = choicesOf(placed({ name: 'flow' }, ['saltquay', 'exchange', '7', 'meter']));
  expect(labelsByPattern('meter={3}; site={1} ; line=A; none={9}', choice!)).toEqual({
    meter: '7',
    site: 'saltquay',
    line: 'A',
  });
  expect(labelsByPattern('', choice!)).toEqual({});
  expect(['', 'a=1;', 'a={name}; b=='].map(labelsProblem)).toEqual([null, null, null]);
  expect(labelsProblem('meter')).toContain('"meter" is none');
  expect(labelsProblem('a=1; 2b=3')).toContain('"2b=3" is none');
});

test('an array is taken apart into its elements; a folder offers nothing', () => {
  const vibration = placed({ type: null, name: 'Vibration', elements: ['[0]', '[1]'] });
  expect(proposedNames(choicesOf(vibration))).toEqual(['Pump-1.Vibration.0', 'Pump-1.Vibration.1']);
  expect(choicesOf(placed({ type: null }))).toEqual([]);
});

test('what the source says goes along into the draft', () => {
  const [choice] = choicesOf(placed());
  expect(
    taking('opc-ua', choice!, { name: 'P1', labels: { pump: '1' } }, { source: 5, place: 7, pace: null }),
  ).toMatchObject({
    kind: 'tag',
    create: {
      name: 'P1',
      type: 'real',
      unit: 'bar',
      low: 0,
      high: 16,
      source: 5,
      place: 7,
      pace: null,
      labels: { pump: '1' },
      address: { node: 'ns=2;s=Pump1.Pressure', element: '' },
    },
  });
  const [state] = choicesOf(placed({ type: 'state', states: { 0: 'off' }, low: null, high: null }));
  expect(taking('opc-ua', state!, { name: 'S1', labels: {} }, { source: 5, place: null, pace: null })).toMatchObject({
    create: { type: 'state', stepped: true, states: { 0: 'off' } },
  });
});

test('a search finds every word, in the name, the folders, the description or the unit', () => {
  expect(matches(placed(), 'bar pump discharge')).toBe(true);
  expect(matches(placed(), 'bar boiler')).toBe(false);
});
