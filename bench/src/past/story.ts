/** What happened in the demo's past: outages, values that came late, an instrument that stuck, one that was noisy. */
import { DAY, HOUR, MINUTE, type GapCause, type Span } from '@wide-ledger/core';

export interface PastOutage extends Span {
  readonly cause: GapCause;
  readonly sentence: string;
  readonly code: string | null;
  /** What was recovered of it afterwards, and how. */
  readonly recovered?: Span & { readonly origin: 'buffered' | 'backfilled' };
}

/** The outages of the past before `now`, oldest first. Times are microseconds. */
export function pastOutages(now: number): PastOutage[] {
  const ago = (days: number, hours: number, minutes = 0): number =>
    Math.floor((now - days * DAY - hours * HOUR) / MINUTE) * MINUTE + minutes * MINUTE;
  const span = (from: number, minutes: number): Span => ({ from, to: from + minutes * MINUTE });
  return [
    {
      ...span(ago(203, 5), 26 * 60),
      cause: 'collector',
      sentence: 'The collector was switched off for the move of its cabinet.',
      code: null,
    },
    {
      ...span(ago(96, 11), 190),
      cause: 'source',
      sentence: 'The radio link to Thornmere was down in the storm.',
      code: 'EHOSTUNREACH',
    },
    {
      ...span(ago(11, 3), 150),
      cause: 'source',
      sentence:
        'The radio link to Thornmere was down; the server was out of reach and the collector kept values on its spool.',
      code: 'EHOSTUNREACH',
      recovered: { ...span(ago(11, 3), 150), origin: 'buffered' },
    },
    {
      ...span(ago(5, 14), 79),
      cause: 'source',
      sentence: 'The radio link to Thornmere was down; the controller kept the last 54 minutes.',
      code: 'ETIMEDOUT',
      recovered: { from: ago(5, 14, 25), to: ago(5, 14, 79), origin: 'backfilled' },
    },
    {
      ...span(ago(2, 6), 48),
      cause: 'source',
      sentence: 'The controller refused connections while its firmware was changed.',
      code: 'ECONNREFUSED',
    },
    { ...span(ago(0, 5), 17), cause: 'source', sentence: 'The radio link to Thornmere was down.', code: 'ETIMEDOUT' },
  ];
}

/** An instrument that held one value: its reading froze at the start. */
export const stuck = (now: number): Span & { tag: string } => ({
  tag: 'TW-TT-203',
  from: now - 20 * DAY,
  to: now - 20 * DAY + 31 * HOUR,
});

/** An instrument that was noisy: a loose terminal. */
export const noisy = (now: number): Span & { tag: string; amplitude: number } => ({
  tag: 'TW-PT-402',
  from: now - 44 * DAY,
  to: now - 44 * DAY + 9 * HOUR,
  amplitude: 6,
});

/** A laboratory correction: a wrong span of one tag, set right three days later. */
export const corrected = (now: number): Span & { tag: string; wrongBy: number } => ({
  tag: 'TW-TT-403',
  from: now - 9 * DAY,
  to: now - 9 * DAY + 4 * HOUR,
  wrongBy: 12.5,
});
