/** Settings of keeping as a person sets them, and as they are tried and put into a draft. Pure. */
import type { PaceSettings, Tag } from '@wide-ledger/contract';
import { SECOND, type Deadband, type RehearsedKeeping } from '@wide-ledger/core';
import { typedNumber } from '../controls/typedNumber.ts';

export const WAYS = [
  ['none', 'every value'],
  ['absolute', 'what moved more than'],
  ['percent', 'what moved more than, % of range'],
  ['line', 'along lines, within'],
  ['line percent', 'along lines, within % of range'],
] as const satisfies readonly (readonly [Deadband['kind'], string])[];

export interface Typed {
  /** Milliseconds; empty: as often as it was. */
  readonly interval: string;
  readonly way: Deadband['kind'];
  readonly amount: string;
  /** Seconds; empty: for ever. */
  readonly silence: string;
}

const amountOf = (deadband: Deadband): string => {
  if (deadband.kind === 'none') return '';
  return String('width' in deadband ? deadband.width : deadband.percent);
};

/** What a tag is kept by now. */
export const typedOf = ({ collection }: Pick<Tag, 'collection'>): Typed => ({
  interval: '',
  way: collection?.deadband.kind ?? 'none',
  amount: collection ? amountOf(collection.deadband) : '',
  silence: String(collection?.longestSilenceSeconds ?? ''),
});

export const withDeadband = (typed: Typed, deadband: Deadband): Typed => ({
  ...typed,
  way: deadband.kind,
  amount: amountOf(deadband),
});

const isWhole = (value: number | undefined, least: number): boolean =>
  value === undefined || (Number.isInteger(value) && value >= least);

/** What was typed as settings; a sentence where it is none. */
export function settingsOf({ interval, way, amount, silence }: Typed): Partial<PaceSettings> | string {
  const [every, wide, silent] = [interval, amount, silence].map(typedNumber);
  if (every === null || !isWhole(every, 50)) return 'The interval is a whole number of milliseconds, 50 at least.';
  if (silent === null || !isWhole(silent, 1)) return 'The longest silence is a whole number of seconds.';
  if (way !== 'none' && (wide === null || wide === undefined || wide < 0)) return 'Give how far a value may lie off.';
  const deadband: Deadband =
    way === 'none'
      ? { kind: way }
      : way === 'absolute' || way === 'line'
        ? { kind: way, width: wide! }
        : { kind: way, percent: wide! };
  return {
    deadband,
    longestSilenceSeconds: silent ?? null,
    ...(every === undefined ? {} : { intervalMilliseconds: every }),
  };
}

const PACED = ['intervalMilliseconds', 'aligned', 'deadband', 'longestSilenceSeconds'] as const;

/** The settings of its own that a tag would have: what it departs in by now from its pace, and what is tried. */
export function ownSettings({ collection }: Tag, settings: Partial<PaceSettings>): Partial<PaceSettings> {
  const own = PACED.filter((name) => collection?.pace === null || collection?.departures.includes(name));
  return { ...Object.fromEntries(own.map((name) => [name, collection![name]])), ...settings };
}

/** The same for one tag, as it is tried. */
export const triedBy = (
  { low, high }: Pick<Tag, 'low' | 'high'>,
  { deadband = { kind: 'none' }, longestSilenceSeconds, intervalMilliseconds = 0 }: Partial<PaceSettings>,
): RehearsedKeeping => ({
  deadband,
  longestSilence:
    longestSilenceSeconds === null || longestSilenceSeconds === undefined ? null : longestSilenceSeconds * SECOND,
  range: low === null || high === null ? null : { low, high },
  interval: intervalMilliseconds * 1000,
});
