/** Tags: a virtual list of everything in force and in the draft, with live value, quality and strip. */
import type { Tag } from '@wide-ledger/contract';
import { nameIn } from '@wide-ledger/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { EditPanel } from '../configuration/EditPanel.tsx';
import { LifeWord } from '../configuration/Life.tsx';
import { NewDefinitionLeaf } from '../configuration/NewDefinitionLeaf.tsx';
import { ManyLeaf } from '../configuration/ManyLeaf.tsx';
import { PlaceSelect, usePlaceFilter } from '../configuration/PlaceSelect.tsx';
import { useDrafted, type Standing } from '../configuration/drafting.ts';
import { Button } from '../controls/Button.tsx';
import { FilterField } from '../controls/FilterField.tsx';
import { Page } from '../controls/Page.tsx';
import { useMarks } from '../controls/marks.ts';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { useGo } from '../frame/useGo.ts';
import { useSelection } from '../frame/useSelection.ts';
import { useFollow } from '../server/live.ts';
import { useCoverage, useTag, useTags } from '../server/queries.ts';
import { StripLegend } from '../strip/Strip.tsx';
import { TagLeaf } from './TagLeaf.tsx';
import { DraftTagRow, ListHead, TagRow } from './TagRow.tsx';
import { useMoreAt } from '../controls/useMoreAt.ts';

const ROW_HEIGHT = 32;
const PLACE_HEIGHT = 26;

type Row =
  | { readonly kind: 'place'; readonly place: string }
  | { readonly kind: 'tag'; readonly tag: Tag }
  | { readonly kind: 'draft'; readonly standing: Standing };

const NEW = 'new';
/** In place of a name, for one that is only in the draft. */
const draftKey = (id: number): string => `draft:${id}`;

/** What is only in the draft, then tags under the place they belong to, in the order they come. */
function rowsOf(tags: readonly Tag[], drafted: Iterable<Standing>): Row[] {
  const fresh = [...drafted].filter(({ life }) => life === 'new in draft');
  const rows: Row[] = fresh.length > 0 ? [{ kind: 'place', place: 'in your draft' }] : [];
  for (const standing of fresh) rows.push({ kind: 'draft', standing });
  let place: string | null = null;
  for (const tag of tags) {
    if (tag.place !== place) rows.push({ kind: 'place', place: tag.place || 'without a place' });
    place = tag.place;
    rows.push({ kind: 'tag', tag });
  }
  return rows;
}

export function Tags() {
  const [words, setWords] = useState('');
  const search = useDeferredValue(words);
  const placeFilter = usePlaceFilter();
  const { place } = placeFilter;
  const pages = useTags(search, place || undefined);
  const { data, error } = pages;
  const tags = useMemo(() => data?.pages.flatMap((page) => page.tags) ?? [], [data]);
  const drafted = useDrafted('tag');
  const rows = useMemo(() => rowsOf(tags, drafted.values()), [tags, drafted]);
  const { selected, select } = useSelection(rows.flatMap(keysOf));
  const { marked, mark, clear } = useMarks();
  const go = useGo();
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: (index) => (rows[index]!.kind === 'place' ? PLACE_HEIGHT : ROW_HEIGHT),
    overscan: 12,
  });
  const at = rows.findIndex((row) => keysOf(row).includes(selected ?? ''));
  // A tag that the address names may lie beyond what is shown.
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' });
  }, [at, virtual]);
  const shown = virtual.getVirtualItems();
  useMoreAt(shown.at(-1)?.index ?? 0, rows.length, pages);
  const follow = shown.flatMap(({ index }) => {
    const row = rows[index]!;
    return row.kind === 'tag' ? [row.tag.id] : [];
  });
  const { data: coverage } = useCoverage(follow);
  const listed = tags.find(({ name }) => name === selected);
  // The address may name a tag beyond the pages that were loaded, or outside the filter.
  const isName = selected !== null && selected !== NEW && !selected.includes(':');
  const { data: apart } = useTag(data && !listed && isName ? selected : null);
  const chosen = listed ?? (isName ? apart : undefined);
  const chosenDraft = [...drafted.values()].find(({ id }) => draftKey(id) === selected);
  useFollow(chosen && !follow.includes(chosen.id) ? [...follow, chosen.id] : follow);

  return (
    <>
      <Page
        title="Tags"
        says={data && `${showNumber(data.pages[0]!.total)} ${search || place ? 'found' : 'in force'}`}
        tools={
          <>
            <FilterField
              label="Filter by name, unit, place or description"
              hint="name, unit, place, description…"
              width="w-52 max-[1100px]:w-36"
              words={words}
              onWords={setWords}
            />
            <PlaceSelect {...placeFilter} />
            {place !== '' && <Button onClick={() => go('/place', { place })}>Now</Button>}
            <Button onClick={() => go('/sheet')}>Sheet</Button>
            <Button onClick={() => go('/paces')}>Paces</Button>
            <Button onClick={() => go('/places')}>Places</Button>
            <Button onClick={() => select(NEW)}>New tag</Button>
          </>
        }
      >
        {error && <Failure error={error} />}
        <ListHead />
        {!data && !error && <Skeleton rows={16} />}
        {data && tags.length === 0 && (
          <Empty>
            {search
              ? `No tag has “${search}” in its name, description, place or unit.`
              : 'No tag yet. A source brings the first ones.'}
          </Empty>
        )}
        <div ref={box} className="min-h-0 flex-1 overflow-y-auto" role="listbox" aria-label="Tags" tabIndex={-1}>
          <div className="relative" style={{ height: virtual.getTotalSize() }}>
            {shown.map(({ index, start, size }) => {
              const row = rows[index]!;
              return (
                <div
                  key={row.kind === 'tag' ? row.tag.id : `${row.kind} ${index}`}
                  role="presentation"
                  className="absolute inset-x-0"
                  style={{ transform: `translateY(${start}px)`, height: size }}
                >
                  {row.kind === 'place' ? (
                    <div
                      className="flex h-full items-center border-b border-rule pl-1.5 text-ink-2"
                      role="presentation"
                    >
                      {row.place}
                    </div>
                  ) : row.kind === 'draft' ? (
                    <DraftTagRow
                      standing={row.standing}
                      selected={selected === draftKey(row.standing.id)}
                      onSelect={() => select(draftKey(row.standing.id))}
                    />
                  ) : (
                    <TagRow
                      coverage={coverage}
                      tag={row.tag}
                      drafted={drafted.get(row.tag.id)}
                      selected={row.tag.name === selected}
                      marked={marked.has(row.tag.id)}
                      onSelect={() => select(row.tag.name)}
                      onMark={() => mark(row.tag.id)}
                    />
                  )}
                </div>
              );
            })}
          </div>
        </div>
        <StripLegend />
      </Page>
      {marked.size > 0 ? (
        <ManyLeaf kind="tag" ids={marked} onClose={clear} />
      ) : (
        chosen && (
          <TagLeaf
            key={chosen.id}
            tag={chosen}
            drafted={drafted.get(chosen.id)}
            onCreated={(id) => select(draftKey(id))}
            onClose={() => select(null)}
          />
        )
      )}
      {marked.size === 0 && chosenDraft && (
        <Leaf
          key={chosenDraft.id}
          title={nameIn(chosenDraft.body)}
          below={<LifeWord life={chosenDraft.life} />}
          onClose={() => select(null)}
        >
          <EditPanel kind="tag" ids={[chosenDraft.id]} onCreated={(id) => select(draftKey(id))} />
        </Leaf>
      )}
      {marked.size === 0 && selected === NEW && (
        <NewDefinitionLeaf kind="tag" onClose={() => select(null)} onCreated={(id) => select(draftKey(id))} />
      )}
    </>
  );
}

const keysOf = (row: Row): string[] =>
  row.kind === 'tag' ? [row.tag.name] : row.kind === 'draft' ? [draftKey(row.standing.id)] : [];
