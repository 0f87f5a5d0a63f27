/** Signals whose form is set by hand, so that anybody can see what reading too slowly does to a wave. */
import { chance } from './noise.ts';

export const SHAPES = ['sine', 'triangle', 'square', 'ramp', 'noise', 'counter'] as const;
export type Shape = (typeof SHAPES)[number];

export interface Signal {
  readonly shape: Shape;
  /** Seconds; of a counter, between two counts. */
  readonly period: number;
  readonly amplitude: number;
  readonly offset: number;
  /** How often the instrument renews its register, in milliseconds: between two renewals it holds. */
  readonly renewMilliseconds: number;
}

/** What a signal is at a time, in seconds since 1970. */
export function signalAt({ shape, period, amplitude, offset, renewMilliseconds }: Signal, seconds: number): number {
  const renew = renewMilliseconds / 1000;
  const t = Math.floor(seconds / renew) * renew;
  const phase = (((t / period) % 1) + 1) % 1;
  switch (shape) {
    case 'sine':
      return offset + amplitude * Math.sin(2 * Math.PI * phase);
    case 'triangle':
      return offset + amplitude * (phase < 0.25 ? 4 * phase : phase < 0.75 ? 2 - 4 * phase : 4 * phase - 4);
    case 'square':
      return offset + (phase < 0.5 ? amplitude : -amplitude);
    case 'ramp':
      return offset + amplitude * (2 * phase - 1);
    case 'noise':
      return offset + amplitude * (2 * chance(1200, Math.round(t / renew)) - 1);
    case 'counter':
      return Math.floor(t / period) % 65_536;
  }
}
