/** The path check: rung by rung to the source, stopping where it breaks, with what to do about it. */
import { KINDS, type NewSource, type PathCheck as Check, type Rung, type RungName } from '@wide-ledger/contract';
import { useMutation } from '@tanstack/react-query';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { postLines } from '../server/calls.ts';
import { useState } from 'react';

const NAMES: Record<RungName, string> = {
  name: 'Name',
  port: 'Port',
  answer: 'Protocol answer',
  channel: 'Secure channel',
  'sign-in': 'Sign-in',
  browse: 'Browsing',
  value: 'First value',
  clock: 'Clock',
};
/** With the code of the rung that met a certificate which is not trusted: its fingerprint. */
const NOT_TRUSTED = /^NOT_TRUSTED ([0-9A-F]{40})$/;
const MARKS = { passed: '✓', failed: '✕', 'not reached': '·' } as const;
const COLOURS = { passed: 'text-verdigris', failed: 'text-madder', 'not reached': 'text-ink-2' } as const;

interface Props {
  readonly source: NewSource;
  /** Trusts a server's certificate by its fingerprint, in the draft. */
  readonly onTrust?: (fingerprint: string) => void;
  /** Who walks, where it is not the one that mostly reads it. */
  readonly walker?: string;
}

type Line = { readonly rung: Rung } | { readonly check: Check };

export function PathCheck({ source: { name, kind, connection, collector }, onTrust, walker }: Props) {
  const [rungs, setRungs] = useState<readonly Rung[]>([]);
  const check = useMutation({
    mutationFn: () => {
      setRungs([]);
      return postLines<Line>('/sources/check', { name, kind, connection, collector }, (line) => {
        if ('rung' in line) setRungs((before) => [...before, line.rung]);
        else setRungs(line.check.rungs);
      });
    },
  });
  const words = KINDS[kind].rungs.map((rung) => NAMES[rung].toLowerCase()).join(', ');
  return (
    <section aria-label={walker ? `Path check of ${walker}` : 'Path check'} className="mt-4">
      <div className="mb-1.5 flex items-center gap-3">
        <h3 className="flex-1 font-semibold">{walker ? `Path of ${walker}` : 'Path check'}</h3>
        <Button disabled={check.isPending} onClick={() => check.mutate()}>
          {check.isPending ? 'Walking …' : 'Walk the path'}
        </Button>
      </div>
      {check.error && <Failure error={check.error} />}
      {rungs.length > 0 && (
        <ol aria-live="polite" data-testid="rungs">
          {rungs.map(({ rung, outcome, sentence, code, milliseconds }) => (
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
                  {code && <span className="figure break-all">{code.split(' ')[0]}</span>}
                </p>
                {onTrust && NOT_TRUSTED.test(code ?? '') && (
                  <Button className="mt-1" onClick={() => onTrust(NOT_TRUSTED.exec(code!)![1]!)}>
                    Trust this certificate
                  </Button>
                )}
              </div>
            </li>
          ))}
        </ol>
      )}
      {rungs.length === 0 && !check.error && (
        <p className="text-ink-2">The collector walks from where it stands: {words}.</p>
      )}
    </section>
  );
}
