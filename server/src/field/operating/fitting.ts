/** Whether a value may be written to a tag: by its type, its range and its states. Pure. */
import type { DeviceValue } from '@wide-ledger/contract';
import type { TagRow } from '../../configuration/index.ts';

/** @returns why it may not; null where it may. */
export function misfit(
  { type, low, high, states, unit }: Pick<TagRow, 'type' | 'low' | 'high' | 'states' | 'unit'>,
  value: DeviceValue,
): string | null {
  if (type === 'text') return typeof value === 'string' ? null : 'The tag holds texts: give a text.';
  const whole = typeof value === 'string' && type === 'integer' && /^-?\d{1,20}$/.test(value);
  const number = typeof value === 'number' ? value : whole ? Number(value) : NaN;
  if (!Number.isFinite(number)) return `"${value}" is no number.`;
  if (type !== 'real' && !Number.isInteger(number)) return 'The tag holds whole numbers.';
  if (type === 'boolean' && number !== 0 && number !== 1) return 'The tag holds 0 or 1.';
  if (type === 'state' && states !== null && !Object.hasOwn(states, String(number)))
    return `${number} is none of its states: ${Object.keys(states).join(', ')}.`;
  if ((low !== null && number < low) || (high !== null && number > high))
    return `${value} lies outside of its range, ${low ?? '−∞'} to ${high ?? '∞'} ${unit}`.trimEnd() + '.';
  return null;
}
