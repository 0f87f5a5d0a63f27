/** A place: how complete its record is, what is wrong there, and its tags as they are now. */
import type { CompletenessAnswer, Tag } from '@wide-ledger/contract';
import { useVirtualizer } from '@tanstack/react-virtual';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo, useRef } from 'react';
import { PlaceSelect, usePlaceFilter } from '../configuration/PlaceSelect.tsx';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { useMoreAt } from '../controls/useMoreAt.ts';
import { useGo } from '../frame/useGo.ts';
import { useSelection } from '../frame/useSelection.ts';
import { get } from '../server/calls.ts';
import { useFollow, useLive } from '../server/live.ts';
import { useCoverage, useGaps, useTags } from '../server/queries.ts';
import { StripLegend } from '../strip/Strip.tsx';
import { TagLeaf } from '../tags/TagLeaf.tsx';
import { useWindow } from '../window/windowStore.ts';
import { useDrafted } from '../configuration/drafting.ts';
import { PlaceRow } from './PlaceRow.tsx';
import { wrongAt, type Wrong } from './wrong.ts';

const ROW_HEIGHT = 32;
/** Tags beyond these are as they were when they were listed. */
const MOST_FOLLOWED = 400;
/** Of what is wrong so much is listed. */
const MOST_WRONG = 40;

/** How much of what was due is there, in the window; null while nothing was. */
function useComplete(place: string): number | null | undefined {
  const { from, to } = useWindow();
  const { data } = useQuery({
    queryKey: ['completeness', 'of a place', place, from, to],
    queryFn: ({ signal }) =>
      get<CompletenessAnswer>(
        '/completeness',
        {
          from: new Date(from).toISOString(),
          to: new Date(to).toISOString(),
          by: 'month',
          place: place || undefined,
        },
        signal,
      ),
    placeholderData: keepPreviousData,
  });
  return data?.rows[0]?.percent ?? (data ? null : undefined);
}

export function PlacePage() {
  const filter = usePlaceFilter();
  const { place } = filter;
  const go = useGo();
  const window = useWindow();
  const pages = useTags('', place || undefined);
  const { data, error } = pages;
  const tags = useMemo(() => data?.pages.flatMap((page) => page.tags) ?? [], [data]);
  const drafted = useDrafted('tag');
  const { selected, select } = useSelection(tags.map(({ name }) => name));
  const complete = useComplete(place);
  const { data: gaps } = useGaps(place);
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: tags.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });
  const shown = virtual.getVirtualItems();
  useMoreAt(shown.at(-1)?.index ?? 0, tags.length, pages);
  const { data: coverage } = useCoverage(shown.map(({ index }) => tags[index]!.id));
  useFollow(tags.slice(0, MOST_FOLLOWED).map(({ id }) => id));
  const live = useLive(({ samples }) => samples);
  const nowOf = ({ id, latest }: Tag) => live.get(id) ?? latest;
  const wrong = wrongAt(tags, nowOf, gaps?.gaps ?? [], window.to);
  const total = data?.pages[0]?.total ?? 0;
  const chosen = tags.find(({ name }) => name === selected);
  return (
    <>
      <Page
        title={place === '' ? 'All places' : place.split(' / ').at(-1)!}
        says={data && sayingOf(total, complete)}
        tools={
          <>
            <PlaceSelect {...filter} />
            <Button onClick={() => go('/tags', place ? { place } : {})}>Tags</Button>
            <Button onClick={() => go('/completeness', place ? { place } : {})}>Completeness</Button>
          </>
        }
      >
        {error && <Failure error={error} />}
        {!data && !error && <Skeleton rows={12} />}
        {data && tags.length === 0 && <Empty>No tag lies here. Choose another place, or give tags this one.</Empty>}
        {data && tags.length > 0 && <WhatIsWrong wrong={wrong} isAll={tags.length === total} onSelect={select} />}
        <div
          ref={box}
          className="min-h-0 flex-1 overflow-y-auto"
          role="listbox"
          aria-label="Tags of the place"
          tabIndex={-1}
        >
          <div className="relative" style={{ height: virtual.getTotalSize() }}>
            {shown.map(({ index, start, size }) => {
              const tag = tags[index]!;
              return (
                <div
                  key={tag.id}
                  role="presentation"
                  className="absolute inset-x-0"
                  style={{ transform: `translateY(${start}px)`, height: size }}
                >
                  <PlaceRow
                    tag={tag}
                    coverage={coverage}
                    selected={tag.name === selected}
                    onSelect={() => select(tag.name)}
                  />
                </div>
              );
            })}
          </div>
        </div>
        <StripLegend />
      </Page>
      {chosen && (
        <TagLeaf
          key={chosen.id}
          tag={chosen}
          drafted={drafted.get(chosen.id)}
          onCreated={() => undefined}
          onClose={() => select(null)}
        />
      )}
    </>
  );
}

function sayingOf(tags: number, complete: number | null | undefined): string {
  const count = `${showNumber(tags)} ${tags === 1 ? 'tag' : 'tags'}`;
  if (complete === undefined) return count;
  return `${count}, ${complete === null ? 'nothing was to be collected' : `${complete.toFixed(2)} % complete`} in this window`;
}

interface WrongProps {
  readonly wrong: readonly Wrong[];
  /** Whether all tags of the place were looked at. */
  readonly isAll: boolean;
  readonly onSelect: (tag: string) => void;
}

function WhatIsWrong({ wrong, isAll, onSelect }: WrongProps) {
  const looked = isAll ? '' : ' among the tags that are loaded';
  return (
    <section aria-label="What is wrong here" className="mb-2 shrink-0 border-y border-rule py-1.5">
      {wrong.length === 0 ? (
        <p className="text-ink-2">Nothing is wrong here at present{looked}.</p>
      ) : (
        <>
          <h2 className="font-semibold">
            {showNumber(wrong.length)} {wrong.length === 1 ? 'thing is' : 'things are'} wrong{looked}
          </h2>
          <ul className="max-h-28 overflow-y-auto">
            {wrong.slice(0, MOST_WRONG).map(({ tag, kind, sentence }) => (
              <li key={`${tag} ${kind} ${sentence}`} className="flex gap-2 py-0.5">
                {tag && (
                  <button className="figure shrink-0 underline hover:text-ink" onClick={() => onSelect(tag)}>
                    {tag}
                  </button>
                )}
                <span className={`min-w-0 flex-1 ${kind === 'nothing' ? 'text-ink-2' : 'text-madder'}`}>
                  {sentence}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
