/** What can be wrong with the way to a device, and what can be done to it, whatever kind of way it is. */

/** What is wrong with a line. */
export type Fault =
  /** Every connection drops, and new ones are refused: a pulled plug. */
  | { readonly kind: 'cut' }
  /** Connections stand and new ones are accepted, but nothing gets through: a firewall that swallows. */
  | { readonly kind: 'stalled' }
  /** Every byte comes so much later. */
  | { readonly kind: 'slow'; readonly milliseconds: number }
  /** So many bytes a second, each way. */
  | { readonly kind: 'narrow'; readonly bytesPerSecond: number }
  /** What the world says gets through, and no answer comes back. */
  | { readonly kind: 'deaf' }
  /** Everything that the device says comes twice. */
  | { readonly kind: 'doubled' }
  /** Of so many in a hundred parts the first sending is lost: they come when they are sent again. */
  | { readonly kind: 'lossy'; readonly percent: number }
  /** Whole and cut in turn. */
  | { readonly kind: 'flapping'; readonly wholeMilliseconds: number; readonly cutMilliseconds: number };

/** A fault at a time: null ends what is wrong. */
export interface ScriptedFault {
  /** Milliseconds after the script was begun. */
  readonly after: number;
  readonly fault: Fault | null;
}

export interface LineState {
  readonly host: string;
  readonly port: number;
  /** Null while the line is as it should be. */
  readonly fault: Fault | null;
  readonly connections: number;
  readonly changedAt: string;
}

/** The way to a device. */
export interface Line {
  readonly state: LineState;
  /** Makes something wrong with it, or everything right again. */
  set(fault: Fault | null): Promise<void>;
  /** Plays faults one after the other, each at its time; a script that is playing ends. */
  play(script: readonly ScriptedFault[]): void;
}
