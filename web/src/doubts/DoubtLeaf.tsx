import type { Doubt, TagList } from '@wide-ledger/contract';
import { useQuery } from '@tanstack/react-query';
import { Button } from '../controls/Button.tsx';
import { Facts } from '../controls/Page.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { useGo } from '../frame/useGo.ts';
import { get } from '../server/calls.ts';
import { bothZones, lengthWords } from '../window/times.ts';
import { hold, useWindowState } from '../window/windowStore.ts';
import { KIND_WORDS } from './kinds.ts';
import { TakeProposals } from './TakeProposals.tsx';

/** So many neighbours are drawn with a tag that stands still. */
const NEIGHBOURS = 3;
/** A moment without a length is shown with so much around it. Milliseconds. */
const SHORTEST = 60_000;

/** One doubt, what it may come of, and the ways from it. */
export function DoubtLeaf({ doubt, onClose }: { readonly doubt: Doubt; readonly onClose: () => void }) {
  const { kind, tag, source, place, from: begin, to: end, sentence } = doubt;
  const siteZone = useWindowState((state) => state.siteZone);
  const go = useGo();
  const from = Date.parse(begin);
  const to = Date.parse(end);
  const told = kind === 'stuck' || kind === 'standing';
  const { data: neighbours = [] } = useQuery({
    queryKey: ['neighbours', place],
    queryFn: ({ signal }) => get<TagList>('/tags', { place, limit: 20 }, signal),
    enabled: told && place !== '',
    select: ({ tags }) => tags.filter((one) => one.place === place && one.name !== tag).slice(0, NEIGHBOURS),
  });
  const draw = (): void => {
    const around = Math.max(SHORTEST, (to - from) / 2);
    hold(from - around, to + around);
    go('/traces', { tags: [tag!, ...(told ? neighbours.map(({ name }) => name) : [])].join(',') });
  };
  return (
    <Leaf
      title={tag ?? source ?? ''}
      below={[KIND_WORDS[kind].name, place || source].filter(Boolean).join(' · ')}
      onClose={onClose}
    >
      <p className="mb-3">{sentence}</p>
      <Facts
        rows={[
          ['From', bothZones(from, siteZone)],
          ['To', bothZones(to, siteZone)],
          ...(to > from ? ([['Length', lengthWords(to - from)]] as const) : []),
          ...(source ? ([['Source', source]] as const) : []),
        ]}
      />
      <p className="mt-3 text-ink-2">{KIND_WORDS[kind].says}</p>
      <div className="mt-3 flex flex-wrap gap-2">
        {tag && (
          <Button main onClick={draw}>
            {told && neighbours.length > 0 ? 'Trace it beside its neighbours' : 'Trace it'}
          </Button>
        )}
        <TakeProposals doubts={[doubt]} />
        {tag && <Button onClick={() => go('/tags', { row: tag })}>Its settings</Button>}
        {!tag && source && <Button onClick={() => go('/sources')}>Sources</Button>}
      </div>
    </Leaf>
  );
}
