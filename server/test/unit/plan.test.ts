import fc from 'fast-check';
import {
  BLOCK_SAMPLES,
  HOUR,
  SECOND,
  cutIntoBlocks,
  emptyFrame,
  mergeFrames,
  monthStart,
  type Frame,
} from '@wide-ledger/core';
import { cutIntoSegments, placeSegments } from '../../src/archive/ledger/plan.ts';

const frameAt = (times: readonly number[]): Frame => ({
  ...emptyFrame(times.length, { origins: true }),
  times: Float64Array.from(times),
  values: Float64Array.from(times, (time) => time / SECOND),
});

/** A ledger of one tag in memory: posting by the same plan, without the database. */
class Ledger {
  blocks: Frame[] = [];
  rewritten = 0;

  post(times: readonly number[]): void {
    const segments = cutIntoSegments(1, [frameAt(times)]);
    const place = (frame: Frame) => ({
      tag: 1,
      first: frame.times[0]!,
      last: frame.times.at(-1)!,
      samples: frame.times.length,
    });
    const found = segments.map((segment) => {
      const places = this.blocks.map(place);
      const overlapping = places.filter((block) => block.first <= segment.last && block.last >= segment.first);
      const before = places.filter((block) => block.last < segment.first).sort((a, b) => b.first - a.first);
      return [...overlapping, ...before.slice(0, 8)];
    });
    for (const { segments: added, blocks } of placeSegments(segments, found)) {
      const old = this.blocks.filter((frame) => blocks.some(({ first }) => first === frame.times[0]));
      this.rewritten += old.reduce((sum, frame) => sum + frame.times.length, 0);
      const { frame } = mergeFrames([...old, ...added.flatMap(({ parts }) => parts.map((part) => part.frame))]);
      this.blocks = [...this.blocks.filter((one) => !old.includes(one)), ...cutIntoBlocks(frame)];
      this.blocks.sort((a, b) => a.times[0]! - b.times[0]!);
    }
  }
}

const moments = fc.array(
  fc.integer({ min: 0, max: 200 }).map((n) => n * (HOUR / 4)),
  { minLength: 1, maxLength: 30 },
);

test('whatever is posted in whatever order, blocks hold every sample once and never overlap', () => {
  fc.assert(
    fc.property(fc.array(moments, { minLength: 1, maxLength: 25 }), (batches) => {
      const ledger = new Ledger();
      for (const batch of batches) ledger.post(batch);
      const times = ledger.blocks.flatMap((frame) => [...frame.times]);
      expect(times).toEqual([...new Set(batches.flat())].sort((a, b) => a - b));
    }),
  );
});

test('a slow tag’s small blocks stay few, and each sample is rewritten a few times only', () => {
  const ledger = new Ledger();
  const n = 6000;
  for (let i = 0; i < n; i += 5) ledger.post([0, 1, 2, 3, 4].map((k) => (i + k) * SECOND));
  expect(ledger.blocks.length).toBeLessThan(n / BLOCK_SAMPLES + 14);
  expect(ledger.rewritten / n).toBeLessThan(Math.log2(BLOCK_SAMPLES) * 1.5);
});

test('new samples are cut where months meet, and each sample is in exactly one piece', () => {
  const months = fc.array(fc.integer({ min: 0, max: 400 * 24 * 4 }), { minLength: 1, maxLength: 60 });
  fc.assert(
    fc.property(months, (quarters) => {
      const times = [...new Set(quarters)].map((n) => n * (HOUR / 4));
      const segments = cutIntoSegments(1, [frameAt(times)]);
      for (const { first, last, samples, parts } of segments) {
        expect(monthStart(first)).toBe(monthStart(last));
        expect(parts.reduce((sum, { frame }) => sum + frame.times.length, 0)).toBe(samples);
      }
      const inPieces = segments.flatMap(({ parts }) => parts.flatMap(({ frame }) => [...frame.times]));
      expect(inPieces.sort((a, b) => a - b)).toEqual([...times].sort((a, b) => a - b));
    }),
  );
});

test('a late value far back does not touch what lies between it and the present', () => {
  const ledger = new Ledger();
  ledger.post(Array.from({ length: 3 * BLOCK_SAMPLES }, (_, i) => i * 60 * SECOND));
  const middle = ledger.blocks[1];
  ledger.post([30 * SECOND, 3 * BLOCK_SAMPLES * 60 * SECOND]);
  expect(ledger.blocks).toContain(middle);
});
