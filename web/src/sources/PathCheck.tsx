/** The path check: rung by rung to the source, stopping where it breaks, with what to do about it. */
import { KINDS, type NewSource, type PathCheck as Check, type Rung, type RungName } from '@wide-ledger/contract';
import { useMutation } from '@tanstack/react-query';
import { Button } from '../controls/Button.tsx';
import { Rungs } from '../controls/Rungs.tsx';
import { Failure } from '../controls/States.tsx';
import { postLines } from '../server/calls.ts';
import { useState } from 'react';

const NAMES: Record<RungName, string> = {
  name: 'Name',
  port: 'Port',
  folder: 'Folder',
  answer: 'Protocol answer',
  channel: 'Secure channel',
  'sign-in': 'Sign-in',
  browse: 'Browsing',
  value: 'First value',
  clock: 'Clock',
};
/** With the code of the rung that met a certificate which is not trusted: its fingerprint. */
const NOT_TRUSTED = /^NOT_TRUSTED ([0-9A-F]{40})$/;

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
        <Rungs
          rungs={rungs}
          nameOf={({ rung }) => NAMES[rung]}
          below={({ code }) =>
            onTrust &&
            NOT_TRUSTED.test(code ?? '') && (
              <Button className="mt-1" onClick={() => onTrust(NOT_TRUSTED.exec(code!)![1]!)}>
                Trust this certificate
              </Button>
            )
          }
        />
      )}
      {rungs.length === 0 && !check.error && (
        <p className="text-ink-2">The collector walks from where it stands: {words}.</p>
      )}
    </section>
  );
}
