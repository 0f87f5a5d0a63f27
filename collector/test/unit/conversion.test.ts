/** From what a source holds to a tag's value: scaled, and put through the tag's formula. */
import type { ConfiguredTag, OpcUaAddress } from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import { expect, test } from '@jest/globals';
import { serverWidth } from '../../src/kinds/opcUa/filter.ts';
import { sampleOfValue } from '../../src/tagLife/conversion.ts';
import { rawOf } from '../../src/tagLife/rawValue.ts';
import { tagAt } from '../tags.ts';

const tag = (
  formula: string | undefined,
  more: Partial<ConfiguredTag<OpcUaAddress>> = {},
): ConfiguredTag<OpcUaAddress> =>
  tagAt<OpcUaAddress>(
    7,
    { node: 'ns=1;s=a', element: '' },
    {
      low: 0,
      high: 100,
      ...more,
      reading: {
        deadband: { kind: 'absolute', width: 2 },
        scaling: { factor: 0.5, offset: 1 },
        ...(formula === undefined ? {} : { formula }),
      },
    },
  );
const made = (formula: string, raw: number | bigint | string, more?: Partial<ConfiguredTag<OpcUaAddress>>) => {
  const { value, status } = sampleOfValue(tag(formula, more), raw);
  return [value, status];
};

test.each<[string, number | bigint, number | null, number]>([
  // Scaled first: 8 becomes 5.
  ['value * 2', 8, 10, Status.Good],
  ['value > 4 ? sqrt(value - 1) : 0', 8, 2, Status.Good],
  ['value * 100', 8, 500, Status.UncertainEngineeringUnitsExceeded],
  ['1 / (value - 5)', 8, null, Status.BadSensorFailure],
  ['value', 8n, 5, Status.Good],
  // Of another version: what cannot be read gives nothing, and never what was not meant.
  ['value +* 2', 8, null, Status.BadSensorFailure],
  ['other', 8, null, Status.BadSensorFailure],
])('%s of %s', (formula, raw, value, status) => expect(made(formula, raw)).toEqual([value, status]));

test('whole numbers stay whole only where no formula makes another number of them', () => {
  const whole = { type: 'integer', low: null, high: null } as const;
  expect(sampleOfValue(tag('value / 3', whole), 8).fault?.code).toBe('NO_WHOLE_NUMBER');
  expect(made('round(value / 3)', 8, whole)).toEqual([2, Status.Good]);
});

test('what a formula made is not written back, and a server does not hold back what the formula might show', () => {
  expect(() => rawOf(tag('value * 2'), 5)).toThrow('what its source would have to hold is not known');
  expect(rawOf(tag(undefined), 5)).toBe(8);
  expect(serverWidth(tag('value * 1000'))).toBeNull();
  expect(serverWidth(tag(undefined))).toBe(4);
});
