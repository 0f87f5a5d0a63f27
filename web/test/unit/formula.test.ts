/** A formula tried on what the archive told last of its inputs. */
import type { RawAnswer } from '@wide-ledger/contract';
import { Formula } from '@wide-ledger/core';
import { expect, test } from '@jest/globals';
import { MOST_TRIED, tryFormula } from '../../src/formula/trying.ts';

type Sample = RawAnswer['samples'][number];

/** Newest first, as the archive gives them. */
const told = (...rows: readonly [second: number, value: Sample['value'], status?: number][]): Sample[] =>
  rows.toReversed().map(([second, value, status = 0]) => ({
    time: new Date(second * 1000).toISOString(),
    value,
    status,
    quality: 'Good',
    origin: 'live',
  }));

test('what was held before, and what comes of it, the newest first', () => {
  const rows = tryFormula(Formula.read('a / b'), [told([1, 8], [3, 9]), told([2, 2], [4, 0], [5, 3])]);
  expect(rows.map(({ time, before, after, quality }) => [time / 1e6, before, after, quality])).toEqual([
    [5, [9, 3], 3, 'Good'],
    [4, [9, 0], null, 'Bad_OutOfRange'],
    [3, [9, 2], 4.5, 'Good'],
    // Before this one, b was not known.
    [2, [8, 2], 4, 'Good'],
  ]);
});

test('texts, and no more than are shown', () => {
  const isText = (name: string): boolean => name === 's';
  const states = told([1, 'runs'], [2, 'stands']);
  expect(
    tryFormula(Formula.read('s == "runs" ? 1 : 0', isText), [states]).map(({ before, after }) => [...before, after]),
  ).toEqual([
    ['stands', 0],
    ['runs', 1],
  ]);
  const many = told(...Array.from({ length: 300 }, (_, i): [number, number] => [i, i]));
  expect(tryFormula(Formula.read('a'), [many])).toHaveLength(MOST_TRIED);
  expect(tryFormula(Formula.read('a + b'), [many, []])).toEqual([]);
});
