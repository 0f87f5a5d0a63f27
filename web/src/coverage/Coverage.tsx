/** Coverage: what was watched, what was not, and why. */
import type { Gap, Tag } from '@wide-ledger/contract';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { PlaceSelect, usePlaceFilter } from '../configuration/PlaceSelect.tsx';
import { FilterField } from '../controls/FilterField.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { useSelection } from '../frame/useSelection.ts';
import { useCoverage, useGaps, useTags } from '../server/queries.ts';
import { Strip, StripLegend } from '../strip/Strip.tsx';
import { coverageOf } from '../strip/coverageOf.ts';
import { useMoreAt } from '../controls/useMoreAt.ts';
import { clock, lengthWords, windowWords } from '../window/times.ts';
import { useWindow, useZone, type TimeWindow } from '../window/windowStore.ts';
import { GapLeaf } from './GapLeaf.tsx';

const ROW_HEIGHT = 30;

/** What tells a gap from the others, and stays while a live window moves along: an edge that the window does not cut. */
function keyOf({ source, tag, from, to }: Gap, window: TimeWindow): string {
  const edge = Date.parse(from) > window.from ? from : Date.parse(to) < window.to ? to : '';
  return `${source ?? ''}|${tag ?? ''}|${edge}`;
}

export function Coverage() {
  const placeFilter = usePlaceFilter();
  const [search] = useSearchParams();
  const [words, setWords] = useState(search.get('words') ?? '');
  const { data: coverage, error } = useCoverage();
  const { data: gaps } = useGaps();
  const zone = useZone();
  const window = useWindow();
  const { selected, select } = useSelection(gaps?.gaps.map((gap) => keyOf(gap, window)) ?? []);
  const chosen = gaps?.gaps.find((gap) => keyOf(gap, window) === selected);
  const sources = coverage?.rows.filter((row) => row.tag === null) ?? [];
  const watched =
    sources.length > 0 ? sources.reduce((sum, row) => sum + row.watchedPercent, 0) / sources.length : null;
  return (
    <>
      <Page
        title="Coverage"
        says={
          watched !== null &&
          gaps &&
          `${watched.toFixed(2)} % watched in this window · ${gaps.gaps.length} ${gaps.gaps.length === 1 ? 'gap' : 'gaps'}`
        }
        tools={
          <>
            <FilterField
              label="Filter by name, unit or description"
              hint="name, unit, description…"
              width="w-60 max-[1100px]:w-44"
              words={words}
              onWords={setWords}
            />
            <PlaceSelect {...placeFilter} />
          </>
        }
      >
        {error && <Failure error={error} />}
        <Strips words={words} place={placeFilter.place} />
        <StripLegend />
        <section aria-label="Gaps in this window" className="flex h-[34%] min-h-40 flex-col border-t border-rule pt-2">
          <h2 className="font-semibold">Gaps in this window</h2>
          <div className="flex h-7 shrink-0 items-center gap-3 border-b border-ink/70 text-ink-2">
            <span className="w-44 pl-1.5">From – to</span>
            <span className="w-24 text-right">Length</span>
            <span className="min-w-0 flex-1">What happened</span>
            <span className="w-32">Where</span>
            <span className="w-24">Recoverable</span>
          </div>
          {!gaps && <Skeleton rows={3} />}
          {gaps?.gaps.length === 0 && (
            <Empty>Nothing is missing in this window: everything that should have been watched was.</Empty>
          )}
          <div role="listbox" aria-label="Gaps" className="min-h-0 flex-1 overflow-y-auto">
            {gaps?.gaps.map((gap) => (
              <div
                key={keyOf(gap, window)}
                role="option"
                tabIndex={0}
                data-gap
                aria-selected={selected === keyOf(gap, window)}
                onClick={() => select(keyOf(gap, window))}
                onKeyDown={(event) => event.key === 'Enter' && select(keyOf(gap, window))}
                className={`row flex cursor-pointer items-center gap-3 border-l-[3px] ${selected === keyOf(gap, window) ? 'border-l-verdigris bg-raised' : 'border-l-transparent hover:bg-raised'}`}
              >
                <span className="figure w-44 truncate pl-[3px]">
                  {windowWords(Date.parse(gap.from), Date.parse(gap.to), zone)}
                </span>
                <span className="figure w-24 text-right" data-length>
                  {lengthWords(gap.seconds * 1000)}
                </span>
                <span className="min-w-0 flex-1 truncate">{gap.sentence}</span>
                <span className="w-32 truncate">{gap.tag ?? `${gap.tags} tags`}</span>
                <span className="w-24 text-ink-2">
                  {gap.recoverable ? 'yes' : gap.cause === 'paused' ? 'not asked for' : 'not buffered'}
                </span>
              </div>
            ))}
          </div>
        </section>
      </Page>
      {chosen && <GapLeaf gap={chosen} onClose={() => select(null)} />}
    </>
  );
}

/** A row of strips per tag. */
function Strips({ words, place }: { readonly words: string; readonly place: string }) {
  const pages = useTags(words, place || undefined);
  const { data } = pages;
  const { data: coverage } = useCoverage();
  const { from, to } = useWindow();
  const zone = useZone();
  const tags = useMemo<Tag[]>(
    () => data?.pages.flatMap((page) => page.tags).filter((tag) => tag.sourceId !== null) ?? [],
    [data],
  );
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: tags.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 10,
  });
  const shown = virtual.getVirtualItems();
  useMoreAt(shown.at(-1)?.index ?? 0, tags.length, pages);
  const format = to - from > 2 * 86_400_000 ? 'd LLL' : 'HH:mm';
  return (
    <>
      <div className="flex h-7 shrink-0 items-center gap-3 border-b border-ink/70 pr-3 text-ink-2">
        <span className="w-28 pl-1.5">Tag</span>
        <span className="figure flex min-w-0 flex-1 justify-between">
          {[0, 0.25, 0.5, 0.75, 1].map((share) => (
            <span key={share}>{clock(from + share * (to - from), zone, format)}</span>
          ))}
        </span>
        <span className="w-20 text-right">watched</span>
      </div>
      <div ref={box} className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
        {!data && <Skeleton rows={10} />}
        {data && tags.length === 0 && (
          <Empty>
            {words || place
              ? `No collected tag${place && ` of ${place}`}${words && ` has “${words}” in its name, description, place or unit`}.`
              : 'No tag is collected yet.'}
          </Empty>
        )}
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {shown.map(({ index, start, size }) => {
            const tag = tags[index]!;
            const row = coverageOf(coverage, tag);
            return (
              <div
                key={tag.id}
                className="absolute inset-x-0 flex items-center gap-3 border-b border-rule pr-3"
                style={{ transform: `translateY(${start}px)`, height: size }}
              >
                <span className="figure w-28 truncate pl-1.5" title={`${tag.description} · ${tag.place}`}>
                  {tag.name}
                </span>
                <div className="min-w-0 flex-1">
                  <Strip label={tag.name} row={row} />
                </div>
                <span className={`figure w-20 text-right ${row && row.watchedPercent < 99.99 ? 'text-ochre' : ''}`}>
                  {row ? `${row.watchedPercent.toFixed(1)} %` : ''}
                </span>
              </div>
            );
          })}
        </div>
      </div>
    </>
  );
}
