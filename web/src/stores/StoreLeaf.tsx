/** One store, and its retention with a look at what would go. */
import type { Store } from '@wide-ledger/contract';
import { useState } from 'react';
import { useEdit } from '../configuration/drafting.ts';
import { EditPanel } from '../configuration/EditPanel.tsx';
import { Button } from '../controls/Button.tsx';
import { Facts } from '../controls/Page.tsx';
import { Failure } from '../controls/States.tsx';
import { showBytes, showNumber } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { useRetentionPreview } from '../server/queries.ts';
import { retentionWords } from './retentionWords.ts';

export function StoreLeaf({ store, onClose }: { readonly store: Store; readonly onClose: () => void }) {
  const [words, setWords] = useState(store.retentionMonths === null ? '' : String(store.retentionMonths));
  const months = /^\d{1,4}$/.test(words) && Number(words) > 0 ? Number(words) : null;
  const { data: preview, error } = useRetentionPreview(store.id, months);
  const edit = useEdit();
  const going = months === null ? [] : (preview?.months ?? []);
  const samples = going.reduce((sum, month) => sum + month.samples, 0);
  const bytes = going.reduce((sum, month) => sum + month.bytes, 0);
  const notes = going.reduce((sum, month) => sum + month.modified + month.annotations, 0);
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
      {edit.error && <Failure error={edit.error} />}
      <Button
        className="mt-3 mb-4"
        disabled={edit.isPending || (words !== '' && months === null) || months === store.retentionMonths}
        onClick={() => edit.mutate([{ kind: 'store', id: store.id, set: { retentionMonths: months } }])}
      >
        {months === null ? 'Keep everything' : `Keep ${months} months`}: into the draft
      </Button>
      <EditPanel kind="store" ids={[store.id]} without={['retentionMonths']} />
    </Leaf>
  );
}
