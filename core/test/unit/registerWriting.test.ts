/** Writing into registers: what was written reads as it was, and what does not fit is refused rather than wrapped. */
import fc from 'fast-check';
import {
  UnwritableError,
  WORD_ORDERS,
  decodeRegisters,
  registersFor,
  scale,
  unscale,
  type RegisterType,
} from '../../src/index.ts';

const order = fc.constantFrom(...WORD_ORDERS);
const back = (raw: number | bigint | string, type: RegisterType, of: (typeof WORD_ORDERS)[number], length?: number) => {
  const layout = { type, order: of, ...(length === undefined ? {} : { length }) };
  return decodeRegisters(registersFor(raw, layout), layout);
};

const LIMITS = {
  int16: [-32_768, 32_767],
  uint16: [0, 65_535],
  int32: [-2_147_483_648, 2_147_483_647],
  uint32: [0, 4_294_967_295],
  bcd16: [0, 9999],
  bcd32: [0, 99_999_999],
} as const;

describe.each(Object.entries(LIMITS))('%s', (name, [least, most]) => {
  const type = name as keyof typeof LIMITS;
  test('reads back as it was written, in every order', () => {
    fc.assert(
      fc.property(fc.integer({ min: least, max: most }), order, (raw, of) => expect(back(raw, type, of)).toBe(raw)),
    );
    for (const raw of [least, most]) expect(back(raw, type, 'ABCD')).toBe(raw);
  });
  test.each([least - 1, most + 1, 1e20, -1e20, NaN, Infinity])('refuses %d', (raw) =>
    expect(() => registersFor(raw, { type, order: 'ABCD' })).toThrow(UnwritableError),
  );
});

test('64-bit integers are exact to the last digit, and refused beyond their limits', () => {
  fc.assert(
    fc.property(fc.bigInt({ min: -(2n ** 63n), max: 2n ** 63n - 1n }), order, (raw, of) => {
      expect(back(raw, 'int64', of)).toBe(raw);
      expect(back(BigInt.asUintN(64, raw), 'uint64', of)).toBe(BigInt.asUintN(64, raw));
    }),
  );
  expect(() => registersFor(2n ** 63n, { type: 'int64', order: 'ABCD' })).toThrow(UnwritableError);
  expect(() => registersFor(-1n, { type: 'uint64', order: 'ABCD' })).toThrow(UnwritableError);
});

test('numbers with fractions are those of their type', () => {
  fc.assert(
    fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), order, (raw, of) => {
      expect(back(raw, 'float64', of)).toBe(raw);
      if (Math.abs(raw) < 3e38) expect(back(raw, 'float32', of)).toBe(Math.fround(raw));
    }),
  );
  expect(() => registersFor(1e39, { type: 'float32', order: 'ABCD' })).toThrow(UnwritableError);
});

test('texts keep the characters that registers can hold', () => {
  const latin = fc.integer({ min: 1, max: 255 }).map((code) => String.fromCharCode(code));
  fc.assert(
    fc.property(fc.array(latin, { maxLength: 10 }), order, (letters, of) => {
      const text = letters.join('').replace(/ +$/, '');
      expect(back(text, 'text', of, 5)).toBe(text);
    }),
  );
  expect(() => registersFor('elevenchars', { type: 'text', order: 'ABCD', length: 5 })).toThrow(/hold 10 characters/);
  expect(() => registersFor('κ', { type: 'text', order: 'ABCD' })).toThrow(UnwritableError);
  expect(() => registersFor('12', { type: 'uint16', order: 'ABCD' })).toThrow(UnwritableError);
});

test('what is scaled back scales to what it was, within a step of the register', () => {
  const number = fc.double({ min: -1e4, max: 1e4, noNaN: true });
  const slope = fc.double({ min: 0.001, max: 100, noNaN: true });
  fc.assert(
    fc.property(number, slope, number, (value, factor, offset) => {
      const scaling = { factor, offset };
      expect(scale(unscale(value, scaling), scaling)).toBeCloseTo(value, 6);
    }),
  );
  const ranges = { rawLow: 0, rawHigh: 4095, low: 0, high: 250 };
  const by = { factor: 1, offset: 0, ranges };
  expect([unscale(0, by), unscale(250, by), unscale(125, by)]).toEqual([0, 4095, 2047.5]);
  expect(() => unscale(5, { factor: 0, offset: 1 })).toThrow(UnwritableError);
});
