/** A message tried: what each of its fields would be, and who takes it. */
import { readAs, readMessage, reshapeBy } from '@wide-ledger/core';
import { triedRows } from '../../src/sources/messages/tried.ts';

const terms = { time: 'ts', status: 'q' };
const message = JSON.stringify({ ts: '2026-11-27T12:00:00Z', q: 'suspect', flow: 3.5, list: [1, { x: 'a' }] });

test('every field is told, with who takes it; what a tag takes and is not there is told, too', () => {
  const takers = new Map([
    ['flow', ['SQ-FT-101']],
    ['gone.x', ['SQ-FT-102']],
  ]);
  const rows = triedRows(readAs(message, 'json'), terms, takers);
  if (typeof rows === 'string') throw new Error(rows);
  expect(rows.map(({ field, value, tags }) => [field, value, tags])).toEqual([
    ['ts', '2026-11-27T12:00:00Z', []],
    ['q', 'suspect', []],
    ['flow', '3.5', ['SQ-FT-101']],
    ['list[0]', '1', []],
    ['list[1].x', 'a', []],
    ['gone.x', '', ['SQ-FT-102']],
  ]);
  expect(rows[2]).toMatchObject({ time: '2026-11-27T12:00:00.000Z', status: 'Uncertain', trouble: null });
  expect(rows[5]!.trouble).toBe('The message does not have this field.');
});

test('what cannot be read says why; what says no time is of when it comes', () => {
  expect(triedRows(readAs('{"a":', 'json'), terms, new Map())).toContain('The message is no JSON');
  expect(triedRows(readAs('21.5', 'text'), { time: '', status: '' }, new Map())).toEqual([
    { field: '', value: '21.5', time: 'when it comes', status: 'Good', trouble: null, tags: [] },
  ]);
});

test('what an expression makes of it is tried in its place, and why it fails', async () => {
  const tried = async (expression: string) =>
    triedRows(await readMessage(message, 'json', reshapeBy(expression), 'a/b'), terms, new Map());
  expect(await tried('{"ts": ts, "q": q, $topic: flow * 2}')).toMatchObject([
    { field: 'ts' },
    { field: 'q' },
    { field: '["a/b"]', value: '7', status: 'Uncertain' },
  ]);
  expect(await tried('$number(q)')).toMatch(/^The expression fails on this message: .*suspect/);
});
