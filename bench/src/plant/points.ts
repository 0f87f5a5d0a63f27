/** What a device's memory holds for one instrument, and the formula of it. */
import type { NumericRegisterType, WordOrder } from '@wide-ledger/core';

export interface Point {
  readonly tag: string;
  readonly description: string;
  readonly place: string;
  readonly unit: string;
  readonly type: 'real' | 'integer' | 'boolean' | 'state';
  readonly low: number | null;
  readonly high: number | null;
  readonly area: 'coil' | 'discrete' | 'input' | 'holding';
  readonly address: number;
  readonly register: NumericRegisterType;
  readonly order: WordOrder;
  readonly scaling?: { readonly factor: number; readonly offset: number; readonly places?: number };
  readonly states?: Readonly<Record<string, string>>;
  readonly intervalMilliseconds: number;
  readonly deadband?:
    { readonly kind: 'absolute'; readonly width: number } | { readonly kind: 'percent'; readonly percent: number };
  readonly longestSilenceSeconds?: number;
  /** A setting that holds what is written to it; at first, its formula. */
  readonly writable?: boolean;
  /** The number that the instrument holds at a time (seconds since 1970), in the tag's unit. */
  readonly at: (seconds: number) => number;
}

export type PointDraft = Partial<Point> & Pick<Point, 'tag' | 'description' | 'place' | 'at'>;

/** A point with what most points have. */
export const real = (draft: PointDraft): Point => ({
  unit: '',
  type: 'real',
  low: null,
  high: null,
  area: 'holding',
  address: 0,
  register: 'uint16',
  order: 'ABCD',
  intervalMilliseconds: 1000,
  ...draft,
});
