import fc from 'fast-check';
import {
  REGISTER_TYPES,
  WORD_ORDERS,
  decodeRegisters,
  encodeRegisters,
  groupIntoSpans,
  scale,
} from '../../src/index.ts';

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
    expect(decodeRegisters(Buffer.from(wire, 'hex'), 'float32', order)).toBe(123456);
  });
  test('IEEE 754 examples', () => {
    expect(hex(encodeRegisters(0.1, 'float64', 'ABCD'))).toBe('3FB999999999999A');
    expect(hex(encodeRegisters(-2, 'float32', 'ABCD'))).toBe('C0000000');
  });
  // Modbus Application Protocol V1.1b3, 6.3: registers 108 to 110 hold 555, 0, 100.
  test('the read example of the Modbus specification', () => {
    const wire = Buffer.from('022B00000064', 'hex');
    expect([0, 2, 4].map((at) => decodeRegisters(wire.subarray(at), 'uint16', 'ABCD'))).toEqual([555, 0, 100]);
  });
  test('decode undoes encode for every type and order', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...REGISTER_TYPES),
        fc.constantFrom(...WORD_ORDERS),
        fc.integer({ min: 0, max: 32767 }),
        (type, order, value) => {
          expect(decodeRegisters(encodeRegisters(value, type, order), type, order)).toBe(value);
        },
      ),
    );
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
