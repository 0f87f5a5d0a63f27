/** What is wrong at a place, and where values lie in their ranges. */
import type { Gap, Tag } from '@wide-ledger/contract';
import { expect, test } from '@jest/globals';
import { placeInRange, wrongAt, type Now } from '../../src/place/wrong.ts';

const END = Date.UTC(2026, 2, 1, 12);
const tag = (name: string, more: object = {}): Tag =>
  ({ name, unit: 'bar', low: 0, high: 10, refusal: null, collection: { source: 'Plant' }, ...more }) as Tag;
const gap = (more: object): Gap =>
  ({
    to: new Date(END).toISOString(),
    cause: 'source',
    tag: null,
    source: 'Plant',
    tags: 3,
    sentence: 'It is away.',
    ...more,
  }) as Gap;
const good = (value: number): Now => ({ value, quality: 'Good' });

test('most pressing first, each thing once', () => {
  const now: Readonly<Record<string, Now | null>> = {
    A: good(11),
    B: { value: null, quality: 'Bad_SensorFailure' },
    C: null,
    D: good(5),
    E: good(-1),
  };
  const tags = [...Object.keys(now).map((name) => tag(name)), tag('F', { refusal: 'No such register.' })];
  expect(wrongAt(tags, ({ name }) => now[name] ?? null, [], END)).toEqual([
    { tag: 'F', kind: 'refused', sentence: 'No such register.' },
    { tag: 'B', kind: 'bad', sentence: 'Its latest value is Bad_SensorFailure.' },
    { tag: 'A', kind: 'outside', sentence: '11 bar lies above its range, which ends at 10.' },
    { tag: 'E', kind: 'outside', sentence: '-1 bar lies below its range, which begins at 0.' },
    { tag: 'C', kind: 'nothing', sentence: 'Nothing is archived of it yet.' },
  ]);
});

test('a source that is away is told once, not for each of its tags; what is over, or wanted, is not wrong', () => {
  const bad = (): Now => ({ value: null, quality: 'Bad_NotConnected' });
  const over = new Date(END - 60_000).toISOString();
  const gaps = [gap({}), gap({ to: over, sentence: 'Over.' }), gap({ cause: 'paused', sentence: 'Wanted.' })];
  expect(wrongAt([tag('A'), tag('B')], bad, gaps, END)).toEqual([
    { tag: null, kind: 'not watched', sentence: 'Plant, 3 tags: It is away.' },
  ]);
  const own = gap({ tag: 'A', sentence: 'There is no register 1.' });
  expect(wrongAt([tag('A', { refusal: 'There is no register 1.' })], bad, [own], END)).toHaveLength(1);
});

test('a value lies between the ends of its range, or at one of them', () => {
  expect(placeInRange(tag('A', { low: 10, high: 20 }), 15)).toEqual({ at: 0.5, isOutside: false });
  expect(placeInRange(tag('A'), 12)).toEqual({ at: 1, isOutside: true });
  expect(placeInRange(tag('A'), -3)).toEqual({ at: 0, isOutside: true });
  expect(placeInRange(tag('A', { low: null }), 5)).toBeNull();
  expect(placeInRange(tag('A'), 'open')).toBeNull();
});
