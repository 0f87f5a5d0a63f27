/** The way to a far end, rung by rung: of a link, or to where one might lead. */
import type { LinkCheck, LinkRungName, OtherEnd } from '@wide-ledger/contract';
import { useMutation } from '@tanstack/react-query';
import { Button } from '../controls/Button.tsx';
import { Rungs } from '../controls/Rungs.tsx';
import { Failure } from '../controls/States.tsx';
import { post } from '../server/calls.ts';

const NAMES: Record<LinkRungName, string> = {
  name: 'Name',
  port: 'Port',
  encryption: 'Encryption',
  answer: 'Answer',
  'sign-in': 'Sign-in',
  permission: 'Permission',
  clock: 'Clock',
  space: 'Room and how long it is kept',
  version: 'Version',
};

interface Props {
  /** Null while there is nothing to walk to. */
  readonly to: { readonly link: number } | { readonly url: string } | { readonly to: OtherEnd } | null;
}

export function LinkPath({ to }: Props) {
  const check = useMutation({ mutationFn: () => post<LinkCheck>('/links/check', to) });
  return (
    <section aria-label="Path check" className="mt-4">
      <div className="mb-1.5 flex items-center gap-3">
        <h3 className="flex-1 font-semibold">Path check</h3>
        <Button disabled={to === null || check.isPending} onClick={() => check.mutate()}>
          {check.isPending ? 'Walking …' : 'Walk the path'}
        </Button>
      </div>
      {check.error && <Failure error={check.error} />}
      {check.data && <Rungs rungs={check.data.rungs} nameOf={({ rung }) => NAMES[rung]} />}
      {!check.data && !check.error && (
        <p className="text-ink-2">This server walks from where it stands to the far end, step by step.</p>
      )}
    </section>
  );
}
