/** The two traces that are chosen, compared value by value: the same signal read along two paths. */
import { agreementOf, bestOffset, type TimedValue } from '@wide-ledger/core';
import type { RawAnswer, Tag } from '@wide-ledger/contract';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Failure, Skeleton } from '../../controls/States.tsx';
import { get } from '../../server/calls.ts';
import { clock } from '../../window/times.ts';
import { useWindow, useZone, type TimeWindow } from '../../window/windowStore.ts';
import { short, verdict } from './words.ts';

/** Most values of each that are compared: the newest of the window. */
const MOST_VALUES = 5000;
const MOST_ROWS = 200;
/** How far to both sides the better offset is sought, in steps of the first's usual distance. */
const STEPS = 30;

const useValues = (tag: Tag, window: TimeWindow) =>
  useQuery({
    queryKey: ['agreement', tag.name, window.from, window.to],
    queryFn: async ({ signal }): Promise<TimedValue[]> => {
      const between = { from: new Date(window.from).toISOString(), to: new Date(window.to).toISOString() };
      const asked = { tag: tag.name, ...between, order: 'newest', limit: MOST_VALUES };
      const { samples } = await get<RawAnswer>('/history/raw', asked, signal);
      return samples
        .map(({ time, value, status }) => ({
          time: Date.parse(time) * 1000,
          value: value === null || Number.isNaN(Number(value)) ? null : Number(value),
          status,
        }))
        .reverse();
    },
    staleTime: 60_000,
  });

/** The usual distance of values in time, in microseconds. */
function usualDistance(values: readonly TimedValue[]): number {
  const distances = values.slice(1).map(({ time }, i) => time - values[i]!.time);
  distances.sort((a, b) => a - b);
  return distances[Math.floor(distances.length / 2)] ?? 1_000_000;
}

export function AgreementTable({ first, second }: { readonly first: Tag; readonly second: Tag }) {
  const window = useWindow();
  // The window as it was when the comparison began: a live one would begin it anew every second.
  const [held] = useState(window);
  const zone = useZone();
  const a = useValues(first, held);
  const b = useValues(second, held);
  const range = first.low !== null && first.high !== null ? first.high - first.low : null;
  const [tolerance, setTolerance] = useState(String(range === null ? 0 : Number((range / 100).toPrecision(2))));
  const [offset, setOffset] = useState('0');
  const settings = { tolerance: Math.abs(Number(tolerance)) || 0, stepped: second.stepped };
  const shift = (Number(offset) || 0) * 1_000_000;
  const { agreement, best } = useMemo(() => {
    if (!a.data || !b.data) return { agreement: null, best: null };
    const compared = { tolerance: settings.tolerance, stepped: settings.stepped };
    return {
      agreement: agreementOf(a.data, b.data, { ...compared, offset: shift }),
      best: bestOffset(a.data, b.data, compared, usualDistance(a.data), STEPS),
    };
  }, [a.data, b.data, settings.tolerance, settings.stepped, shift]);
  const error = a.error ?? b.error;
  if (error) return <Failure error={error} />;
  if (!agreement) return <Skeleton rows={5} />;
  const rows = [...agreement.differences]
    .sort((one, other) => Math.abs(other.difference) - Math.abs(one.difference))
    .slice(0, MOST_ROWS);
  const field = (label: string, value: string, set: (text: string) => void, unit: string) => (
    <label className="flex items-center gap-1.5 text-ink-2">
      {label}
      <input
        className="figure h-7 w-20 rounded-paper border border-edge bg-raised px-1.5 text-ink"
        inputMode="decimal"
        value={value}
        onChange={(event) => set(event.target.value.replace(',', '.'))}
      />
      {unit}
    </label>
  );
  return (
    <section aria-label="Agreement" className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-4 pb-2">
        {field('Differences up to', tolerance, setTolerance, first.unit)}
        {field(`${second.name} is late by`, offset, setOffset, 's')}
      </div>
      <p className="border-l-2 border-verdigris py-1 pl-3" data-testid="verdict">
        {verdict(agreement, settings.tolerance, first.unit, best, shift)}
      </p>
      {first.unit !== second.unit && (
        <p className="mt-1 text-ochre">
          Their units differ ({first.unit || 'none'} and {second.unit || 'none'}): the numbers are compared as they are.
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-y-auto pt-1" tabIndex={0} aria-label="Differences, the largest first">
        <table className="w-full text-right">
          <thead className="text-ink-2">
            <tr className="h-7 border-b border-ink/70">
              <th className="text-left font-normal">Time</th>
              <th className="font-normal">{first.name}</th>
              <th className="font-normal">{second.name}</th>
              <th className="font-normal">Difference</th>
            </tr>
          </thead>
          <tbody className="figure">
            {rows.map(({ time, first: one, second: other, difference }) => (
              <tr key={time} className="h-7 border-b border-rule">
                <td className="text-left">{clock(time / 1000, zone, 'd LLL HH:mm:ss.SSS')}</td>
                <td>{short(one)}</td>
                <td>{short(other)}</td>
                <td className={Math.abs(difference) > settings.tolerance ? 'text-madder' : ''}>{short(difference)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
