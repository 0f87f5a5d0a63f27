import fc from 'fast-check';
import {
  FrameError,
  decodeFrame,
  emptyFrame,
  encodeFrame,
  isBundle,
  isWhole64,
  packBundle,
  packEntry,
  toWhole,
  unpackBundle,
  unpackEntry,
  wholeAt,
  type Frame,
} from '../../src/index.ts';

const specials = fc.constantFrom(NaN, -0, 0, Infinity, -Infinity, 5e-324, Number.MAX_VALUE, 2 ** 53, 0.1 + 0.2);
const decimals = fc.integer({ min: -1e6, max: 1e6 }).map((n) => n / 100);
const singles = fc.float({ noNaN: true });
const values = fc.oneof(
  fc.array(fc.oneof(fc.double(), specials), { minLength: 1, maxLength: 200 }),
  fc.array(fc.oneof({ weight: 9, arbitrary: decimals }, { weight: 1, arbitrary: fc.constant(NaN) }), {
    minLength: 1,
    maxLength: 200,
  }),
  fc.array(singles, { minLength: 1, maxLength: 100 }),
  fc.array(fc.constantFrom(1 / 3, 2 / 3, 1 / 7), { minLength: 40, maxLength: 100 }),
  fc.array(fc.constantFrom(0, 1), { minLength: 1, maxLength: 100 }),
);

const frames: fc.Arbitrary<Frame> = values.chain((list) => {
  const n = list.length;
  const times = fc.oneof(
    fc.array(fc.integer({ min: -9e15, max: 9e15 }), { minLength: n, maxLength: n }),
    fc
      .tuple(fc.integer({ min: 0, max: 2e9 }), fc.integer({ min: 1, max: 3600 }))
      .map(([start, step]) => list.map((_, i) => (start + i * step) * 1_000_000)),
    fc
      .tuple(
        fc.integer({ min: 0, max: 2e12 }),
        fc.array(fc.integer({ min: 1, max: 2000 }), { minLength: n, maxLength: n }),
      )
      .map(([start, steps]) => {
        let at = start;
        return steps.map((step) => (at += step) * 1000);
      }),
  );
  return fc.record({
    tags: fc.option(fc.array(fc.nat(0xffffffff), { minLength: n, maxLength: n }).map((tags) => Uint32Array.from(tags))),
    times: times.map((t) => Float64Array.from(t)),
    values: fc.constant(Float64Array.from(list)),
    status: fc
      .array(fc.constantFrom(0, 0x80310000, 0x40a40402, 0xffffffff), { minLength: n, maxLength: n })
      .map((s) => Uint32Array.from(s)),
    origins: fc.option(fc.array(fc.nat(6), { minLength: n, maxLength: n }).map((o) => Uint8Array.from(o))),
    texts: fc.array(fc.string({ unit: 'binary' }), { maxLength: 5 }),
  });
});

const bitsOf = (doubles: Float64Array): bigint[] => [
  ...new BigUint64Array(Float64Array.from(doubles, (v) => (Number.isNaN(v) ? NaN : v)).buffer),
];

describe('a frame', () => {
  test('comes back from its bytes bit for bit', () => {
    fc.assert(
      fc.property(frames, (frame) => {
        const back = decodeFrame(encodeFrame(frame));
        expect(back.times).toEqual(frame.times);
        expect(bitsOf(back.values)).toEqual(bitsOf(frame.values));
        expect(back.status).toEqual(frame.status);
        expect(back.tags).toEqual(frame.tags);
        expect(back.origins).toEqual(frame.origins);
        expect(back.texts).toEqual(frame.texts);
      }),
      { numRuns: 500 },
    );
  });

  test('holds every 64-bit integer beside fractions, missing values and doubles beyond it', () => {
    const extremes = [63n, 62n, 53n, 52n].flatMap((bits) =>
      [-2n, -1n, 0n, 1n, 2n].flatMap((near) => [2n ** bits + near, -(2n ** bits) + near]),
    );
    const wholes = fc.oneof(fc.constantFrom(...extremes.filter(isWhole64)), fc.bigInt(-(2n ** 63n), 2n ** 63n - 1n));
    const others = fc.oneof(fc.double(), specials, fc.constantFrom(2 ** 63, -(2 ** 63), 2 ** 64, 1e300, 1e17, 0.5));
    fc.assert(
      fc.property(fc.array(fc.oneof(wholes, others), { minLength: 1, maxLength: 60 }), (given) => {
        const frame: Frame = {
          ...emptyFrame(given.length),
          values: Float64Array.from(given, Number),
          wholes: BigInt64Array.from(given, (one) => (typeof one === 'bigint' ? one : toWhole(one))),
        };
        const back = decodeFrame(encodeFrame(frame));
        expect(bitsOf(back.values)).toEqual(bitsOf(frame.values));
        given.forEach((one, i) => {
          if (typeof one === 'bigint') expect(wholeAt(back, i) ?? BigInt(back.values[i]!)).toBe(one);
          // A double that was no integer of 64 bits has none beside it.
          else if (Math.abs(one) > 2 ** 63 || !Number.isInteger(one)) expect(wholeAt(back, i)).toBeNull();
        });
      }),
      { numRuns: 500 },
    );
  });

  test('whose integer does not stand beside its double is not written', () => {
    const frame = (value: number, whole: bigint): Frame => ({
      ...emptyFrame(1),
      values: Float64Array.of(value),
      wholes: BigInt64Array.of(whole),
    });
    expect(() => encodeFrame(frame(2 ** 60, 0n))).toThrow('does not stand beside');
    // Early versions wrote such frames: their doubles are all that is known. 2^53 + 1 had come back as 2^54.
    const early = encodeFrame(frame(2 ** 53, 2n ** 53n + 1n));
    expect(early.at(-1)).toBe(2);
    const lost = Uint8Array.of(...early.subarray(0, -1), 0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0x0f);
    expect(decodeFrame(lost).wholes).toEqual(BigInt64Array.of(2n ** 53n));
  });

  test('is refused with a FrameError, never with another error, whatever the bytes', () => {
    fc.assert(
      fc.property(frames, fc.nat(), fc.nat(255), (frame, at, byte) => {
        const bytes = encodeFrame(frame);
        expect(() => decodeFrame(bytes.subarray(0, bytes.length - 1))).toThrow(FrameError);
        bytes[at % bytes.length] = byte;
        try {
          decodeFrame(bytes);
        } catch (error) {
          expect(error).toBeInstanceOf(FrameError);
        }
      }),
      { numRuns: 300 },
    );
  });

  test('says what is wrong', () => {
    expect(() => decodeFrame(new TextEncoder().encode('hello'))).toThrow(
      'This is not a frame: it starts with 0x68 instead of 0x31.',
    );
    expect(() => unpackEntry(new Uint8Array(3))).toThrow('it does not start with "WLE1"');
  });

  test('of regular one-second decimals stays near one byte a sample before compression', () => {
    const n = 3600;
    const frame: Frame = {
      tags: null,
      times: Float64Array.from({ length: n }, (_, i) => (1_700_000_000 + i) * 1_000_000),
      values: Float64Array.from({ length: n }, (_, i) => Math.round(1000 + 40 * Math.sin(i / 8)) / 10),
      status: new Uint32Array(n),
      origins: new Uint8Array(n),
      texts: [],
    };
    expect(encodeFrame(frame).length).toBeLessThan(n * 1.1);
  });

  test('travels in an entry beside its description', () => {
    const frame = {
      tags: Uint32Array.of(7),
      times: Float64Array.of(1),
      values: Float64Array.of(2.5),
      status: Uint32Array.of(0),
      origins: null,
      texts: [],
    };
    const entry = unpackEntry(packEntry({ writer: 'ä' }, frame));
    expect(entry.description).toEqual({ writer: 'ä' });
    expect(entry.frame).toEqual({ ...frame, wholes: null });
    expect(unpackEntry(packEntry({}, null)).frame).toBeNull();
  });

  test('entries travel in bundles as they are; one that is cut off is refused', () => {
    const bytes = fc.uint8Array({ maxLength: 40 });
    fc.assert(
      fc.property(fc.array(bytes, { maxLength: 8 }), (entries) => {
        const bundle = packBundle(entries);
        expect(isBundle(bundle)).toBe(true);
        expect(unpackBundle(bundle)).toEqual(entries);
        // Whatever is missing at its end, an entry is not taken for whole.
        for (let cut = 4; cut < bundle.length; cut++) {
          const rest = bundle.subarray(0, cut);
          const whole = entries.filter(
            (_, i) => 4 + entries.slice(0, i + 1).reduce((n, e) => n + 4 + e.length, 0) <= cut,
          );
          const begun = 4 + whole.reduce((n, e) => n + 4 + e.length, 0);
          if (begun === cut) expect(unpackBundle(rest)).toEqual(whole);
          else expect(() => unpackBundle(rest)).toThrow(FrameError);
        }
      }),
    );
    expect(isBundle(packEntry({}, null))).toBe(false);
    expect(() => unpackBundle(packEntry({}, null))).toThrow('it does not start with "WLB1"');
  });
});
