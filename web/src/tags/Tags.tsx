/** Tags: a virtual list of everything in force, with live value, quality and strip. */
import type { Tag } from '@wide-ledger/contract';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useDeferredValue, useMemo, useRef, useState } from 'react';
import { FilterField } from '../controls/FilterField.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { GRADE_COLOUR, gradeOf, showNumber, showValue } from '../controls/values.ts';
import { useSelection } from '../frame/useSelection.ts';
import { useFollow, useLiveSample } from '../server/live.ts';
import { useCoverage, useTags } from '../server/queries.ts';
import { Strip, StripLegend } from '../strip/Strip.tsx';
import { coverageOf } from '../strip/coverageOf.ts';
import { clock } from '../window/times.ts';
import { useWindow, useZone } from '../window/windowStore.ts';
import { TagLeaf } from './TagLeaf.tsx';
import { useMoreAt } from '../controls/useMoreAt.ts';

const ROW_HEIGHT = 32;
const PLACE_HEIGHT = 26;

type Row = { readonly kind: 'place'; readonly place: string } | { readonly kind: 'tag'; readonly tag: Tag };

/** Tags under the place they belong to, in the order they come. */
function rowsOf(tags: readonly Tag[]): Row[] {
  const rows: Row[] = [];
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
  const pages = useTags(search);
  const { data, error } = pages;
  const tags = useMemo(() => data?.pages.flatMap((page) => page.tags) ?? [], [data]);
  const rows = useMemo(() => rowsOf(tags), [tags]);
  const { selected, select } = useSelection(tags.map(({ name }) => name));
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: (index) => (rows[index]!.kind === 'place' ? PLACE_HEIGHT : ROW_HEIGHT),
    overscan: 12,
  });
  const shown = virtual.getVirtualItems();
  useMoreAt(shown.at(-1)?.index ?? 0, rows.length, pages);
  const follow = shown.flatMap(({ index }) => {
    const row = rows[index]!;
    return row.kind === 'tag' ? [row.tag.id] : [];
  });
  const chosen = tags.find(({ name }) => name === selected);
  useFollow(chosen && !follow.includes(chosen.id) ? [...follow, chosen.id] : follow);

  return (
    <>
      <Page
        title="Tags"
        says={data && `${showNumber(data.pages[0]!.total)} ${search ? 'found' : 'in force'}`}
        tools={
          <FilterField
            label="Filter by name, unit, place or description"
            hint="name, unit, place, description…"
            width="w-72"
            words={words}
            onWords={setWords}
          />
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
                  key={row.kind === 'tag' ? row.tag.id : `place ${index}`}
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
                  ) : (
                    <TagRow tag={row.tag} selected={row.tag.name === selected} onSelect={() => select(row.tag.name)} />
                  )}
                </div>
              );
            })}
          </div>
        </div>
        <StripLegend />
      </Page>
      {chosen && <TagLeaf tag={chosen} onClose={() => select(null)} />}
    </>
  );
}

function ListHead() {
  const { from, to } = useWindow();
  const zone = useZone();
  const format = to - from > 2 * 86_400_000 ? 'd LLL' : 'HH:mm';
  return (
    <div className="flex h-8 shrink-0 items-center gap-3 border-b border-ink/70 pr-3 text-ink-2">
      <span className="w-28 pl-1.5">Tag</span>
      <span className="min-w-0 flex-1">Description</span>
      <span className="w-32 text-right">Now</span>
      <span className="w-4 text-center" title="Quality: Good, Uncertain, Bad">
        Q
      </span>
      <span className="figure flex w-[30%] max-[1100px]:w-[22%] justify-between">
        {[from, (from + to) / 2, to].map((time) => (
          <span key={time}>{clock(time, zone, format)}</span>
        ))}
      </span>
    </div>
  );
}

interface RowProps {
  readonly tag: Tag;
  readonly selected: boolean;
  readonly onSelect: () => void;
}

function TagRow({ tag, selected, onSelect }: RowProps) {
  const { data: coverage } = useCoverage();
  const sample = useLiveSample(tag.id) ?? tag.latest;
  const grade = sample ? gradeOf(sample.status) : 'Bad';
  return (
    <div
      role="option"
      tabIndex={0}
      aria-selected={selected}
      data-tag={tag.name}
      onClick={onSelect}
      onKeyDown={(event) => event.key === 'Enter' && onSelect()}
      className={`flex h-full cursor-pointer items-center gap-3 border-b border-l-[3px] border-b-rule pr-3 ${selected ? 'border-l-verdigris bg-raised' : 'border-l-transparent hover:bg-raised'}`}
    >
      <span className="figure w-28 truncate pl-[3px]">{tag.name}</span>
      <span className="min-w-0 flex-1 truncate">{tag.description}</span>
      <span className="w-32 truncate text-right">
        <span className={`figure ${grade === 'Bad' ? 'text-ink-2' : ''}`} data-now>
          {sample ? showValue(sample.value) : '—'}
        </span>{' '}
        <span className="figure text-ink-2" style={{ fontSize: 11 }}>
          {tag.unit}
        </span>
      </span>
      <span
        className={`figure w-4 text-center ${GRADE_COLOUR[grade]}`}
        title={sample?.quality ?? 'nothing archived yet'}
      >
        {sample ? grade[0] : '·'}
      </span>
      <div className="w-[30%] max-[1100px]:w-[22%]">
        <Strip label={tag.name} row={coverageOf(coverage, tag)} expectedFrom={Date.parse(tag.inForceSince)} />
      </div>
    </div>
  );
}
