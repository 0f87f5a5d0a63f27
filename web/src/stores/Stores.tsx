/** Stores: where history is kept, how much, since when, and for how long. */
import type { Store } from '@wide-ledger/contract';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';
import { Failure, Skeleton } from '../controls/States.tsx';
import { showBytes, showNumber } from '../controls/values.ts';
import { useSelection } from '../frame/useSelection.ts';
import { useStores } from '../server/queries.ts';
import { clock } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';
import { NewStoreLeaf } from './NewStoreLeaf.tsx';
import { StoreLeaf } from './StoreLeaf.tsx';
import { retentionWords } from './retentionWords.ts';

const NEW = 'new';

export function Stores() {
  const { data: stores, error } = useStores();
  const { selected, select } = useSelection(stores?.map(({ id }) => String(id)) ?? []);
  const chosen = stores?.find(({ id }) => String(id) === selected);
  return (
    <>
      <Page
        title="Stores"
        says={stores && `${stores.length === 1 ? 'one store' : `${stores.length} stores`}`}
        tools={
          <Button main onClick={() => select(NEW)}>
            Add a store
          </Button>
        }
      >
        {error && <Failure error={error} />}
        {!stores && !error && <Skeleton rows={3} />}
        {stores && <StoreTable stores={stores} selected={selected} onSelect={select} />}
      </Page>
      {selected === NEW && <NewStoreLeaf onClose={() => select(null)} onMade={(store) => select(String(store.id))} />}
      {chosen && <StoreLeaf key={chosen.id} store={chosen} onClose={() => select(null)} />}
    </>
  );
}

interface TableProps {
  readonly stores: readonly Store[];
  readonly selected: string | null;
  readonly onSelect: (id: string) => void;
}

function StoreTable({ stores, selected, onSelect }: TableProps) {
  const zone = useZone();
  const day = (time: string | null): string => (time === null ? '—' : clock(Date.parse(time), zone, 'LLL yyyy'));
  return (
    <div role="listbox" aria-label="Stores">
      <div
        className="flex h-8 items-center gap-4 border-b border-ink/70 pr-3 text-right text-ink-2"
        role="presentation"
      >
        <span className="min-w-0 flex-1 pl-1.5 text-left">Store</span>
        <span className="w-14">Tags</span>
        <span className="w-28">Values</span>
        <span className="w-20">Size</span>
        <span className="w-16">a value</span>
        <span className="w-48">Holds</span>
        <span className="w-36 text-left">Retention</span>
      </div>
      {stores.map((store) => (
        <div
          key={store.id}
          role="option"
          tabIndex={0}
          aria-selected={String(store.id) === selected}
          data-store={store.name}
          onClick={() => onSelect(String(store.id))}
          onKeyDown={(event) => event.key === 'Enter' && onSelect(String(store.id))}
          className={`flex min-h-8 cursor-pointer items-center gap-4 border-b border-l-[3px] border-b-rule pr-3 text-right ${String(store.id) === selected ? 'border-l-verdigris bg-raised' : 'border-l-transparent hover:bg-raised'}`}
        >
          <span className="min-w-0 flex-1 truncate pl-[3px] text-left">
            {store.name}{' '}
            <span className={store.failure ? 'text-madder' : 'figure text-ink-2'}>
              {store.failure ?? store.address ?? 'in the site’s own database'}
            </span>
          </span>
          <span className="figure w-14">{showNumber(store.tags)}</span>
          <span className="figure w-28">{showNumber(store.samples)}</span>
          <span className="figure w-20">{showBytes(store.bytes)}</span>
          <span className="figure w-16">
            {store.samples > 0 ? `${(store.bytes / store.samples).toFixed(2)} B` : '—'}
          </span>
          <span className="figure w-48">
            {day(store.first)} – {day(store.last)}
          </span>
          <span className="w-36 text-left">{retentionWords(store.retentionMonths)}</span>
        </div>
      ))}
    </div>
  );
}
