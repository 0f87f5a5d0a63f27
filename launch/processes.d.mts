import type { ChildProcess } from 'node:child_process';
export interface Program {
  readonly child: ChildProcess;
  readonly ended: Promise<number | null>;
  stop(): Promise<void>;
}
export function startProgram(bundle: string, environment: Record<string, string>): Program;
