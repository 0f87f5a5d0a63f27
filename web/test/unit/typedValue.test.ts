/** What a person types into a value's field, as the tag's type has it. */
import { typedValue } from '../../src/traces/typedValue.ts';

test.each([
  ['real', '1,5', 1.5],
  ['real', ' -2.25e3 ', -2250],
  ['real', 'NaN', 'NaN'],
  ['real', '0', 0],
  ['integer', '42', 42],
  ['integer', '9007199254740993', '9007199254740993'],
  ['boolean', 'Yes', true],
  ['boolean', '0', false],
  ['state', 'Running', 'Running'],
  ['text', '', ''],
] as const)('a %s typed as "%s"', (type, text, value) => {
  expect(typedValue({ type }, text)).toBe(value);
});

test.each([
  ['real', ''],
  ['real', '   '],
  ['real', 'twelve'],
  ['real', '1.234,5'],
  ['real', '1e999'],
  ['integer', ''],
  ['integer', '1.5'],
  ['boolean', ''],
  ['boolean', 'perhaps'],
  ['state', ''],
] as const)('a %s typed as "%s" is no value, least of all nought', (type, text) => {
  expect(typedValue({ type }, text)).toBeNull();
});
