/** What may be archived: everything or its reason, never neither. */
import fc from 'fast-check';
import { HOUR, SECOND, Status, type Frame } from '@wide-ledger/core';
import { admitFrame, admitSamples } from '../../src/journal/admission.ts';
import type { TagRow } from '../../src/tags/store.ts';

const NOW = Date.UTC(2026, 10, 25) * 1000;
const KEPT_SINCE = Date.UTC(2020, 0, 1) * 1000;

const tag = (id: number, name: string, type: TagRow['type'], storeId = 1): TagRow => ({
  id,
  name,
  type,
  unit: '',
  description: '',
  place: '',
  stepped: false,
  low: null,
  high: null,
  states: null,
  sourceId: null,
  collection: null,
  storeId,
  aggregateConfiguration: null,
  inForceSince: new Date(0),
});
const TAGS = [tag(1, 'Real', 'real'), tag(2, 'Note', 'text'), tag(3, 'Short', 'real', 2), tag(4, 'Whole', 'integer')];
const byId = (id: number): TagRow | undefined => TAGS.find((one) => one.id === id);
const byName = (name: string): TagRow | undefined => TAGS.find((one) => one.name === name);
const keepsSince = ({ storeId }: TagRow): number | null => (storeId === 2 ? KEPT_SINCE : null);

const frameOf = (rows: readonly (readonly [tag: number, time: number, value: number, status: number])[]): Frame => ({
  tags: Uint32Array.from(rows, ([id]) => id),
  times: Float64Array.from(rows, ([, time]) => time),
  values: Float64Array.from(rows, ([, , value]) => value),
  status: Uint32Array.from(rows, ([, , , status]) => status),
  origins: null,
  texts: [],
});

const samples = fc.array(
  fc.tuple(
    fc.constantFrom(1, 2, 3, 4, 77),
    fc.constantFrom(
      NOW,
      NOW + HOUR,
      NOW + HOUR + 1,
      KEPT_SINCE,
      KEPT_SINCE - 1,
      Date.UTC(1899, 11, 31) * 1000,
      9e15 + 2,
      NOW + 0.5,
      NaN,
    ),
    fc.constantFrom(0, 1.5, NaN),
    fc.constantFrom<number>(Status.Good, Status.BadNoCommunication, Status.BadNoEntryExists),
  ),
  { minLength: 1, maxLength: 25 },
);

test('every sample of a frame is kept in its order, or set aside with a reason', () => {
  fc.assert(
    fc.property(samples, fc.boolean(), (rows, mayRemove) => {
      const { frames, refused } = admitFrame(frameOf(rows), byId, keepsSince, NOW, mayRemove);
      const kept = frames[0] ? [...frames[0].times.keys()] : [];
      expect(kept.length + refused.length).toBe(rows.length);
      const out = new Set(refused.map(({ index }) => index));
      expect(kept.map((i) => [frames[0]!.tags![i], frames[0]!.times[i]])).toEqual(
        rows.filter((_, i) => !out.has(i)).map(([id, time]) => [id, time]),
      );
      rows.forEach(([id, time, value, status], i) => {
        const right =
          byId(id) !== undefined &&
          Number.isInteger(time) &&
          time <= NOW + HOUR &&
          time >= (id === 3 ? KEPT_SINCE : Date.UTC(1900, 0, 1) * 1000) &&
          (id !== 2 || Number.isNaN(value)) &&
          (mayRemove || status !== Status.BadNoEntryExists);
        expect([i, out.has(i)]).toEqual([i, !right]);
      });
      for (const { reason } of refused) expect(reason).toMatch(/^[A-Z].*\.$/);
    }),
    { numRuns: 400 },
  );
});

test('samples in JSON are sorted into numbers, wide integers and text; what is wrong says so', () => {
  const time = new Date(NOW / 1000).toISOString();
  const { frames, refused } = admitSamples(
    [
      { tag: 'Real', time, value: 1.5, status: 'Uncertain' },
      { tag: 'Note', time, value: 'oiled' },
      { tag: 'Whole', time, value: '9007199254740993' },
      { tag: 'Nobody', time, value: 1 },
      { time, value: 1 },
      'nonsense',
      { tag: 'Real', time: 'yesterday', value: 1 },
      { tag: 'Real', time, value: 'high' },
      { tag: 'Real', time, value: 1, status: 'Splendid' },
      { tag: 'Short', time: '2019-12-31T23:59:59Z', value: 1 },
      { tag: 'Whole', time, value: 1.25 },
    ],
    byName,
    keepsSince,
    NOW,
  );
  expect(frames.map((frame) => [frame.tags![0], frame.values[0], frame.wholes?.[0] ?? null, frame.texts])).toEqual([
    [1, 1.5, null, []],
    [4, 9007199254740992, 9007199254740993n, []],
    [2, 0, null, ['oiled']],
  ]);
  expect(refused.map(({ index, reason }) => [index, reason])).toEqual([
    [3, 'There is no tag "Nobody".'],
    [4, 'The sample names no tag.'],
    [5, 'The sample names no tag.'],
    [6, '"yesterday" is not a date-time with its offset, such as 2026-11-22T06:00:00Z.'],
    [7, expect.stringContaining('Real')],
    [8, '"Splendid" is neither a known status name nor a 32-bit number.'],
    [9, expect.stringContaining('since when the store of Short keeps values')],
    [10, expect.stringContaining('Whole')],
  ]);
});

test('a clock may run an hour ahead, and not more', () => {
  const at = (time: number): number => admitFrame(frameOf([[1, time, 1, 0]]), byId, keepsSince, NOW).refused.length;
  expect([at(NOW + HOUR), at(NOW + HOUR + SECOND)]).toEqual([0, 1]);
});
