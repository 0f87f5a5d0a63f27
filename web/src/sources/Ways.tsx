/** Changing over by hand between the ways to a source. */
import type { SourceState, WayAnswer } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';

interface Props {
  readonly id: number;
  readonly state: SourceState;
}

/** Nothing where there is one way. */
export function Ways({ id, state: { way } }: Props) {
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: (to: number) => post<WayAnswer>(`/sources/${id}/way`, { way: to }),
    onSuccess: () => askAnew(client, ['sources']),
  });
  if (way === null) return null;
  const other = way === 1 ? 2 : 1;
  return (
    <div className="mt-2 mb-2">
      <Button disabled={change.isPending} onClick={() => change.mutate(other)}>
        {change.isPending ? 'Trying it …' : `Read by the ${other === 1 ? 'first' : 'second'} way`}
      </Button>
      {change.data && <p className="mt-1 text-ink-2">{change.data.sentence}</p>}
      {change.error && <Failure error={change.error} />}
    </div>
  );
}
