/** What a quantity per time adds up to, with its unit. Imported by itself: the unit library is large. */
import { unit } from 'mathjs';

/** Spellings of the plant that the library writes otherwise. */
const SPELLINGS: readonly (readonly [RegExp, string])[] = [
  [/³/g, '^3'],
  [/²/g, '^2'],
  [/\bm3\b/g, 'm^3'],
  [/\bm2\b/g, 'm^2'],
  [/°C/g, 'degC'],
  [/[·⋅]/g, ' '],
];

const spelled = (text: string): string =>
  SPELLINGS.reduce((so, [pattern, written]) => so.replace(pattern, written), text);

/** The usual unit of what a rate adds up to: what stands before "per time"; watts make watt-hours. */
export function integralUnit(rate: string): string {
  const per = /^(.+?)\s*\/\s*(s|min|h|d|day|hour)$/.exec(rate);
  if (per) return per[1]!;
  return /^[kMG]?W$/.test(rate) ? `${rate}h` : `${rate} s`;
}

/**
 * By what a total in (rate unit · second) has to be multiplied to be in another unit: 1/3600 from m³/h to m³.
 * @throws RangeError with a sentence when either is no unit, or they do not measure the same.
 */
export function integralFactor(rate: string, into: string): number {
  try {
    return unit(1, spelled(rate)).multiply(unit(1, 's')).toNumber(spelled(into));
  } catch {
    throw new RangeError(`${rate || 'A number without a unit'} over time does not add up to ${into}.`);
  }
}
