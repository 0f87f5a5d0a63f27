import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  instrumentLetters,
  isOneSlip,
  meaningOf,
  misspelt,
  nameByRules,
  namingProblems,
  nearDuplicates,
  putRight,
  readInPassing,
  type NamingRules,
} from '../../src/index.ts';

const RULES: NamingRules = { begins: 'TW-', signs: '-', capitals: true, longest: 12, letters: true, binding: false };

// ISA-5.1, table of identification letters; from memory.
describe('letters of an instrument', () => {
  test.each([
    ['TW-PT-110', 'PT', ['pressure', 'transmits']],
    ['TW-PDI-412', 'PDI', ['pressure', 'difference', 'indicates']],
    ['FQ404', 'FQ', ['flow', 'added up']],
    ['TW-LSH-3', 'LSH', ['level', 'switches', 'high']],
    ['KB-TC-404B', 'TC', ['temperature', 'controls']],
    ['unit 2 FT 17', 'FT', ['flow', 'transmits']],
    ['TW-TTD-1', 'TTD', null],
    ['TW-P-1', 'P', null],
  ])('of %s are %s', (name, letters, meaning) => {
    expect(instrumentLetters(name)).toBe(letters);
    expect(meaningOf(letters)).toEqual(meaning);
  });

  test('are not there without a number behind them', () => {
    expect(instrumentLetters('TW.collector.beats')).toBeNull();
    expect(instrumentLetters('')).toBeNull();
  });
});

describe('rules of names', () => {
  test('say all that is wrong with a name, and nothing of one that keeps them', () => {
    expect(namingProblems('TW-PT-110', RULES)).toEqual([]);
    expect(namingProblems('kb_pump one', RULES)).toEqual([
      'Names here begin with TW-.',
      'Names here hold no _ and no spaces.',
      'Names here are in capital letters.',
      'Names here have letters before their number that say what it is, such as PT-110.',
    ]);
    expect(namingProblems('TW-PT-110-LEFT', RULES)).toEqual(['Names here are at most 12 characters long.']);
    expect(namingProblems('TW-PTD-110', RULES)[0]).toContain('PTD says nothing in ISA-5.1');
  });

  test('make a name that keeps them where only signs and capitals are wrong', () => {
    expect(nameByRules('tw_pt_110', RULES)).toBe('TW-PT-110');
    expect(nameByRules('PT-110', RULES)).toBe('TW-PT-110');
    expect(nameByRules('TW-PT-110', RULES)).toBeNull();
    expect(nameByRules('TW-pump', RULES)).toBeNull();
  });

  test('law: what is proposed keeps the rules, and is not proposed anything again', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme-ascii', maxLength: 12 }), (name) => {
        const proposed = nameByRules(name, RULES);
        if (proposed === null) return;
        expect(namingProblems(proposed, RULES)).toEqual([]);
        expect(nameByRules(proposed, RULES)).toBeNull();
      }),
    );
  });
});

describe('names that are taken for each other', () => {
  test('differ only in signs, capitals, zeros, and letters that look like digits', () => {
    const names = ['TW-PT-110', 'tw_pt_110', 'TW-PT-11O', 'TWPT0110', 'TW-PT-1-10', 'TW-LI-7', 'TW-II-7', 'TW-TT-110'];
    expect(nearDuplicates(names)).toEqual([['TW-PT-110', 'tw_pt_110', 'TW-PT-11O', 'TWPT0110']]);
  });

  test('law: capitals and signs between the parts never tell two names apart', () => {
    const part = fc.stringMatching(/^[a-z]{1,4}[0-9]{1,4}$/);
    fc.assert(
      fc.property(fc.array(part, { minLength: 1, maxLength: 3 }), (parts) => {
        expect(readInPassing(parts.join('-').toUpperCase())).toBe(readInPassing(parts.join('_')));
      }),
    );
  });
});

describe('misspelt words', () => {
  const descriptions = [
    ...Array.from({ length: 8 }, (_, i) => `Discharge pressure of pump ${i}`),
    'Discharge presure of pump 9',
    'Dishcarge pressure of pumps',
    'Temperature of the bearing',
  ];

  test('are rare ones, one slip away from what is written elsewhere', () => {
    expect([...misspelt(descriptions).values()]).toEqual([
      { word: 'presure', probably: 'pressure' },
      { word: 'dishcarge', probably: 'discharge' },
    ]);
  });

  test('are not those that differ in their first letter or their last: these are words', () => {
    const frequent = Array.from({ length: 9 }, () => 'power counted pressure');
    expect([...misspelt([...frequent, 'lower counter pressures tower'])]).toEqual([]);
  });

  test('are put right with the capitals that they have', () => {
    const words = misspelt(descriptions);
    expect(putRight('Dishcarge PRESURE, presure; pumps', words)).toBe('Discharge PRESSURE, pressure; pumps');
  });

  test('law: one slip is a letter left out, put in, exchanged, or two that change places, whichever word is first', () => {
    const word = fc.stringMatching(/^[a-e]{5,9}$/);
    fc.assert(
      fc.property(word, fc.nat(), fc.constantFrom('out', 'in', 'other', 'places'), (right, n, slip) => {
        const at = n % (right.length - 1);
        const wrong = {
          out: right.slice(0, at) + right.slice(at + 1),
          in: `${right.slice(0, at)}x${right.slice(at)}`,
          other: `${right.slice(0, at)}x${right.slice(at + 1)}`,
          places: right.slice(0, at) + right[at + 1]! + right[at]! + right.slice(at + 2),
        }[slip];
        fc.pre(wrong !== right);
        expect(isOneSlip(wrong, right) && isOneSlip(right, wrong)).toBe(true);
        expect(isOneSlip(`${wrong}yz`, right)).toBe(false);
      }),
    );
  });
});
