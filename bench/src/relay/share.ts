/** The way to a folder that is shared: whatever is wrong with it, nothing can be written there meanwhile. */
import type { Fault, Line, LineState, ScriptedFault } from './fault.ts';
import { FaultScript } from './faultScript.ts';

export class Share implements Line {
  private fault: Fault | null = null;
  private changedAt = new Date();
  private readonly script = new FaultScript((fault) => void this.set(fault));

  /** @param folder that is shown as where the line leads. */
  constructor(private readonly folder: string) {}

  get isWhole(): boolean {
    return this.fault === null;
  }

  get state(): LineState {
    const { folder: host, fault, changedAt } = this;
    return { host, port: 0, fault, connections: 0, changedAt: changedAt.toISOString() };
  }

  set(fault: Fault | null): Promise<void> {
    this.fault = fault;
    this.changedAt = new Date();
    return Promise.resolve();
  }

  play(script: readonly ScriptedFault[]): void {
    this.script.play(script);
  }

  stop(): void {
    this.script.end();
  }
}
