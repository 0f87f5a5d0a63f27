/** Coverage: what was watched, what was not, and why. */
import type { Gap, GapsAnswer, Tag } from '@wide-ledger/contract';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { PlaceSelect, usePlaceFilter } from '../configuration/PlaceSelect.tsx';
import { Button } from '../controls/Button.tsx';
import { FilterField } from '../controls/FilterField.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { useGo } from '../frame/useGo.ts';
import { useSelection } from '../frame/useSelection.ts';
import { useCoverage, useGaps, useTags } from '../server/queries.ts';
import { Strip, StripLegend } from '../strip/Strip.tsx';
import { coverageOf } from '../strip/coverageOf.ts';
import type { StripRow } from '../strip/stripRow.ts';
import { useMoreAt } from '../controls/useMoreAt.ts';
import { clock } from '../window/times.ts';
import { useWindow, useZone, type TimeWindow } from '../window/windowStore.ts';
import { GapLeaf } from './GapLeaf.tsx';
import { GapList } from './GapList.tsx';
import { PlannedWork } from './PlannedWork.tsx';

const ROW_HEIGHT = 30;
/** In place of a gap while planned work is looked at. */
const PLANNED = 'planned';
const NO_GAPS: readonly Gap[] = [];

/** What tells a gap from the others, and stays while a live window moves along: an edge that the window does not cut. */
function keyOf({ source, tag, from, to }: Gap, window: TimeWindow): string {
  const edge = Date.parse(from) > window.from ? from : Date.parse(to) < window.to ? to : '';
  return `${source ?? ''}|${tag ?? ''}|${edge}`;
}

function gapWords({ total, recovered, gaps, unlooked }: GapsAnswer): string {
  const filled = recovered > 0 ? `, ${showNumber(recovered)} of them recovered` : '';
  const latest = total > gaps.length ? `, the latest ${showNumber(gaps.length)} below` : '';
  const left = unlooked > 0 ? `; ${showNumber(unlooked)} tags without a source not looked at, choose a place` : '';
  return `${showNumber(total)} ${total === 1 ? 'gap' : 'gaps'}${filled}${latest}${left}`;
}

export function Coverage() {
  const placeFilter = usePlaceFilter();
  const [search] = useSearchParams();
  const [words, setWords] = useState(search.get('words') ?? '');
  const { data: coverage, error } = useCoverage(undefined, placeFilter.place);
  const { data: gaps } = useGaps(placeFilter.place);
  const window = useWindow();
  const go = useGo();
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
          watched !== null && gaps && `${watched.toFixed(2)} % watched or recovered in this window · ${gapWords(gaps)}`
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
            <Button onClick={() => go('/completeness', placeFilter.place ? { place: placeFilter.place } : {})}>
              Completeness
            </Button>
            <Button onClick={() => go('/doubts', placeFilter.place ? { place: placeFilter.place } : {})}>Doubts</Button>
          </>
        }
      >
        {error && <Failure error={error} />}
        <Strips words={words} place={placeFilter.place} />
        <StripLegend />
        <section aria-label="Gaps in this window" className="flex h-[34%] min-h-40 flex-col border-t border-rule pt-2">
          <div className="flex shrink-0 items-center justify-between">
            <h2 className="font-semibold">Gaps in this window</h2>
            <Button onClick={() => select(PLANNED)}>Planned work</Button>
          </div>
          <div className="flex h-7 shrink-0 items-center gap-3 overflow-y-hidden border-b border-ink/70 text-ink-2 [scrollbar-gutter:stable]">
            <span className="w-56 pl-1.5 max-[1100px]:w-40">From – to</span>
            <span className="w-24 text-right max-[1100px]:w-14">Length</span>
            <span className="min-w-0 flex-1 truncate">What happened</span>
            <span className="w-44 max-[1100px]:w-24">Where</span>
            <span className="w-28">State</span>
          </div>
          {!gaps && <Skeleton rows={3} />}
          {gaps?.gaps.length === 0 && (
            <Empty>Nothing is missing in this window: everything that should have been watched was.</Empty>
          )}
          <GapList
            gaps={gaps?.gaps ?? NO_GAPS}
            selected={selected}
            keyOf={(gap) => keyOf(gap, window)}
            onSelect={select}
          />
        </section>
      </Page>
      {selected === PLANNED && <PlannedWork onClose={() => select(null)} />}
      {chosen && <GapLeaf key={selected} gap={chosen} onClose={() => select(null)} />}
    </>
  );
}

/** Whether anything was meant to be there: else there is no share of it. */
const wasDue = (row: StripRow | undefined): row is StripRow =>
  row !== undefined && (row.duty.length > 0 || row.spans.length > 0);

/** A row of strips per tag. */
function Strips({ words, place }: { readonly words: string; readonly place: string }) {
  const pages = useTags(words, place || undefined);
  const { data } = pages;
  const { from, to } = useWindow();
  const zone = useZone();
  const tags = useMemo<Tag[]>(() => data?.pages.flatMap((page) => page.tags) ?? [], [data]);
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: tags.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 10,
  });
  const shown = virtual.getVirtualItems();
  useMoreAt(shown.at(-1)?.index ?? 0, tags.length, pages);
  const { data: coverage } = useCoverage(shown.map(({ index }) => tags[index]!.id));
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
                <span
                  className={`figure w-20 text-right ${wasDue(row) && row.watchedPercent < 99.99 ? 'text-ochre' : ''}`}
                >
                  {wasDue(row) ? `${row.watchedPercent.toFixed(1)} %` : row ? '—' : ''}
                </span>
              </div>
            );
          })}
        </div>
      </div>
    </>
  );
}
