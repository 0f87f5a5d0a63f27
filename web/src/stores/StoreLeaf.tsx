/** One store, and its retention with a look at what would go. */
import type { Store } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { AlertDialog } from 'radix-ui';
import { useState } from 'react';
import { EditPanel } from '../configuration/EditPanel.tsx';
import { Button } from '../controls/Button.tsx';
import { Facts } from '../controls/Page.tsx';
import { Failure } from '../controls/States.tsx';
import { showBytes, showNumber } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { put } from '../server/calls.ts';
import { useRetentionPreview } from '../server/queries.ts';
import { retentionWords } from './retentionWords.ts';

export function StoreLeaf({ store, onClose }: { readonly store: Store; readonly onClose: () => void }) {
  const client = useQueryClient();
  const [words, setWords] = useState(store.retentionMonths === null ? '' : String(store.retentionMonths));
  const months = /^\d{1,4}$/.test(words) && Number(words) > 0 ? Number(words) : null;
  const { data: preview, error } = useRetentionPreview(store.id, months);
  const keep = useMutation({
    mutationFn: () => put<Store>(`/stores/${store.id}/retention`, { months }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['stores'] });
      await client.invalidateQueries({ queryKey: ['retention'] });
    },
  });
  const going = months === null ? [] : (preview?.months ?? []);
  const samples = going.reduce((sum, month) => sum + month.samples, 0);
  const bytes = going.reduce((sum, month) => sum + month.bytes, 0);
  const notes = going.reduce((sum, month) => sum + month.modified + month.annotations, 0);
  const apply = (onClick?: () => void) => (
    <Button
      main
      disabled={keep.isPending || (words !== '' && months === null) || (months !== null && !preview)}
      onClick={onClick}
    >
      {months === null ? 'Keep everything' : `Keep ${months} months`}
    </Button>
  );
  return (
    <Leaf title={store.name} below={store.address ?? 'In the site’s own database'} onClose={onClose}>
      {store.failure && <p className="mb-2 border-l-2 border-madder py-1 pl-3">{store.failure}</p>}
      <Facts
        rows={[
          ['Tags', showNumber(store.tags)],
          ['Values', showNumber(store.samples)],
          ['Size', showBytes(store.bytes)],
          ['Retention', retentionWords(store.retentionMonths)],
          ['Keeps since', store.keepsSince?.slice(0, 10) ?? 'ever'],
        ]}
      />
      <label className="mt-4 block">
        Keep so many whole months <span className="text-ink-2">empty: everything</span>
        <input
          inputMode="numeric"
          className="figure mt-1 block h-8 w-24 rounded-paper border border-edge bg-paper px-2"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
      </label>
      {error && <Failure error={error} />}
      {months !== null && preview && (
        <div className="mt-2" data-testid="preview">
          {going.length === 0 ? (
            <p className="text-ink-2">Nothing would go now: no month lies before {preview.keepsSince.slice(0, 10)}.</p>
          ) : (
            <>
              <p>
                <b className="font-semibold text-madder">
                  {going.length === 1 ? '1 month' : `${going.length} months`} would go:
                </b>{' '}
                {showNumber(samples)} values, {showNumber(notes)} old values and annotations, {showBytes(bytes)}.
              </p>
              <table className="mt-1 w-full">
                <tbody>
                  {going.map((month) => (
                    <tr key={month.month} className="border-b border-rule text-right">
                      <td className="figure text-left">{month.month}</td>
                      <td className="figure">{showNumber(month.samples)}</td>
                      <td className="figure">{showBytes(month.bytes)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </>
          )}
        </div>
      )}
      {keep.error && <Failure error={keep.error} />}
      <div className="mt-3 mb-4">
        {going.length === 0 ? (
          apply(() => keep.mutate())
        ) : (
          <AlertDialog.Root>
            <AlertDialog.Trigger asChild>{apply()}</AlertDialog.Trigger>
            <AlertDialog.Portal>
              <AlertDialog.Overlay className="fixed inset-0 z-20 bg-ink/30" />
              <AlertDialog.Content className="fixed top-1/3 left-1/2 z-30 w-[420px] -translate-x-1/2 rounded-paper border border-edge bg-raised p-5">
                <AlertDialog.Title className="font-title text-[18px] font-semibold">
                  Drop {going.length === 1 ? '1 month' : `${going.length} months`} of {store.name}?
                </AlertDialog.Title>
                <AlertDialog.Description className="my-3">
                  {showNumber(samples)} values before {preview?.keepsSince.slice(0, 10)} go, with their old values and
                  annotations. This cannot be undone.
                </AlertDialog.Description>
                <div className="flex justify-end gap-2">
                  <AlertDialog.Cancel asChild>
                    <Button>Leave them</Button>
                  </AlertDialog.Cancel>
                  <AlertDialog.Action asChild>
                    <Button main onClick={() => keep.mutate()}>
                      Drop them
                    </Button>
                  </AlertDialog.Action>
                </div>
              </AlertDialog.Content>
            </AlertDialog.Portal>
          </AlertDialog.Root>
        )}
      </div>
      <EditPanel kind="store" ids={[store.id]} without={['retentionMonths']} />
    </Leaf>
  );
}
