/** From a value in a tag's unit to what its source holds: the way back of conversion. */
import type { ConfiguredTag } from '@wide-ledger/contract';
import { UnwritableError, unscale } from '@wide-ledger/core';
import { WriteRefused } from '../kinds/kind.ts';

/** @throws UnwritableError where the scaling loses it */
export const rawOf = (
  { name, reading: { formula, scaling } }: ConfiguredTag,
  value: number | bigint | string,
): number | bigint | string => {
  if (formula !== undefined)
    throw new UnwritableError(`${name} is computed by a formula: what its source would have to hold is not known.`);
  return typeof value === 'string' || scaling === null || scaling === undefined
    ? value
    : unscale(Number(value), scaling);
};

/** What a source of any kind cannot hold is refused before it is tried. @throws WriteRefused */
export function refusingMisfits<Result>(work: () => Result): Result {
  try {
    return work();
  } catch (error) {
    if (error instanceof UnwritableError) throw new WriteRefused(error.message, 'DOES_NOT_FIT');
    throw error;
  }
}
