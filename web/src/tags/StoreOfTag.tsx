/** Which store keeps a tag, and moving it with its history to another one. */
import type { Tag } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Failure } from '../controls/States.tsx';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';
import { useStores } from '../server/queries.ts';

export function StoreOfTag({ tag }: { readonly tag: Tag }) {
  const { data: stores } = useStores();
  const client = useQueryClient();
  const move = useMutation({
    mutationFn: (store: string) => post('/stores/moves', { tags: [tag.name], store }),
    onSuccess: () => askAnew(client, ['tags']),
  });
  if (!stores || stores.length < 2) return tag.store;
  return (
    <>
      <select
        aria-label={`Store of ${tag.name}`}
        value={move.isSuccess ? move.variables : tag.store}
        disabled={move.isPending}
        onChange={(event) => move.mutate(event.target.value)}
        className="h-[26px] rounded-paper border border-rule bg-paper px-1"
      >
        {stores.map(({ id, name }) => (
          <option key={id}>{name}</option>
        ))}
      </select>
      {move.isSuccess && <p className="text-ink-2">On its way with its history; the Desk shows how far.</p>}
      {move.error && <Failure error={move.error} />}
    </>
  );
}
