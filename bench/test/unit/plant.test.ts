import { SECOND, decodeRegisters, scale, union } from '@wide-ledger/core';
import {
  THORNMERE_POINTS,
  archivedAt,
  chaptersOf,
  frameOf,
  outageMarks,
  pastStart,
  pastWatches,
  wireAt,
} from '../../src/index.ts';

const NOW = Date.UTC(2026, 10, 23, 12) * 1000;
const point = (tag: string): (typeof THORNMERE_POINTS)[number] => THORNMERE_POINTS.find((one) => one.tag === tag)!;

describe('the plant', () => {
  test('has at least 24 points of every kind that the slice needs', () => {
    expect(THORNMERE_POINTS.length).toBeGreaterThanOrEqual(24);
    expect(new Set(THORNMERE_POINTS.map(({ register }) => register))).toEqual(
      new Set(['uint16', 'int16', 'float32', 'int32', 'uint32']),
    );
    expect(
      new Set(THORNMERE_POINTS.filter(({ register }) => register.includes('32')).map(({ order }) => order)).size,
    ).toBe(4);
    expect(new Set(THORNMERE_POINTS.map(({ tag }) => tag)).size).toBe(THORNMERE_POINTS.length);
  });
  test('waves with a period of 8 s and an amplitude of 40 kPa', () => {
    const values = Array.from({ length: 800 }, (_, i) => archivedAt(point('TW-PT-110'), 1_795_000_000 + i / 100));
    expect(Math.max(...values)).toBeCloseTo(660, 3);
    expect(Math.min(...values)).toBeCloseTo(580, 3);
    expect(values[0]).toBeCloseTo(archivedAt(point('TW-PT-110'), 1_795_000_008), 4);
  });
  test('counts pulses in 16 bits and wraps', () => {
    const values = Array.from({ length: 8000 }, (_, i) => archivedAt(point('TW-FQ-404'), 1_795_000_000 + i));
    const steps = values.slice(1).map((value, i) => value - values[i]!);
    expect(Math.max(...values)).toBeLessThan(65_536);
    expect(steps.filter((step) => step < -60_000).length).toBeGreaterThan(0);
  });
  test('is reinjected less than it is produced, by two in a hundred', () => {
    const t = 1_795_000_000;
    const produced = [1, 2, 3].reduce((sum, n) => sum + point(`TW-FT-${n}01`).at(t), 0);
    expect((point('TW-FT-401').at(t) * 3600) / 945 / produced).toBeCloseTo(0.98, 6);
  });
  test('archives what comes through the registers and the scaling', () => {
    for (const one of THORNMERE_POINTS.filter(({ area }) => area === 'holding')) {
      for (let t = 1_795_000_000; t < 1_795_000_500; t += 7.25) {
        expect(archivedAt(one, t)).toBe(
          scale(Number(decodeRegisters(wireAt(one, t), { type: one.register, order: one.order })), one.scaling),
        );
      }
    }
  });
});

describe('the past', () => {
  test('is cut into entries that cover every watched minute of a tag once', () => {
    const one = point('TW-TT-501');
    const chapters = chaptersOf([one], NOW);
    const spans = union(chapters.map(({ from, to }) => ({ from, to })));
    const watched = union(pastWatches(NOW));
    expect(spans.length).toBeGreaterThanOrEqual(watched.length - 1);
    const times = chapters.flatMap((chapter) => [...frameOf(chapter, 1, NOW).times]);
    expect(new Set(times).size).toBe(times.length);
    expect(times.every((time) => time >= pastStart(NOW))).toBe(true);
    expect(times.every((time) => watched.some(({ from, to }) => time >= from && time < to))).toBe(true);
  });
  test('leaves the beat on which the present began to the collector', () => {
    const began = Math.ceil(NOW / SECOND) * SECOND;
    const [newest] = chaptersOf([point('TW-FT-101')], began + 20_000);
    expect(frameOf(newest!, 1, began + 20_000).times.at(-1)).toBe(began - SECOND);
  });
  test('is the same whenever it is made', () => {
    const [chapter] = chaptersOf([point('TW-FT-101')], NOW);
    expect(frameOf(chapter!, 1, NOW)).toEqual(frameOf(chapter!, 1, NOW));
    expect((chapter!.to - chapter!.from) / SECOND).toBeLessThanOrEqual(20_000);
  });
  test('marks the start of what was lost with Bad_NoCommunication', () => {
    const marks = outageMarks([1, 2], NOW);
    expect(marks.status.every((status) => status === 0x80310000)).toBe(true);
    expect(marks.times.length % 2).toBe(0);
  });
});
