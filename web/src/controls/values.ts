/** Values and qualities as people read them. */
import type { SampleOutput } from '@wide-ledger/contract';

const grouped = new Intl.NumberFormat('en', { maximumFractionDigits: 3 });

/** Thin spaces between thousands, as in an account book. */
export function showNumber(value: number, digits?: number): string {
  const text =
    digits === undefined
      ? grouped.format(value)
      : value.toLocaleString('en', { minimumFractionDigits: digits, maximumFractionDigits: digits });
  return text.replaceAll(',', '\u2009');
}

/** @param digits decimals, where the figures of a column are to stand under each other. */
export function showValue(value: SampleOutput['value'], digits?: number): string {
  if (value === null) return '—';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return typeof value === 'number' ? showNumber(value, digits) : value;
}

const MOST_DIGITS = 3;

/** The fewest decimals, up to three, with which every figure of a column is shown as closely as it can be. */
export function digitsOf(values: readonly SampleOutput['value'][]): number {
  let digits = 0;
  for (const value of values) {
    if (typeof value !== 'number') continue;
    while (digits < MOST_DIGITS && Number(value.toFixed(digits)) !== Number(value.toFixed(MOST_DIGITS))) digits++;
    if (digits === MOST_DIGITS) break;
  }
  return digits;
}

export type Grade = 'Good' | 'Uncertain' | 'Bad';
export const gradeOf = (status: number): Grade =>
  status >>> 30 === 0 ? 'Good' : status >>> 30 === 1 ? 'Uncertain' : 'Bad';
export const GRADE_COLOUR: Record<Grade, string> = { Good: 'text-ink-2', Uncertain: 'text-ochre', Bad: 'text-madder' };

const SIZES = ['B', 'kB', 'MB', 'GB', 'TB'];
export function showBytes(bytes: number): string {
  const step = bytes === 0 ? 0 : Math.min(SIZES.length - 1, Math.floor(Math.log10(bytes) / 3));
  return `${showNumber(bytes / 1000 ** step, step === 0 ? 0 : 1)} ${SIZES[step]}`;
}

/** How long ago an instant of an answer was; null: it never was. */
export const showAgo = (time: string | null): string =>
  time === null ? 'never' : showAge(Date.now() - Date.parse(time));

/** How old something is. */
export function showAge(milliseconds: number): string {
  if (milliseconds < 1500) return `${(Math.max(0, milliseconds) / 1000).toFixed(1)} s ago`;
  if (milliseconds < 120_000) return `${Math.round(milliseconds / 1000)} s ago`;
  if (milliseconds < 7_200_000) return `${Math.round(milliseconds / 60_000)} min ago`;
  return `${Math.round(milliseconds / 3_600_000)} h ago`;
}
