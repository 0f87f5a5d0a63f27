/** Places: so many at once, so many of one visitor, in order, and nobody waits long. */
import { Lane } from '../../src/ground/http/lane.ts';
import { weightOf } from '../../src/archive/reading/weight.ts';
import type { AskedRequest } from '../../src/archive/reading/requests.ts';

describe('a lane', () => {
  test('lets in as many as there are places, then the one that has waited longest', async () => {
    const lane = new Lane('readings', { most: 2, ofOne: 10, patience: 60_000 });
    const [first, second] = [await lane.enter('a'), await lane.enter('b')];
    const order: string[] = [];
    const third = lane.enter('c').then((leave) => (order.push('c'), leave));
    const fourth = lane.enter('d').then((leave) => (order.push('d'), leave));
    expect(lane.inUse).toBe(2);
    first();
    (await third)();
    (await fourth)();
    second();
    // Leaving twice gives no place twice.
    second();
    expect(order).toEqual(['c', 'd']);
    expect(lane.inUse).toBe(0);
  });

  test('turns away who would have to wait, and who has enough', async () => {
    const lane = new Lane('readings', { most: 1, ofOne: 2, patience: 0 });
    const leave = await lane.enter('a');
    await expect(lane.enter('b')).rejects.toMatchObject({ status: 503, code: 'BUSY' });
    leave();
    const greedy = new Lane('readings', { most: 10, ofOne: 2, patience: 0 });
    await greedy.enter('a');
    await greedy.enter('a');
    await expect(greedy.enter('a')).rejects.toThrow('a has 2 readings under way, the most for one visitor.');
    await greedy.enter('b');
  });
});

describe('the weight of a reading', () => {
  const day = 86_400_000_000;
  const common = { tags: [{}], format: 'json', layout: 'table', named: false, localZone: null, echo: {} };
  const weigh = (request: object): string => weightOf({ ...common, ...request } as unknown as AskedRequest);
  const cut = (days: number, micros: number) => ({
    cut: { from: 0, to: days * day, interval: { kind: 'fixed', micros }, zone: 'UTC' },
  });
  test.each([
    ['a page of values', { kind: 'raw', from: 0, to: day, limit: 10_000 }, 'small'],
    ['all values', { kind: 'raw', from: 0, to: day, limit: null }, 'large'],
    ['a year of hours', { kind: 'processed', aggregates: ['Average'], ...cut(365, day / 24) }, 'small'],
    [
      'a year of hours of two tags',
      { kind: 'processed', tags: [{}, {}], aggregates: ['Average'], ...cut(365, day / 24) },
      'large',
    ],
    ['a day of seconds', { kind: 'processed', aggregates: ['Average'], ...cut(1, 1e6) }, 'large'],
    ['a year’s trend', { kind: 'envelope', from: 0, to: 365 * day, columns: 800 }, 'small'],
    ['a workbook', { kind: 'raw', from: 0, to: day, limit: 10, format: 'xlsx' }, 'large'],
    ['the gaps of a week', { kind: 'gaps', only: null, among: null, window: { from: 0, to: 7 * day } }, 'small'],
    [
      'the strips of a year',
      { kind: 'coverage', only: null, among: null, window: { from: 0, to: 365 * day } },
      'large',
    ],
    [
      'a year’s strips of what is on screen',
      { kind: 'coverage', only: null, among: [1], window: { from: 0, to: 365 * day } },
      'small',
    ],
  ])('%s', (_what, request, weight) => {
    expect(weigh(request)).toBe(weight);
  });
});
