/** What a server offers: security, ways to sign in and its certificate are picked from it instead of typed. */
import type { NewSource, OffersAnswer } from '@wide-ledger/contract';
import { useMutation } from '@tanstack/react-query';
import { useEdit } from '../configuration/drafting.ts';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { post } from '../server/calls.ts';

type Source = Extract<NewSource, { kind: 'opc-ua' }>;

export function Offers({ id, source }: { readonly id: number; readonly source: Source }) {
  const edit = useEdit();
  const ask = useMutation({ mutationFn: () => post<OffersAnswer>('/sources/offers', { source }) });
  const { connection } = source;
  const use = (part: Partial<Source['connection']>): void =>
    edit.mutate([{ kind: 'source', id, set: { connection: { ...connection, ...part } } }]);
  const others = (ask.data?.servers ?? []).flatMap(({ name, endpoints }) =>
    endpoints.filter((endpoint) => endpoint !== connection.endpoint).map((endpoint) => ({ name, endpoint })),
  );
  return (
    <section aria-label="What it offers" className="mt-4">
      <div className="mb-1.5 flex items-center gap-3">
        <h3 className="flex-1 font-semibold">What it offers</h3>
        <Button disabled={ask.isPending} onClick={() => ask.mutate()}>
          {ask.isPending ? 'Asking …' : 'Ask the server'}
        </Button>
      </div>
      {ask.error && <Failure error={ask.error} />}
      {edit.error && <Failure error={edit.error} />}
      {ask.data && (
        <ul data-testid="offers">
          {ask.data.endpoints.map(({ policy, mode, signIns }) => {
            const isUsed = connection.policy === policy && connection.mode === mode;
            return (
              <li key={`${policy} ${mode}`} className="flex items-center gap-2 border-t border-rule py-1">
                <span className="min-w-0 flex-1">
                  <span className="block truncate">{policy === 'None' ? 'without security' : policy}</span>
                  <span className="text-ink-2">
                    {mode !== 'None' && `${mode} · `}
                    {signIns.join(', ')}
                  </span>
                </span>
                {isUsed ? (
                  <span className="text-verdigris">in use</span>
                ) : (
                  <Button aria-label={`Use ${policy} ${mode}`} onClick={() => use({ policy, mode })}>
                    Use
                  </Button>
                )}
              </li>
            );
          })}
          {others.map(({ name, endpoint }) => (
            <li key={endpoint} className="flex items-center gap-2 border-t border-rule py-1">
              <span className="min-w-0 flex-1">
                <span className="block truncate">{name}</span>
                <span className="figure block truncate text-ink-2">{endpoint}</span>
              </span>
              <Button aria-label={`Use ${endpoint}`} onClick={() => use({ endpoint })}>
                Use
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
