/** What may be archived: everything or its reason, never neither. */
import fc from 'fast-check';
import { HOUR, SECOND, Status, textAt, type Frame } from '@wide-ledger/core';
import { admitFrame } from '../../src/archive/journal/admission.ts';
import { admitSamples } from '../../src/archive/journal/sampleAdmission.ts';
import type { TagRow } from '../../src/configuration/catalogue/catalogue.ts';

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
  reading: null,
  placeId: null,
  paceId: null,
  settings: {},
  paused: false,
  toldVersion: 0,
  epoch: 1,
  retiredAt: null,
  storeId,
  aggregateConfiguration: null,
  counter: null,
  writable: false,
  labels: null,
  formula: null,
  inputs: null,
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
      Date.UTC(1699, 11, 31) * 1000,
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
          time >= (id === 3 ? KEPT_SINCE : Date.UTC(1700, 0, 1) * 1000) &&
          (id !== 2 || Number.isNaN(value)) &&
          (id !== 4 || value !== 1.5) &&
          (id === 1 || id === 3 || !Number.isNaN(value) || status !== Status.Good) &&
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
  expect(
    frames.map(({ tags, values, wholes, texts }) => [[...tags!], [...values], wholes && [...wholes], texts]),
  ).toEqual([
    [[1, 4], [1.5, 9007199254740992], [0n, 9007199254740993n], []],
    [[2], [0], null, ['oiled']],
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

/** Reasons of the samples that are refused, by their position. */
const reasonsOf = (given: object[]): [number, string][] =>
  admitSamples(given, byName, keepsSince, NOW).refused.map(({ index, reason }) => [index, reason]);
const AT = new Date(NOW / 1000).toISOString();

test('a member that a sample does not have is refused by its name, and “quality” with a hint', () => {
  expect(
    reasonsOf([
      { tag: 'Real', time: AT, value: 1, quality: 'Bad' },
      { tag: 'Real', time: AT, value: 1, unit: 'm' },
    ]),
  ).toEqual([
    [0, expect.stringContaining('"quality" is no member of a sample')],
    [1, expect.stringContaining('"unit" is no member of a sample')],
  ]);
});

test('what a type cannot hold is set aside on both ways in', () => {
  expect(
    reasonsOf([
      { tag: 'Note', time: AT, value: 'a\0b' },
      { tag: 'Note', time: AT, value: '\ud800' },
      { tag: 'Whole', time: AT, value: 620.848 },
      { tag: 'Whole', time: AT, value: '9223372036854775808' },
      { tag: 'Real', time: AT, value: 1, status: null },
    ]).map(([index]) => index),
  ).toEqual([0, 1, 2, 3, 4]);
  const inFrame = (id: number, value: number, texts: string[] = []): number =>
    admitFrame({ ...frameOf([[id, NOW, value, 0]]), texts }, byId, keepsSince, NOW).refused.length;
  expect([
    inFrame(4, 620.848),
    inFrame(4, 1e20),
    inFrame(4, Infinity),
    inFrame(4, -(2 ** 63)),
    inFrame(4, NaN),
  ]).toEqual([1, 1, 1, 0, 1]);
  expect([inFrame(2, 0, ['a\0b']), inFrame(2, 0, ['fine'])]).toEqual([1, 0]);
});

test('of two values of one tag and time the later one comes later, whatever they are', () => {
  const whole = fc.constantFrom<unknown>(1, 2, '9223372036854775807', '-9007199254740993', null);
  const text = fc.constantFrom<unknown>('on', 'off', null);
  const sample = fc.oneof(
    whole.map((value) => ({ tag: 'Whole', time: AT, value, status: value === null ? 'Bad' : 'Good' })),
    text.map((value) => ({ tag: 'Note', time: AT, value, status: value === null ? 'Bad' : 'Good' })),
  );
  fc.assert(
    fc.property(fc.array(sample, { minLength: 1, maxLength: 8 }), (given) => {
      const { frames } = admitSamples(given, byName, keepsSince, NOW);
      for (const [id, name] of [
        [4, 'Whole'],
        [2, 'Note'],
      ] as const) {
        // Entries are posted in the order of the frames: the last frame that holds the tag decides.
        const frame = frames.findLast(({ tags }) => tags!.includes(id));
        const last = given.findLast(({ tag }) => tag === name);
        if (!last) continue;
        const at = frame!.tags!.lastIndexOf(id);
        const shown = textAt(frame!, at) ?? (frame!.wholes ? frame!.wholes[at]!.toString() : String(frame!.values[at]));
        if (last.value === null) expect(frame!.values[at]).toBeNaN();
        else expect(shown).toBe(`${last.value as string | number}`);
      }
    }),
  );
});

test('no value needs a status that says so; NaN is a value of a real tag', () => {
  expect(
    reasonsOf([
      { tag: 'Real', time: AT, value: null },
      { tag: 'Real', time: AT },
      { tag: 'Real', time: AT, value: null, status: 'Bad_NoData' },
      { tag: 'Real', time: AT, value: 'NaN' },
      { tag: 'Whole', time: AT, value: null },
    ]).map(([index]) => index),
  ).toEqual([0, 1, 4]);
});

test('a clock may run an hour ahead, and not more', () => {
  const at = (time: number): number => admitFrame(frameOf([[1, time, 1, 0]]), byId, keepsSince, NOW).refused.length;
  expect([at(NOW + HOUR), at(NOW + HOUR + SECOND)]).toEqual([0, 1]);
});
