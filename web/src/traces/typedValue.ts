import type { Tag } from '@wide-ledger/contract';

const TRUE = ['true', 'yes', '1'];
const FALSE = ['false', 'no', '0'];

/**
 * What a person typed as the tag's type has it; null where it is no value of that type, so that an emptied or mistyped
 * field never passes for a nought. Integers beyond what a double holds exactly go on as text.
 */
export function typedValue({ type }: Pick<Tag, 'type'>, text: string): string | number | boolean | null {
  if (type === 'text') return text;
  const given = text.trim();
  if (given === '') return null;
  if (type === 'state') return given;
  if (type === 'boolean') {
    const word = given.toLowerCase();
    return TRUE.includes(word) ? true : FALSE.includes(word) ? false : null;
  }
  if (type === 'integer') {
    if (!/^[-+]?\d+$/.test(given)) return null;
    return Number.isSafeInteger(Number(given)) ? Number(given) : given.replace('+', '');
  }
  if (['NaN', 'Infinity', '-Infinity'].includes(given)) return given;
  const number = Number(given.replace(',', '.'));
  return /\d/.test(given) && Number.isFinite(number) ? number : null;
}
