/** The path check: rung by rung to the source, stopping where it breaks, with what to do about it. */
import type { NewSource, PathCheck as Check, RungName } from '@wide-ledger/contract';
import { useMutation } from '@tanstack/react-query';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { post } from '../server/calls.ts';

const NAMES: Record<RungName, string> = { name: 'Name', port: 'Port', answer: 'Protocol answer', value: 'First value' };
const MARKS = { passed: '✓', failed: '✕', 'not reached': '·' } as const;
const COLOURS = { passed: 'text-verdigris', failed: 'text-madder', 'not reached': 'text-ink-2' } as const;

interface Props {
  readonly source: NewSource;
}

export function PathCheck({ source: { name, kind, connection } }: Props) {
  const check = useMutation({ mutationFn: () => post<Check>('/sources/check', { name, kind, connection }) });
  return (
    <section aria-label="Path check" className="mt-4">
      <div className="mb-1.5 flex items-center gap-3">
        <h3 className="flex-1 font-semibold">Path check</h3>
        <Button disabled={check.isPending} onClick={() => check.mutate()}>
          {check.isPending ? 'Walking …' : 'Walk the path'}
        </Button>
      </div>
      {check.error && <Failure error={check.error} />}
      {check.data && (
        <ol aria-live="polite" data-testid="rungs">
          {check.data.rungs.map(({ rung, outcome, sentence, code, milliseconds }) => (
            <li key={rung} className="flex gap-2 border-t border-rule py-1.5">
              <span className={`w-4 text-center font-semibold ${COLOURS[outcome]}`} aria-label={outcome}>
                {MARKS[outcome]}
              </span>
              <div className="min-w-0 flex-1">
                <p className="flex justify-between">
                  <span className="font-semibold">{NAMES[rung]}</span>
                  <span className="figure text-ink-2">{milliseconds === null ? '' : `${milliseconds} ms`}</span>
                </p>
                <p className="text-ink-2">
                  {outcome === 'not reached' ? 'not reached' : sentence}{' '}
                  {code && <span className="figure">{code}</span>}
                </p>
              </div>
            </li>
          ))}
        </ol>
      )}
      {!check.data && !check.error && (
        <p className="text-ink-2">The collector walks from where it stands: name, port, protocol, first value.</p>
      )}
    </section>
  );
}
