/** Raw values of one tag in the window, newest first, as they were archived; what was corrected is marked. */
import type { ModifiedSample, RawAnswer, Tag } from '@wide-ledger/contract';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef } from 'react';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { useMoreAt } from '../controls/useMoreAt.ts';
import { GRADE_COLOUR, digitsOf, gradeOf, showNumber, showValue } from '../controls/values.ts';
import { useModified, useRaw } from '../server/queries.ts';
import { bothZones, offsetOf, stamp } from '../window/times.ts';
import { toggleLive, useWindow, useWindowState, useZone } from '../window/windowStore.ts';

const ROW_HEIGHT = 28;

export type RawSample = RawAnswer['samples'][number];

interface Props {
  readonly tag: Tag;
  readonly cycle: number;
  readonly selected: string | null;
  readonly onSelect: (sample: RawSample) => void;
}

/** The newest old value at each time that still has a value. */
const oldValues = (samples: readonly ModifiedSample[] = []): ReadonlyMap<string, ModifiedSample> =>
  new Map(samples.map((sample) => [sample.time, sample]));

export function RawTable({ tag, cycle, selected, onSelect }: Props) {
  const { to, live } = useWindow();
  const zone = useZone();
  const siteZone = useWindowState((state) => state.siteZone);
  const pages = useRaw(tag.name, cycle);
  const { data, error } = pages;
  const { data: modified, error: unmarked } = useModified(tag.name);
  const old = useMemo(() => oldValues(modified?.samples), [modified]);
  const box = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => data?.pages.flatMap(({ samples }) => samples) ?? [], [data]);
  const digits = useMemo(() => digitsOf(rows.map(({ value }) => value)), [rows]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });
  const shown = virtual.getVirtualItems();
  useMoreAt(shown.at(-1)?.index ?? 0, rows.length, pages);
  return (
    <section aria-label="Raw values" className="flex min-h-0 flex-1 flex-col">
      {error && <Failure error={error} />}
      {unmarked && !error && <Failure error={unmarked} />}
      <div className="flex h-9 shrink-0 items-center gap-4 border-b border-ink/70 pr-3 text-ink-2">
        <span className="w-60 pl-1.5">Time, {offsetOf(to, zone)}</span>
        <span className="w-40 text-right">Value {tag.unit && `in ${tag.unit}`}</span>
        <span className="w-48">Status</span>
        <span className="w-24">Origin</span>
        <span className="min-w-0 flex-1 truncate">Was before</span>
        <span className="whitespace-nowrap">
          {showNumber(rows.length)} {pages.hasNextPage ? 'so far, more as you scroll' : 'values'}
        </span>
      </div>
      {!data && !error && <Skeleton rows={6} />}
      {data && rows.length === 0 && (
        <Empty>Nothing was archived in this window. The strip above says whether anybody was watching.</Empty>
      )}
      <div
        ref={box}
        // Who scrolls back reads: a list that moves along with the present would run away from them.
        onScroll={({ currentTarget }) => live && currentTarget.scrollTop > ROW_HEIGHT && toggleLive()}
        className="min-h-0 flex-1 overflow-y-auto"
        role="listbox"
        aria-label={`Values of ${tag.name}`}
        tabIndex={-1}
        data-testid="raw"
      >
        <div className="relative" role="presentation" style={{ height: virtual.getTotalSize() }}>
          {shown.map(({ index, start: top, size }) => {
            const row = rows[index]!;
            const time = Date.parse(row.time);
            const before = old.get(row.time);
            return (
              <div
                key={row.time}
                role="option"
                tabIndex={0}
                aria-selected={row.time === selected}
                data-sample={row.time}
                onClick={() => onSelect(row)}
                onKeyDown={(event) => event.key === 'Enter' && onSelect(row)}
                className={`absolute inset-x-0 flex cursor-pointer items-center gap-4 border-b border-rule ${row.time === selected ? 'bg-raised' : 'hover:bg-raised'}`}
                style={{ transform: `translateY(${top}px)`, height: size }}
              >
                <span className="figure w-60 pl-1.5" title={bothZones(time, siteZone)}>
                  {stamp(time, zone)}
                </span>
                <span className="figure w-40 text-right">{showValue(row.value, digits)}</span>
                <span className={`w-48 truncate ${GRADE_COLOUR[gradeOf(row.status)]}`}>{row.quality}</span>
                <span className="w-24 text-ink-2">{row.origin}</span>
                <span className="min-w-0 flex-1 truncate text-slate">
                  {before &&
                    `▴ ${showValue(before.value)} · ${before.modifiedBy}${before.reason ? ` · ${before.reason}` : ''}`}
                </span>
              </div>
            );
          })}
        </div>
      </div>
    </section>
  );
}
