/** The rungs of a path check as they were found, from the first on. */
import type { ReactNode } from 'react';

export interface ShownRung {
  readonly rung: string;
  readonly outcome: 'passed' | 'passed, but' | 'failed' | 'not reached';
  readonly sentence: string;
  readonly code: string | null;
  readonly milliseconds: number | null;
}

const MARKS = { passed: '✓', 'passed, but': '!', failed: '✕', 'not reached': '·' } as const;
const COLOURS = {
  passed: 'text-verdigris',
  'passed, but': 'text-ochre',
  failed: 'text-madder',
  'not reached': 'text-ink-2',
} as const;

interface Props<Rung extends ShownRung> {
  readonly rungs: readonly Rung[];
  /** What a rung is called. */
  readonly nameOf: (rung: Rung) => string;
  /** What can be done about it. */
  readonly below?: (rung: Rung) => ReactNode;
}

export function Rungs<Rung extends ShownRung>({ rungs, nameOf, below }: Props<Rung>) {
  return (
    <ol aria-live="polite" data-testid="rungs">
      {rungs.map((one) => (
        <li key={one.rung} className="flex gap-2 border-t border-rule py-1.5">
          <span className={`w-4 text-center font-semibold ${COLOURS[one.outcome]}`} aria-label={one.outcome}>
            {MARKS[one.outcome]}
          </span>
          <div className="min-w-0 flex-1">
            <p className="flex justify-between">
              <span className="font-semibold">{nameOf(one)}</span>
              <span className="figure text-ink-2">{one.milliseconds === null ? '' : `${one.milliseconds} ms`}</span>
            </p>
            <p className="text-ink-2">
              {one.outcome === 'not reached' ? 'not reached' : one.sentence}{' '}
              {one.code && <span className="figure break-all">{one.code.split(' ')[0]}</span>}
            </p>
            {below?.(one)}
          </div>
        </li>
      ))}
    </ol>
  );
}
