/** Versions of the configuration: who, when, why; any two compared; an earlier one taken back. */
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { ListRow } from '../controls/ListRow.tsx';
import { Page } from '../controls/Page.tsx';
import { Failure, Skeleton } from '../controls/States.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { useGo } from '../frame/useGo.ts';
import { useSelection } from '../frame/useSelection.ts';
import { stampAt } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';
import { Items } from './Items.tsx';
import { useComparison, useTakeBack, useVersions } from './drafting.ts';

export function Versions() {
  const { data, error, hasNextPage, fetchNextPage } = useVersions();
  const versions = data?.pages.flatMap((page) => page.versions) ?? [];
  const { selected, select } = useSelection(versions.map(({ number }) => String(number)));
  const zone = useZone();
  const chosen = versions.find(({ number }) => String(number) === selected);
  return (
    <>
      <Page title="Versions" says={versions[0] && `version ${versions[0].number} is in force`}>
        {error && <Failure error={error} />}
        <div className="flex h-8 items-center gap-3 border-b border-ink/70 text-ink-2">
          <span className="w-16 pl-1.5 text-right">Version</span>
          <span className="w-44">In force from</span>
          <span className="w-32">By</span>
          <span className="w-20 text-right">Changes</span>
          <span className="min-w-0 flex-1">Why</span>
        </div>
        {!data && !error && <Skeleton rows={8} />}
        <div role="listbox" aria-label="Versions" className="min-h-0 flex-1 overflow-y-auto">
          {versions.map(({ number, at, by, reason, changes }) => (
            <ListRow key={number} selected={selected === String(number)} onSelect={() => select(String(number))}>
              <span className="figure w-16 text-right">{number}</span>
              <span className="figure w-44">{stampAt(at, zone)}</span>
              <span className="w-32 truncate">{by}</span>
              <span className="figure w-20 text-right">{changes}</span>
              <span className="min-w-0 flex-1 truncate">
                {reason || <span className="text-ink-2">no reason given</span>}
              </span>
            </ListRow>
          ))}
          {hasNextPage && (
            <Button className="my-2" onClick={() => void fetchNextPage()}>
              Older versions
            </Button>
          )}
        </div>
      </Page>
      {chosen && (
        <VersionLeaf
          key={chosen.number}
          number={chosen.number}
          newest={versions[0]!.number}
          says={chosen.reason || 'no reason given'}
          onClose={() => select(null)}
        />
      )}
    </>
  );
}

interface LeafProps {
  readonly number: number;
  readonly newest: number;
  readonly says: string;
  readonly onClose: () => void;
}

function VersionLeaf({ number, newest, says, onClose }: LeafProps) {
  const [against, setAgainst] = useState('');
  const from = against === '' ? undefined : Number(against);
  const { data, error } = useComparison(from, number);
  const takeBack = useTakeBack();
  const go = useGo();
  return (
    <Leaf title={`Version ${number}`} below={says} onClose={onClose}>
      <label className="mb-2 flex items-center gap-2">
        <span className="text-ink-2">Compared with</span>
        <input
          className="figure h-7 w-20 rounded-paper border border-edge bg-paper px-1.5"
          inputMode="numeric"
          placeholder="before"
          value={against}
          onChange={(event) => setAgainst(event.target.value.replace(/\D/g, ''))}
        />
      </label>
      {error && <Failure error={error} />}
      {!data && !error && <Skeleton rows={4} />}
      {data?.total === 0 && <p className="text-ink-2">Nothing differs.</p>}
      {data && data.total > 0 && <Items narrow items={data.items} total={data.total} />}
      {takeBack.error && <Failure error={takeBack.error} />}
      {number < newest && (
        <Button
          className="mt-3 self-start"
          disabled={takeBack.isPending}
          onClick={() => takeBack.mutate(number, { onSuccess: () => go('/draft') })}
        >
          Take it back as a draft
        </Button>
      )}
    </Leaf>
  );
}
