/** What the switchboard and the plant know of any device, whatever it speaks. */
import type { Signal } from '../plant/signals.ts';
import type { Line, LineState } from '../relay/fault.ts';

/** What a point holds at a moment; of a signal that can be set, how it is set. */
export interface PointState {
  readonly name: string;
  readonly address: string;
  readonly raw: string;
  readonly value: string;
  readonly signal?: Signal & { readonly number: number };
}

/** How full a device's own memory is, and how far back it reaches. */
export interface RingState {
  readonly holds: number;
  readonly capacity: number;
  readonly since: string | null;
}

/** A device as the Bench screen shows it: its line, and what its points hold at this moment. */
export interface DeviceState extends LineState {
  readonly name: string;
  readonly place: string;
  readonly protocol: string;
  readonly requests: number;
  /** What it remembers by itself; null where it remembers nothing. */
  readonly memory: RingState | null;
  /** Seconds by which its clock is ahead; null where it has none that anybody sees. */
  readonly clockError: number | null;
  readonly points: readonly PointState[];
}

export interface Device {
  /** The way to it from the world: faults are the line's, not the device's. */
  readonly line: Line;
  readonly state: DeviceState;
  /** Of a generator: sets a signal, counted from 1. @returns whether there is such a one. */
  setSignal?(number: number, signal: Signal): boolean;
  /** Of a device with a clock: sets it wrong by so many seconds, from this moment on. */
  setClock?(seconds: number): void;
  /** Of a device that remembers: loses its memory, as after a restart. */
  forget?(): void;
  start(): Promise<void>;
  stop(): Promise<void>;
}
