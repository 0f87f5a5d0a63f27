/** Whether a tag is read often enough: the spectrum at uneven times, folding, and the loss of peaks. */
import fc from 'fast-check';
import {
  ReadingBook,
  Status,
  fastestMovement,
  foldedFrequency,
  periodogram,
  sampledAt,
  spectrumOf,
  worstPeakLoss,
  type Columns,
  type ReadBadly,
} from '../../src/index.ts';

test('the periodogram is SciPy’s (scipy.signal.lombscargle 1.17.1, normalize=True, of these values less their mean)', () => {
  const times = Float64Array.of(0, 1.1, 2.3, 2.9, 4.2, 5.0, 6.4, 7.1, 8.3, 9.9, 10.4, 12.0);
  const values = Float64Array.of(1.2, 3.4, 0.3, -2.1, -1.0, 2.2, 2.9, -0.4, -2.6, 0.9, 2.0, -1.7);
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  const shares = periodogram(
    times,
    values.map((value) => value - mean),
    [0.05, 0.1, 0.2, 0.25, 0.3, 0.42],
  );
  const scipy = [0.03647588, 0.02122823, 0.80771855, 0.47312587, 0.10024379, 0.02946834];
  shares.forEach((share, i) => expect(share).toBeCloseTo(scipy[i]!, 7));
});

test('what folds, and to what; how much of a peak is lost: the table of the project’s references (4.8)', () => {
  expect(foldedFrequency(50, 60)).toBe(10);
  expect(foldedFrequency(9, 10)).toBeCloseTo(1, 12);
  expect(foldedFrequency(7, 5)).toBeCloseTo(2, 12);
  expect(sampledAt({ period: 60 }, 50).folded).toBeCloseTo(300, 6);
  expect(sampledAt({ period: 60 }, 60).folded).toBe(Infinity);
  for (const [samples, percent] of [
    [4, 29.29],
    [8, 7.61],
    [10, 4.89],
    [16, 1.92],
    [32, 0.48],
  ] as const)
    expect(100 * worstPeakLoss(samples)).toBeCloseTo(percent, 2);
});

const columns = (values: readonly number[], timeOf = (i: number): number => i): Columns => ({
  times: Float64Array.from(values, (_, i) => timeOf(i) * 1e6),
  values: Float64Array.from(values),
  status: new Uint32Array(values.length),
});
// Park and Miller's generator.
function noise(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647 - 0.5;
}

describe('the fastest movement that matters', () => {
  test('law: a sinusoid is found by its period, at even times and uneven ones, over a slope and noise', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 4, max: 300 }),
        fc.boolean(),
        fc.integer({ min: 1, max: 1e6 }),
        (period, uneven, seed) => {
          const draw = noise(seed);
          const timeOf = (i: number): number => i + (uneven ? (0.8 * ((i * 7919) % 13)) / 13 : 0);
          const values = Array.from(
            { length: 2000 },
            (_, i) => 3 * Math.sin((2 * Math.PI * timeOf(i)) / period + seed) + i / 100 + draw(),
          );
          const found = fastestMovement(columns(values, timeOf))!;
          expect(Math.abs(found.period / period - 1)).toBeLessThan(0.05);
          expect(found.amplitude).toBeGreaterThan(2.4);
          expect(found.amplitude).toBeLessThan(3.4);
        },
      ),
      { numRuns: 25 },
    );
  });

  test('of several the fastest one that is not lost in the others', () => {
    const draw = noise(5);
    const values = Array.from(
      { length: 2048 },
      (_, i) => 10 * Math.sin(i / 100) + 2.5 * Math.sin((2 * Math.PI * i) / 12) + 0.05 * Math.sin(i * 2) + 0.1 * draw(),
    );
    expect(fastestMovement(columns(values))!.period).toBeCloseTo(12, 0);
  });

  test('noise alone is none, nor is what stands still, a slope, or too little', () => {
    const draw = noise(11);
    expect(fastestMovement(columns(Array.from({ length: 2000 }, draw)))).toBeNull();
    expect(fastestMovement(columns(Array<number>(500).fill(7)))).toBeNull();
    expect(fastestMovement(columns(Array.from({ length: 500 }, (_, i) => 2 * i)))).toBeNull();
    expect(fastestMovement(columns([1, 2, 1, 2]))).toBeNull();
  });

  test('what is bad or empty interrupts; the newest stretch is looked at', () => {
    const values = Array.from({ length: 1000 }, (_, i) => (i < 500 ? i % 3 : Math.sin((2 * Math.PI * i) / 20)));
    const recorded = columns(values);
    recorded.status[499] = Status.Bad;
    expect(fastestMovement(recorded)!.period).toBeCloseTo(20, 0);
  });
});

test('reading is too slow, fits, or wasteful, and another interval is proposed', () => {
  expect(sampledAt({ period: 60 }, 10)).toMatchObject({ verdict: 'too slow', folded: null, proposed: 5000 });
  expect(sampledAt({ period: 60 }, 5)).toMatchObject({ verdict: 'fits', samplesPerPeriod: 12 });
  expect(sampledAt({ period: 3600 }, 1)).toMatchObject({ verdict: 'wasteful', proposed: 300_000 });
  expect(sampledAt({ period: 0.1 }, 1)).toMatchObject({ verdict: 'too slow', proposed: 50 });
});

test('the spectrum shows each movement at its period, from the longest to the shortest', () => {
  const times = Float64Array.from({ length: 1200 }, (_, i) => i * 1e6);
  const values = times.map((time) => {
    const turn = (2 * Math.PI * time) / 1e6;
    return 3 + 2 * Math.sin(turn / 60) + Math.sin(turn / 7);
  });
  const spectrum = spectrumOf({ times, values, status: new Uint32Array(times.length) });
  expect(spectrum.every(({ period }, i) => i === 0 || period < spectrum[i - 1]!.period)).toBe(true);
  const peaks = spectrum.filter(
    ({ share }, i) => share > 0.1 && share > (spectrum[i - 1]?.share ?? 0) && share > (spectrum[i + 1]?.share ?? 0),
  );
  // Shares of two sinusoids are those of the squares of their amplitudes: 4 and 1.
  expect(peaks.map(({ period, share }) => [Math.round(period), Math.round(share * 10) / 10])).toEqual([
    [60, 0.8],
    [7, 0.2],
  ]);
  expect(
    spectrumOf({ times: times.subarray(0, 10), values: values.subarray(0, 10), status: new Uint32Array(10) }),
  ).toEqual([]);
});

describe('a tag that is examined', () => {
  const EVER = { from: 0, to: Infinity };
  /** A sinusoid read at an interval, in parts as they lie in the archive. */
  const found = (periodSeconds: number, intervalMilliseconds: number, parts = 5): ReadBadly | null => {
    const book = new ReadingBook(EVER, intervalMilliseconds);
    const count = 4000;
    for (let part = 0; part < parts; part++) {
      const places = Array.from({ length: count / parts }, (_, i) => part * (count / parts) + i);
      const times = Float64Array.from(places, (i) => i * intervalMilliseconds * 1000);
      const values = times.map((time) => 5 + Math.sin((2 * Math.PI * time) / 1e6 / periodSeconds));
      book.take({ times, values, status: new Uint32Array(times.length) });
    }
    return book.finish();
  };
  test('is read too seldom, as it should be, or needlessly often', () => {
    expect(found(4, 1000)).toMatchObject({ kind: 'too slow', intervalMilliseconds: 1000, proposedMilliseconds: 200 });
    expect(found(20, 1000)).toBeNull();
    expect(found(600, 1000)).toMatchObject({ kind: 'wasteful', proposedMilliseconds: 60_000 });
  });
  test('is judged by what lies in the window alone', () => {
    const window = { from: 1000e6, to: 3000e6 };
    const book = new ReadingBook(window, 1000);
    const times = Float64Array.from({ length: 4000 }, (_, i) => i * 1e6);
    const isWithin = (time: number): boolean => time >= window.from && time < window.to;
    const period = (time: number): number => (isWithin(time) ? 4 : 600);
    const values = times.map((time) => Math.sin((2 * Math.PI * time) / 1e6 / period(time)));
    book.take({ times, values, status: new Uint32Array(4000) });
    expect(book.finish()).toMatchObject({ kind: 'too slow', from: window.from, to: window.to - 1e6 });
  });
  test('is not judged where it only counts', () => {
    const book = new ReadingBook(EVER, 1000);
    const times = Float64Array.from({ length: 2000 }, (_, i) => i * 1e6);
    book.take({ times, values: times.map((_, i) => i - (i % 3)), status: new Uint32Array(2000) });
    expect(book.finish()).toBeNull();
  });
  test('law: what is proposed is no doubt again, and how the samples lie in parts does not matter', () => {
    fc.assert(
      fc.property(fc.double({ min: 3, max: 900, noNaN: true }), fc.constantFrom(1, 4, 40), (period, parts) => {
        const doubt = found(period, 1000);
        expect(found(period, 1000, parts)).toEqual(doubt);
        if (doubt) expect(sampledAt(doubt.movement, doubt.proposedMilliseconds / 1000).verdict).toBe('fits');
      }),
      { numRuns: 8 },
    );
  });
});
