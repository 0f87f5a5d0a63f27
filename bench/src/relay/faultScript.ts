/** Faults of a line one after the other, each at its time. */
import type { Fault, ScriptedFault } from './fault.ts';

export class FaultScript {
  private timers: NodeJS.Timeout[] = [];

  constructor(private readonly set: (fault: Fault | null) => void) {}

  /** Plays a script; one that is playing ends. */
  play(script: readonly ScriptedFault[]): void {
    this.end();
    this.timers = script.map(({ after, fault }) => setTimeout(() => this.set(fault), after));
  }

  end(): void {
    for (const timer of this.timers) clearTimeout(timer);
    this.timers = [];
  }
}
