/** How long buffers last, in seconds and in words. */
import type { CollectorState } from '@wide-ledger/contract';
import { untilFull } from '@wide-ledger/core';
import { lengthWords } from '../../window/times.ts';

/** Longer than this nobody plans for. Seconds. */
const FOR_EVER = 10 * 366 * 86_400;

/** A span of seconds as people say it. */
export function lastsWords(seconds: number | null): string {
  if (seconds === null) return 'not known how long';
  return seconds > FOR_EVER ? 'more than ten years' : lengthWords(seconds * 1000);
}

/**
 * Seconds until the disk of a spool is full, were the server away from now on; null where its room is not known.
 * @param keptPerSecond values that its sources give.
 */
export function spoolLasts(
  { spoolFreeBytes, spoolBytesPerSample }: Pick<CollectorState, 'spoolFreeBytes' | 'spoolBytesPerSample'>,
  keptPerSecond: number,
): number | null {
  if (spoolFreeBytes === null || spoolBytesPerSample === null) return null;
  return untilFull({ capacity: spoolFreeBytes / spoolBytesPerSample, held: 0, valuesPerSecond: keptPerSecond });
}
