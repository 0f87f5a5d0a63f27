/** Modified history of one tag: what was replaced or removed, what it was, when, by whom and why. */
import type { Tag } from '@wide-ledger/contract';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { GRADE_COLOUR, gradeOf, showValue } from '../controls/values.ts';
import { useModified } from '../server/queries.ts';
import { bothZones, offsetOf, stamp } from '../window/times.ts';
import { useWindow, useWindowState, useZone } from '../window/windowStore.ts';

export function ModifiedTable({ tag }: { readonly tag: Tag }) {
  const { to } = useWindow();
  const zone = useZone();
  const siteZone = useWindowState((state) => state.siteZone);
  const { data, error } = useModified(tag.name);
  return (
    <section aria-label="Modified values" className="min-h-0 flex-1 overflow-y-auto" tabIndex={0}>
      {error && <Failure error={error} />}
      {!data && !error && <Skeleton rows={4} />}
      {data?.samples.length === 0 && <Empty>Nothing in this window was replaced or removed.</Empty>}
      {data && data.samples.length > 0 && (
        <table className="w-full" data-testid="modified">
          <thead className="sticky top-0 bg-paper text-left text-ink-2">
            <tr className="h-9 border-b border-ink/70">
              <th className="pl-1.5 font-normal">Time, {offsetOf(to, zone)}</th>
              <th className="text-right font-normal">Was {tag.unit && `in ${tag.unit}`}</th>
              <th className="pl-6 font-normal">Status</th>
              <th className="font-normal">Origin</th>
              <th className="font-normal">Then</th>
              <th className="font-normal">When</th>
              <th className="font-normal">By</th>
              <th className="font-normal">Why</th>
            </tr>
          </thead>
          <tbody>
            {data.samples.map((row, i) => (
              <tr key={`${row.time} ${i}`} className="h-8 border-b border-rule">
                <td className="figure pl-1.5" title={bothZones(Date.parse(row.time), siteZone)}>
                  {stamp(Date.parse(row.time), zone)}
                </td>
                <td className="figure text-right">{showValue(row.value)}</td>
                <td className={`pl-6 ${GRADE_COLOUR[gradeOf(row.status)]}`}>{row.quality}</td>
                <td>{row.origin}</td>
                <td>{row.kind}</td>
                <td className="figure">{stamp(Date.parse(row.modifiedAt), zone)}</td>
                <td>{row.modifiedBy}</td>
                <td>{row.reason ?? '—'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
