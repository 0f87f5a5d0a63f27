/** What each column of a record is taken for. */
import { columnUses } from '../../src/sources/records/columnUses.ts';

const columns = ['number', 'time', 'point', 'value', 'quality', 'note'].map((name) => ({ name, type: 'text' }));
const uses = (over: Partial<Parameters<typeof columnUses>[1]>, takers = new Map<string, string[]>()) =>
  columnUses(columns, { time: 'time', series: '', value: 'value', status: '', ...over }, takers).map(({ use }) => use);

test('where a column names the series of a row, the others have their parts', () => {
  expect(uses({ series: 'point', status: 'quality', progress: 'number' })).toEqual([
    'progress',
    'time',
    'name',
    'value',
    'status',
    'ignored',
  ]);
});

test('where each value has a column, its takers are told', () => {
  const takers = new Map([['value', ['KB-TT-1', 'KB-TT-2']]]);
  expect(uses({}, takers)).toEqual(['ignored', 'time', 'ignored', 'KB-TT-1, KB-TT-2', 'ignored', 'ignored']);
});
