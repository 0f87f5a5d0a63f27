/** Raw values of one tag in the window, newest first, as they were archived. */
import type { Tag } from '@wide-ledger/contract';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { GRADE_COLOUR, gradeOf, showNumber, showValue } from '../controls/values.ts';
import { saveCsv } from '../server/calls.ts';
import { useRaw } from '../server/queries.ts';
import { bothZones, offsetOf, stamp } from '../window/times.ts';
import { useWindow, useWindowState, useZone } from '../window/windowStore.ts';

const ROW_HEIGHT = 28;

export function RawTable({ tag }: { readonly tag: Tag }) {
  const { from, to } = useWindow();
  const zone = useZone();
  const siteZone = useWindowState((state) => state.siteZone);
  const { data, error } = useRaw(tag.name);
  const [copied, setCopied] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  const rows = data?.samples ?? [];
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });
  const [start, end] = [new Date(from).toISOString(), new Date(to).toISOString()];
  const sql = `SELECT * FROM history.sample('${tag.name}', '${start}', '${end}') ORDER BY time;`;
  return (
    <section aria-label="Raw values" className="flex min-h-0 flex-1 flex-col">
      {error && <Failure error={error} />}
      <div className="flex h-9 shrink-0 items-center gap-4 border-b border-ink/70 pr-3 text-ink-2">
        <span className="w-60 pl-1.5">Time, {offsetOf(to, zone)}</span>
        <span className="w-40 text-right">Value {tag.unit && `in ${tag.unit}`}</span>
        <span className="w-48">Status</span>
        <span className="min-w-0 flex-1">Origin</span>
        <span>
          {showNumber(rows.length)} {data?.next ? 'shown, the window holds more' : 'values'}
        </span>
        <Button
          onClick={() => {
            void navigator.clipboard.writeText(sql).then(() => setCopied(true));
          }}
        >
          {copied ? 'Copied' : 'Copy as SQL'}
        </Button>
        <Button
          onClick={() =>
            void saveCsv('/history/raw', { tag: tag.name, from: start, to: end, limit: 100_000 }, `${tag.name}.csv`)
          }
        >
          Save as CSV
        </Button>
      </div>
      {!data && !error && <Skeleton rows={6} />}
      {data && rows.length === 0 && (
        <Empty>Nothing was archived in this window. The strip above says whether anybody was watching.</Empty>
      )}
      <div ref={box} className="min-h-0 flex-1 overflow-y-auto" tabIndex={0} data-testid="raw">
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start: top, size }) => {
            const row = rows[rows.length - 1 - index]!;
            const time = Date.parse(row.time);
            return (
              <div
                key={row.time}
                data-sample={row.time}
                className="absolute inset-x-0 flex items-center gap-4 border-b border-rule"
                style={{ transform: `translateY(${top}px)`, height: size }}
              >
                <span className="figure w-60 pl-1.5" title={bothZones(time, siteZone)}>
                  {stamp(time, zone)}
                </span>
                <span className="figure w-40 text-right">{showValue(row.value)}</span>
                <span className={`w-48 ${GRADE_COLOUR[gradeOf(row.status)]}`}>{row.quality}</span>
                <span className="text-ink-2">{row.origin}</span>
              </div>
            );
          })}
        </div>
      </div>
    </section>
  );
}
