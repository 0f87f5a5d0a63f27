/** Families of tags: a pattern expanded over a roster. */
import fc from 'fast-check';
import { MOST_EXPANDED, assignmentsOf, expandPattern, textsOfList } from '../../src/index.ts';

describe('a roster', () => {
  test('lists are ranges, with the zeros that they begin with, and texts', () => {
    expect(textsOfList('8-11')).toEqual(['8', '9', '10', '11']);
    expect(textsOfList('008..010, A ,  B,3–4')).toEqual(['008', '009', '010', 'A', 'B', '3', '4']);
    expect(() => textsOfList('5-2')).toThrow('5-2 runs backwards: write 2-5.');
    expect(() => textsOfList('1-999999')).toThrow('is more than');
  });

  test('variables go in all combinations, or side by side', () => {
    const variables = [
      { name: 'pump', list: '1-2' },
      { name: 'side', list: 'A,B' },
    ];
    expect(assignmentsOf(variables, 'all combinations').map(({ pump, side }) => `${pump}${side}`)).toEqual([
      '1A',
      '1B',
      '2A',
      '2B',
    ]);
    expect(assignmentsOf(variables, 'side by side').map(({ pump, side }) => `${pump}${side}`)).toEqual(['1A', '2B']);
    expect(assignmentsOf([], 'side by side')).toEqual([]);
  });

  test.each([
    [[{ name: '1st', list: '1' }], '"1st" is no name of a variable'],
    [[{ name: 'a', list: ' , ' }], 'The list of a is empty.'],
    [
      [
        { name: 'a', list: '1' },
        { name: 'a', list: '2' },
      ],
      'a is there twice.',
    ],
    [
      [
        { name: 'a', list: '1-2' },
        { name: 'b', list: '1-3' },
      ],
      'a has 2, b has 3.',
    ],
  ])('%j is refused: %s', (variables, sentence) => {
    expect(() => assignmentsOf(variables, 'side by side')).toThrow(sentence);
  });

  test('law: combinations are as many as the product of the lists, each once; more than can be kept are refused', () => {
    const lists = fc.array(fc.integer({ min: 1, max: 6 }), { minLength: 1, maxLength: 4 });
    fc.assert(
      fc.property(lists, (lengths) => {
        const variables = lengths.map((length, i) => ({ name: `v${i}`, list: `1-${length}` }));
        const all = assignmentsOf(variables, 'all combinations');
        expect(all).toHaveLength(lengths.reduce((product, length) => product * length, 1));
        expect(new Set(all.map((one) => JSON.stringify(one))).size).toBe(all.length);
      }),
    );
    const many = ['a', 'b', 'c'].map((name) => ({ name, list: '1-100' }));
    expect(() => assignmentsOf(many, 'all combinations')).toThrow(`1000000; ${MOST_EXPANDED} are the most.`);
  });
});

describe('a pattern', () => {
  // The examples of the work that this is for.
  test.each([
    ['KB-PT-{pump}01', 'KB-PT-701'],
    ['40{pump:00}1', '40071'],
    ['ns=2;s=Pump{pump}.Pressure', 'ns=2;s=Pump7.Pressure'],
    ['{pump*10+400}', '470'],
    ['{ pump * 10 - 1 : 0000 }', '0069'],
    ['{pump-9}', '-2'],
  ])('%s is %s', (pattern, text) => {
    expect(expandPattern(pattern, { pump: '7' })).toBe(text);
  });

  test('braces are written twice; what is wrong is told', () => {
    expect(expandPattern('{{"set": {{value}}}}', { pump: '7' })).toBe('{"set": {value}}');
    expect(() => expandPattern('{pump', { pump: '7' })).toThrow('has a brace without another one');
    expect(() => expandPattern('{valve}', { pump: '7' })).toThrow('There is no variable valve in the roster.');
    expect(() => expandPattern('{constructor}', { pump: '7' })).toThrow('There is no variable constructor');
    expect(() => expandPattern('{side+1}', { side: 'A' })).toThrow('side is "A" here, and has to be a whole number.');
  });

  test('law: what is expanded follows from pattern and roster alone, and texts without places stay', () => {
    const text = fc.string().map((one) => one.replace(/[{}]/g, ''));
    fc.assert(
      fc.property(text, text, fc.nat(9999), (before, after, number) => {
        const assignment = { n: String(number) };
        expect(expandPattern(before, assignment)).toBe(before);
        expect(expandPattern(`${before}{n}${after}`, assignment)).toBe(`${before}${number}${after}`);
        expect(expandPattern(`{n*3+2:00000}`, assignment)).toBe(String(number * 3 + 2).padStart(5, '0'));
      }),
    );
  });
});
