import fc from 'fast-check';
import { WORD_ORDERS, decodeRegisters, encodeRegisters, groupIntoSpans, scale } from '../../src/index.ts';

const hex = (bytes: Uint8Array): string => Buffer.from(bytes).toString('hex').toUpperCase();

describe('registers', () => {
  // IEEE 754: 123456.0 is 47F12000; the word orders are common practice, no source.
  test.each([
    ['ABCD', '47F12000'],
    ['CDAB', '200047F1'],
    ['BADC', 'F1470020'],
    ['DCBA', '0020F147'],
  ] as const)('123456.0 in order %s', (order, wire) => {
    expect(hex(encodeRegisters(123456, 'float32', order))).toBe(wire);
    expect(decodeRegisters(Buffer.from(wire, 'hex'), { type: 'float32', order })).toBe(123456);
  });
  test('IEEE 754 examples', () => {
    expect(hex(encodeRegisters(0.1, 'float64', 'ABCD'))).toBe('3FB999999999999A');
    expect(hex(encodeRegisters(-2, 'float32', 'ABCD'))).toBe('C0000000');
  });
  // Modbus Application Protocol V1.1b3, 6.3: registers 108 to 110 hold 555, 0, 100.
  test('the read example of the Modbus specification', () => {
    const wire = Buffer.from('022B00000064', 'hex');
    expect([0, 2, 4].map((at) => decodeRegisters(wire.subarray(at), { type: 'uint16', order: 'ABCD' }))).toEqual([
      555, 0, 100,
    ]);
  });
  test('decode undoes encode for every type and order', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('int16', 'uint16', 'int32', 'uint32', 'float32', 'float64'),
        fc.constantFrom(...WORD_ORDERS),
        fc.integer({ min: 0, max: 32767 }),
        (type, order, value) => {
          expect(decodeRegisters(encodeRegisters(value, type, order), { type, order })).toBe(value);
        },
      ),
    );
  });
  test('binary-coded decimals hold a digit in four bits; more than nine is none', () => {
    const wire = (hex: string): Uint8Array => Buffer.from(hex, 'hex');
    expect(decodeRegisters(wire('1234'), { type: 'bcd16', order: 'ABCD' })).toBe(1234);
    expect(decodeRegisters(wire('56781234'), { type: 'bcd32', order: 'CDAB' })).toBe(12345678);
    expect(decodeRegisters(wire('12A4'), { type: 'bcd16', order: 'ABCD' })).toBeNaN();
    fc.assert(
      fc.property(fc.constantFrom(...WORD_ORDERS), fc.integer({ min: 0, max: 99_999_999 }), (order, value) => {
        expect(decodeRegisters(encodeRegisters(value, 'bcd32', order), { type: 'bcd32', order })).toBe(value);
      }),
    );
  });
  test('64-bit integers are kept to the last digit, in every order', () => {
    // IEEE 754 has no double for it: 2^53 + 1.
    const bytes = Buffer.from('0020000000000001', 'hex');
    expect(decodeRegisters(bytes, { type: 'uint64', order: 'ABCD' })).toBe(9007199254740993n);
    expect(decodeRegisters(Buffer.from('0001000000000020', 'hex'), { type: 'uint64', order: 'CDAB' })).toBe(
      9007199254740993n,
    );
    expect(decodeRegisters(Buffer.alloc(8, 0xff), { type: 'int64', order: 'DCBA' })).toBe(-1n);
    expect(decodeRegisters(Buffer.alloc(8, 0xff), { type: 'uint64', order: 'BADC' })).toBe(18446744073709551615n);
  });
  test('a bit of a register is counted from the least significant', () => {
    const bits = Array.from({ length: 16 }, (_, bit) =>
      decodeRegisters(Buffer.from('8005', 'hex'), { type: 'bit', order: 'ABCD', bit }),
    );
    expect(bits.join('')).toBe('1010000000000001');
  });
  test('a text ends at its first NUL, or without the spaces that fill it', () => {
    const text = (hex: string, order: 'ABCD' | 'BADC' = 'ABCD') =>
      decodeRegisters(Buffer.from(hex, 'hex'), { type: 'text', order, length: hex.length / 4 });
    expect(text('50756D7020310000FFFF')).toBe('Pump 1');
    expect(text('75507020')).toBe('uPp');
    expect(text('7550206D', 'BADC')).toBe('Pum');
    expect(text('B0432020')).toBe('°C');
  });
  test('two ranges scale exactly at both ends', () => {
    const ranges = { rawLow: 4, rawHigh: 20, low: -10, high: 0.3 };
    const by = (raw: number) => scale(raw, { factor: 1, offset: 0, ranges });
    expect([by(4), by(20), by(12)]).toEqual([-10, 0.3, -4.85]);
  });
  test('scaling rounds to the decimals of the sensor', () => {
    expect(scale(1234, { factor: 0.01, offset: 0, places: 2 })).toBe(12.34);
    expect(scale(10, undefined)).toBe(10);
  });
  test('neighbours are read in one request, within the limit of a request', () => {
    const items = Array.from({ length: 130 }, (_, i) => i).concat(500);
    const spans = groupIntoSpans(items, (i) => ({ address: i, length: 1 }), 125, 4);
    expect(spans.map(({ start, length }) => [start, length])).toEqual([
      [0, 125],
      [125, 5],
      [500, 1],
    ]);
  });
});
