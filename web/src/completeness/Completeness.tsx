/** Completeness: how much of what should have been collected is there, by places or tags and by the calendar. */
import type { CompletenessAnswer, CompletenessRow } from '@wide-ledger/contract';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, useState } from 'react';
import { PlaceSelect, usePlaceFilter } from '../configuration/PlaceSelect.tsx';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { useGo } from '../frame/useGo.ts';
import { address, get } from '../server/calls.ts';
import { lengthWords } from '../window/times.ts';
import { hold, useWindow, useZone } from '../window/windowStore.ts';
import { cellHead, monthBefore, shareWords, unitOf, type CellUnit } from './cells.ts';

const ROW_HEIGHT = 28;
/** A live window is looked at anew this often. Milliseconds. */
const ANEW = 60_000;

export function Completeness() {
  const window = useWindow();
  const zone = useZone();
  const filter = usePlaceFilter();
  const [rows, setRows] = useState<'place' | 'tag'>('place');
  const to = window.live ? Math.floor(window.to / ANEW) * ANEW : window.to;
  const from = to - (window.to - window.from);
  const unit = unitOf(to - from);
  const asked = {
    from: new Date(from).toISOString(),
    to: new Date(to).toISOString(),
    by: unit,
    rows,
    zone,
    place: filter.place || undefined,
  };
  const { data, error } = useQuery({
    queryKey: ['completeness', asked],
    queryFn: ({ signal }) => get<CompletenessAnswer>('/completeness', asked, signal),
    placeholderData: keepPreviousData,
  });
  const file = (format: string): string => address('/completeness', { ...asked, format });
  const holdMonth = (months: number): void => {
    const month = monthBefore(window.to, months, zone);
    hold(month.from, month.to);
  };
  const whole = rows === 'place' ? data?.rows[0] : undefined;
  return (
    <Page
      title="Completeness"
      says={
        whole?.percent !== null && whole !== undefined
          ? `${(Math.floor((whole.percent ?? 0) * 1000) / 1000).toFixed(3)} % of ${showNumber(whole.tags)} tags’ duty in this window`
          : undefined
      }
      tools={
        <>
          <div role="group" aria-label="Rows" className="flex gap-1">
            {(['place', 'tag'] as const).map((one) => (
              <Button key={one} aria-pressed={rows === one} onClick={() => setRows(one)}>
                {one === 'place' ? 'Places' : 'Tags'}
              </Button>
            ))}
          </div>
          <PlaceSelect {...filter} />
          <Button onClick={() => holdMonth(1)}>Month before</Button>
          <Button onClick={() => holdMonth(0)}>This month</Button>
          <a className="underline" href={file('pdf')} download>
            PDF
          </a>
          <a className="underline" href={file('xlsx')} download>
            XLSX
          </a>
        </>
      }
    >
      {error && <Failure error={error} />}
      {!data && !error && <Skeleton rows={8} />}
      {data?.rows.length === 0 && <Empty>No tag was meant to be collected in this window.</Empty>}
      {data && data.rows.length > 0 && <Cells answer={data} unit={unit} zone={zone} />}
    </Page>
  );
}

function Cells({
  answer: { rows, edges },
  unit,
  zone,
}: {
  readonly answer: CompletenessAnswer;
  readonly unit: CellUnit;
  readonly zone: string;
}) {
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 10,
  });
  const heads = edges.slice(0, -1).map((edge) => cellHead(edge, unit, zone));
  const grid = { gridTemplateColumns: `minmax(11rem,1fr) 4.5rem repeat(${heads.length}, minmax(1.75rem, 3rem))` };
  return (
    <div
      ref={box}
      className="min-h-0 flex-1 overflow-auto"
      role="table"
      aria-label="Completeness"
      aria-rowcount={rows.length + 1}
    >
      <div role="row" className="sticky top-0 z-10 grid border-b border-ink/70 bg-paper text-ink-2" style={grid}>
        <span role="columnheader" className="py-1 pl-1.5">
          {rows[0]?.tag === null ? 'Place' : 'Tag'}
        </span>
        <span role="columnheader" className="py-1 text-right">
          whole, %
        </span>
        {heads.map(({ head, whole }, i) => (
          <span key={edges[i]} role="columnheader" className="figure py-1 text-right" title={whole}>
            {head}
          </span>
        ))}
      </div>
      <div role="rowgroup" className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, start }) => (
          <div
            key={index}
            role="row"
            aria-rowindex={index + 2}
            className="absolute inset-x-0 grid items-center border-b border-rule"
            style={{ ...grid, height: ROW_HEIGHT, transform: `translateY(${start}px)` }}
          >
            <Row row={rows[index]!} edges={edges} names={heads.map(({ whole }) => whole)} />
          </div>
        ))}
      </div>
    </div>
  );
}

function Row({
  row: { place, tag, tags, cells, percent },
  edges,
  names,
}: {
  readonly row: CompletenessRow;
  readonly edges: readonly string[];
  readonly names: readonly string[];
}) {
  const go = useGo();
  const depth = tag === null && place !== '' ? place.split(' / ').length : 0;
  const name = tag ?? (place === '' ? 'All places' : place.split(' / ').at(-1)!);
  /** What is missing in a cell, as its strips and gaps. */
  const look = (i: number): void => {
    hold(Date.parse(edges[i]!), Date.parse(edges[i + 1]!));
    go('/coverage', tag === null ? (place === '' ? {} : { place }) : { words: tag });
  };
  return (
    <>
      <span role="rowheader" className={`truncate pl-1.5 ${tag === null ? '' : 'figure'}`} title={tag ?? place}>
        <span style={{ paddingLeft: `${0.9 * Math.max(0, depth - 1)}rem` }}>{name}</span>{' '}
        {tag === null && <span className="figure text-ink-2">{showNumber(tags)}</span>}
      </span>
      <span
        role="cell"
        className={`figure text-right ${percent !== null && percent < 100 ? 'text-madder' : 'text-ink-2'}`}
      >
        {percent === null ? '' : (Math.floor(percent * 100) / 100).toFixed(2)}
      </span>
      {cells.map((cell, i) => (
        <span key={edges[i]} role="cell" className="figure text-right text-[11px] tracking-tighter">
          {cell.percent !== null && cell.percent < 100 ? (
            <button
              type="button"
              className={`w-full text-right underline decoration-dotted ${cell.explainedSeconds >= cell.missingSeconds ? 'text-slate' : 'text-madder'}`}
              title={`${names[i]}: ${lengthWords(cell.missingSeconds * 1000)} missing of ${lengthWords(cell.dueSeconds * 1000)}${cell.explainedSeconds > 0 ? `, ${lengthWords(cell.explainedSeconds * 1000)} of it explained` : ''}`}
              onClick={() => look(i)}
            >
              {shareWords(cell.percent)}
            </button>
          ) : (
            <span className="text-ink-2">{shareWords(cell.percent)}</span>
          )}
        </span>
      ))}
    </>
  );
}
