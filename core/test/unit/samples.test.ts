import fc from 'fast-check';
import {
  AGGREGATE_NAMES,
  BLOCK_SAMPLES,
  DEFAULT_CONFIGURATION,
  computeAggregate,
  cutIntoBuckets,
  decodeFrame,
  encodeFrame,
  seriesOf,
  cutIntoBlocks,
  emptyFrame,
  envelopeOf,
  isKept,
  mergeFrames,
  monthStart,
  sliceFrame,
  splitByTag,
  summarise,
  textAt,
  type Frame,
} from '../../src/index.ts';

function frameOf(rows: [time: number, value: number, status?: number][], origin = 0, texts: string[] = []): Frame {
  return {
    tags: null,
    times: Float64Array.from(rows, (r) => r[0]),
    values: Float64Array.from(rows, (r) => r[1]),
    status: Uint32Array.from(rows, (r) => r[2] ?? 0),
    origins: Uint8Array.from(rows, () => origin),
    texts,
  };
}

const rows = fc.array(
  fc.tuple(fc.nat(50), fc.nat(5)).map(([t, v]): [number, number] => [t, v]),
  { minLength: 1, maxLength: 40 },
);

describe('merging', () => {
  test('keeps for each time the value of the latest entry, in time order', () => {
    fc.assert(
      fc.property(fc.array(rows, { minLength: 1, maxLength: 4 }), (entries) => {
        const expected = [...new Map(entries.flat()).entries()].sort((a, b) => a[0] - b[0]);
        const { frame } = mergeFrames(entries.map((entry) => frameOf(entry)));
        expect([...frame.times].map((time, i) => [time, frame.values[i]])).toEqual(expected);
      }),
    );
  });
  test('displaces the old value once, and the same value again changes nothing', () => {
    const { frame, displaced } = mergeFrames([
      frameOf([
        [1, 10],
        [2, 20],
      ]),
      frameOf([[2, 21]], 4),
      frameOf([[2, 21]], 0),
    ]);
    expect([...frame.values]).toEqual([10, 21]);
    expect([...frame.origins!]).toEqual([0, 4]);
    expect(displaced).toEqual([
      { time: 2, value: 20, text: null, whole: null, status: 0, origin: 0, by: 1, kind: 'replaced' },
    ]);
  });
  test('of texts joins their lists', () => {
    const { frame } = mergeFrames([
      frameOf([[1, 0]], 0, ['open']),
      frameOf(
        [
          [2, 0],
          [3, NaN],
          [4, 1],
        ],
        0,
        ['shut', 'open'],
      ),
    ]);
    expect([0, 1, 2, 3].map((i) => textAt(frame, i))).toEqual(['open', 'shut', null, 'open']);
  });
  test('splits an entry by tag', () => {
    const entry = {
      ...frameOf([
        [1, 1],
        [1, 2],
        [2, 3],
      ]),
      tags: Uint32Array.of(5, 6, 5),
    };
    const parts = splitByTag(entry, 2);
    expect([...parts.get(5)!.values]).toEqual([1, 3]);
    expect([...parts.get(6)!.origins!]).toEqual([2]);
  });
});

describe('blocks', () => {
  test('may be split anywhere: bytes and back, and joined, they are the same samples and give the same figures', () => {
    fc.assert(
      fc.property(rows, fc.nat(40), (list, at) => {
        const whole = mergeFrames([frameOf(list)]).frame;
        const n = whole.times.length;
        const cut = Math.min(at, n);
        const parts = [sliceFrame(whole, 0, cut), sliceFrame(whole, cut, n)].filter(({ times }) => times.length > 0);
        const joined = mergeFrames(parts.map((part) => decodeFrame(encodeFrame(part)))).frame;
        expect([...joined.times]).toEqual([...whole.times]);
        expect([...joined.values]).toEqual([...whole.values]);
        const buckets = cutIntoBuckets(0, 60, { kind: 'fixed', micros: 7 }, 'UTC');
        for (const name of AGGREGATE_NAMES) {
          const figures = (frame: Frame): unknown =>
            computeAggregate(seriesOf(frame), buckets, name, DEFAULT_CONFIGURATION);
          expect(figures(joined)).toEqual(figures(whole));
        }
      }),
    );
  });

  test('cover the samples in order, stay small and do not cross a month', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3 * BLOCK_SAMPLES }), fc.constantFrom(60e6, 3600e6), (n, step) => {
        const frame = {
          ...emptyFrame(n, { origins: true }),
          times: Float64Array.from({ length: n }, (_, i) => Date.UTC(2026, 0, 30) * 1000 + i * step),
        };
        const blocks = cutIntoBlocks(frame);
        expect(blocks.flatMap((block) => [...block.times])).toEqual([...frame.times]);
        for (const { times } of blocks) {
          expect(times.length).toBeLessThanOrEqual(BLOCK_SAMPLES);
          expect(monthStart(times[0]!)).toBe(monthStart(times.at(-1)!));
        }
      }),
      { numRuns: 20 },
    );
  });
  test('summarise their Good values', () => {
    expect(
      summarise(
        frameOf([
          [1, 5],
          [2, 100, 0x80000000],
          [3, -1],
        ]),
      ),
    ).toEqual({
      firstTime: 1,
      lastTime: 3,
      count: 3,
      goodCount: 2,
      uncertainCount: 0,
      least: -1,
      greatest: 5,
      sum: 4,
      run: null,
    });
  });
});

describe('the envelope', () => {
  test('holds the least and greatest of every column and breaks at Bad samples', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -100, max: 100 }), { minLength: 50, maxLength: 400 }),
        fc.integer({ min: 2, max: 10 }),
        (list, columns) => {
          const n = list.length;
          const envelope = envelopeOf(frameOf(list.map((value, i) => [i, value])), 0, n, columns);
          expect(Math.max(...envelope.values)).toBe(Math.max(...list));
          expect(Math.min(...envelope.values)).toBe(Math.min(...list));
          expect(envelope.times.length).toBeLessThanOrEqual(Math.max(columns * 4, columns * 5));
          expect([...envelope.times]).toEqual([...envelope.times].sort((a, b) => a - b));
        },
      ),
    );
    const broken = envelopeOf(
      frameOf(Array.from({ length: 100 }, (_, i): [number, number, number] => [i, i, i === 50 ? 0x80310000 : 0])),
      0,
      100,
      5,
    );
    expect(broken.values.some(Number.isNaN)).toBe(true);
    expect(
      sliceFrame(
        frameOf([
          [1, 1],
          [2, 2],
        ]),
        1,
        2,
      ).times,
    ).toEqual(Float64Array.of(2));
  });
});

describe('the deadband', () => {
  const kept = (value: number, last: number, width: number, silence: number | null = null, dt = 1): boolean =>
    isKept({ time: dt, value, status: 0 }, { time: 0, value: last, status: 0 }, width, silence);
  test('drops what moved no further than its width', () => {
    expect(kept(10.5, 10, 0.5)).toBe(false);
    expect(kept(10.6, 10, 0.5)).toBe(true);
    expect(kept(10, 10, 0)).toBe(true);
  });
  test('passes a changed status and a silence grown too long', () => {
    expect(isKept({ time: 1, value: 10, status: 0x80310000 }, { time: 0, value: 10, status: 0 }, 5, null)).toBe(true);
    expect(kept(10, 10, 5, 60, 60)).toBe(true);
  });
  test('never lets a kept value be further from the truth than its width', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: 1 }),
        fc.double({ min: 0.1, max: 10, noNaN: true }),
        (list, width) => {
          let last: { time: number; value: number; status: number } | undefined;
          list.forEach((value, time) => {
            const sample = { time, value, status: 0 };
            if (isKept(sample, last, width, null)) last = sample;
            expect(Math.abs(value - last!.value)).toBeLessThanOrEqual(width);
          });
        },
      ),
    );
  });
});
