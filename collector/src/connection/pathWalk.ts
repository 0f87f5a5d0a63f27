/** Walking a path rung by rung, until the first that fails. */
import type { PathCheck, Rung, RungName } from '@wide-ledger/contract';
import { SourceAway } from '../kinds/kind.ts';

export type Outcome = { readonly passed: boolean; readonly sentence: string; readonly code?: string };

/** What is done on each rung of a kind, in the order of the path. */
export type Steps = readonly (readonly [rung: RungName, step: () => Promise<Outcome>])[];

/** Walks until the first rung that fails; those above it are "not reached". */
export async function walk(steps: Steps, told: (rung: Rung) => void): Promise<PathCheck> {
  const rungs: Rung[] = [];
  let broken = false;
  for (const [rung, step] of steps) {
    const done: Rung = broken
      ? { rung, outcome: 'not reached', sentence: '', code: null, milliseconds: null }
      : await climb(rung, step);
    broken ||= done.outcome === 'failed';
    rungs.push(done);
    told(done);
  }
  return { rungs, passed: !broken };
}

async function climb(rung: RungName, step: () => Promise<Outcome>): Promise<Rung> {
  const started = performance.now();
  const { passed, sentence, code } = await step().catch((error: unknown): Outcome => {
    if (error instanceof SourceAway) return { passed: false, sentence: error.message, code: error.code };
    return { passed: false, sentence: `This rung failed: ${(error as Error).message}`, code: 'UNEXPECTED' };
  });
  return {
    rung,
    outcome: passed ? 'passed' : 'failed',
    sentence,
    code: code ?? null,
    milliseconds: Math.round((performance.now() - started) * 10) / 10,
  };
}
