/** What the switchboard and the plant know of any device, whatever it speaks. */
import type { LineState, Relay } from '../relay/relay.ts';

/** A device as the Bench screen shows it: its line, and what its points hold at this moment. */
export interface DeviceState extends LineState {
  readonly name: string;
  readonly place: string;
  readonly protocol: string;
  readonly requests: number;
  readonly points: readonly { name: string; address: string; raw: string; value: string }[];
}

export interface Device {
  /** The way to it from the world: faults are the line's, not the device's. */
  readonly line: Relay;
  readonly state: DeviceState;
  start(): Promise<void>;
  stop(): Promise<void>;
}
