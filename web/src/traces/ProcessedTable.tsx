/** Aggregates of one tag per interval, beside how much of it was covered. */
import type { Tag } from '@wide-ledger/contract';
import { AGGREGATE_NAMES, type AggregateName } from '@wide-ledger/core';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Failure, Skeleton } from '../controls/States.tsx';
import { GRADE_COLOUR, gradeOf, showNumber, showValue } from '../controls/values.ts';
import { saveCsv } from '../server/calls.ts';
import { useProcessed } from '../server/queries.ts';
import { clock, offsetOf } from '../window/times.ts';
import { useWindow, useZone } from '../window/windowStore.ts';

const INTERVALS: readonly [string, string, number][] = [
  ['PT1M', 'minute', 60_000],
  ['PT10M', '10 minutes', 600_000],
  ['PT1H', 'hour', 3_600_000],
  ['P1D', 'day', 86_400_000],
];
/** More rows than this no one reads: the interval grows with the window. */
const MOST_ROWS = 800;

/** Whole intervals around the window, so that an hour is an hour whatever the window's edges. */
function whole(from: number, to: number, length: number): { from: number; to: number } {
  return { from: Math.floor(from / length) * length, to: Math.ceil(to / length) * length };
}

export function ProcessedTable({ tag }: { readonly tag: Tag }) {
  const window = useWindow();
  const zone = useZone();
  const [first, setFirst] = useState<AggregateName>('TimeAverage');
  const [second, setSecond] = useState<AggregateName>('Maximum');
  const [chosen, setChosen] = useState('PT1H');
  const fitting = INTERVALS.filter(([, , length]) => (window.to - window.from) / length <= MOST_ROWS);
  const [interval, , length] = fitting.find(([name]) => name === chosen) ?? fitting[0] ?? INTERVALS[3]!;
  // Days are cut at the zone's midnight by the server; whole hours are whole in every zone we meet but a few.
  const span = interval === 'P1D' ? window : whole(window.from, window.to, length);
  const request = { tag: tag.name, interval, zone };
  const [a, b, share, count] = useProcessed(request, [first, second, 'PercentGood', 'Count'], span);
  const error = a?.error ?? b?.error;
  const rows = a?.data?.rows ?? [];
  const choose = (value: AggregateName, set: (name: AggregateName) => void, label: string) => (
    <select
      aria-label={label}
      value={value}
      onChange={(event) => set(event.target.value as AggregateName)}
      className="h-[26px] w-full max-w-40 rounded-paper border border-rule bg-raised px-1 text-right"
    >
      {AGGREGATE_NAMES.map((name) => (
        <option key={name}>{name}</option>
      ))}
    </select>
  );
  const save = (): void => {
    void saveCsv(
      '/history/processed',
      { ...request, aggregate: first, from: new Date(span.from).toISOString(), to: new Date(span.to).toISOString() },
      `${tag.name}-${first}.csv`,
    );
  };
  const format = interval === 'P1D' ? 'd LLL yyyy' : window.to - window.from > 20 * 3_600_000 ? 'd LLL HH:mm' : 'HH:mm';
  return (
    <section aria-label="Processed values" className="flex min-h-0 flex-1 flex-col">
      {error && <Failure error={error} />}
      <div className="min-h-0 flex-1 overflow-y-auto" tabIndex={0}>
        <table className="w-full">
          <thead className="sticky top-0 bg-paper text-ink-2">
            <tr className="h-12 border-b border-ink/70 text-right">
              <th className="pl-1.5 text-left font-normal">
                <label className="whitespace-nowrap">
                  Each{' '}
                  <select
                    aria-label="Interval"
                    value={interval}
                    onChange={(event) => setChosen(event.target.value)}
                    className="h-[26px] rounded-paper border border-rule bg-raised px-1"
                  >
                    {fitting.map(([name, shown]) => (
                      <option key={name} value={name}>
                        {shown}
                      </option>
                    ))}
                  </select>
                </label>
                <br />
                <span className="whitespace-nowrap">stamped at its start, {offsetOf(window.to, zone)}</span>
              </th>
              <th className="font-normal">{choose(first, setFirst, 'First aggregate')}</th>
              <th className="font-normal">{choose(second, setSecond, 'Second aggregate')}</th>
              <th className="w-24 font-normal">good time</th>
              <th className="w-24 font-normal">values</th>
              <th className="w-[30%] pr-1.5 pl-6 text-left font-normal">
                Status
                <Button className="float-right" onClick={save}>
                  Save as CSV
                </Button>
              </th>
            </tr>
          </thead>
          <tbody data-testid="processed">
            {rows.map((row, i) => {
              const percent = share?.data?.rows[i]?.value;
              const other = b?.data?.rows[i];
              const begin = Date.parse(row.time);
              return (
                <tr key={`${row.time}${i}`} className="h-8 border-b border-rule text-right">
                  <td className="figure pl-1.5 text-left">
                    {clock(begin, zone, format)}{' '}
                    <span className="text-ink-2">
                      {interval === 'P1D' ? '' : `– ${clock(begin + length, zone, 'HH:mm')}`}
                    </span>
                  </td>
                  <td className="figure">
                    {typeof row.value === 'number' ? showNumber(row.value) : showValue(row.value)}
                  </td>
                  <td className="figure">{other ? showValue(other.value) : ''}</td>
                  <td className={`figure ${typeof percent === 'number' && percent < 99.99 ? 'text-ochre' : ''}`}>
                    {typeof percent === 'number' ? `${percent.toFixed(1)} %` : '—'}
                  </td>
                  <td className="figure">{showValue(count?.data?.rows[i]?.value ?? null)}</td>
                  <td className={`pl-6 text-left ${GRADE_COLOUR[gradeOf(row.status)]}`}>{row.quality}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
        {!a?.data && !error && <Skeleton rows={5} />}
      </div>
    </section>
  );
}
