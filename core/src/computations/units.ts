/** What a quantity per time adds up to, with its unit. The unit library is large: it is loaded when it is needed first. */
import { TRADE_UNITS } from './tradeUnits.ts';

/** Spellings of the plant that the library writes otherwise. */
const SPELLINGS: readonly (readonly [RegExp, string])[] = [
  [/³/g, '^3'],
  [/²/g, '^2'],
  [/\b([NS]?m|ft|in)([23])\b/g, '$1^$2'],
  [/°C/g, 'degC'],
  [/[·⋅]/g, ' '],
  [/\/\s*d\b/g, '/ day'],
];

/** A unit as the library reads it, and by what it has to be multiplied: what only the trade writes is put by what it stands for. */
export function spelled(text: string): { readonly words: string; readonly factor: number } {
  let factor = 1;
  const known = SPELLINGS.reduce((so, [pattern, written]) => so.replace(pattern, written), text);
  const words = known.replace(/[A-Za-z]+(?:\^3)?/g, (word) => {
    const trade = TRADE_UNITS[word];
    if (!trade) return word;
    factor *= trade.factor;
    return trade.of;
  });
  return { words, factor };
}

/** Which kind of gas volume a unit speaks of: volumes at different conditions do not turn into each other by a factor. */
const conditionsOf = (text: string): string | null => /\b([NS])m(?:3|³|\^3)/.exec(text)?.[1] ?? null;

/** The usual unit of what a rate adds up to: what stands before "per time"; watts make watt-hours. */
export function integralUnit(rate: string): string {
  const per = /^(.+?)\s*\/\s*(s|min|h|d|day|hour)$/.exec(rate);
  if (per) return per[1]!;
  const trade = TRADE_UNITS[rate]?.adds;
  if (trade !== undefined) return trade;
  return /^[kMG]?W$/.test(rate) ? `${rate}h` : `${rate} s`;
}

/**
 * By what a total in (rate unit · second) has to be multiplied to be in another unit: 1/3600 from m³/h to m³.
 * @throws RangeError with a sentence when either is no unit, or they do not measure the same.
 */
export async function integralFactor(rate: string, into: string): Promise<number> {
  const refusal = `${rate || 'A number without a unit'} over time does not add up to ${into}.`;
  if (conditionsOf(rate) !== conditionsOf(into)) throw new RangeError(refusal);
  const { unit } = await import('mathjs');
  try {
    const [from, to] = [spelled(rate), spelled(into)];
    return (unit(1, from.words).multiply(unit(1, 's')).toNumber(to.words) * from.factor) / to.factor;
  } catch {
    throw new RangeError(refusal);
  }
}
