/** Aggregates per interval: of one tag with how far it can be believed, or of all tags side by side. */
import type { Tag } from '@wide-ledger/contract';
import { AGGREGATE_NAMES, intervalName, parseInterval, type AggregateName } from '@wide-ledger/core';
import { Failure, Skeleton } from '../controls/States.tsx';
import { digitsOf, showNumber, showValue } from '../controls/values.ts';
import { useTable } from '../server/queries.ts';
import { clock, offsetOf } from '../window/times.ts';
import { useWindow, useZone } from '../window/windowStore.ts';
import { intervalFor, intervalsFor, isCalendar, tableRequest } from './requests.ts';
import type { TraceView } from './useTraceView.ts';

interface Props {
  readonly tag: Tag;
  readonly view: TraceView;
  readonly onChange: (changes: Readonly<Record<string, string | null>>) => void;
}

const SELECT = 'h-[26px] rounded-paper border border-rule bg-raised px-1';
/** Beside what was chosen, so that no figure stands there without them. */
const COMPANIONS: readonly AggregateName[] = ['PercentGood', 'Count'];

/** Words of a quality, coloured by its severity. */
const toneOf = (quality: string): string =>
  quality.startsWith('Good') ? 'text-ink-2' : quality.startsWith('Uncertain') ? 'text-ochre' : 'text-madder';

export function ProcessedTable({ tag, view, onChange }: Props) {
  const window = useWindow();
  const zone = useZone();
  const names = view.together ? view.names : [tag.name];
  const chosen = view.together ? view.aggregates.slice(0, 1) : view.aggregates;
  const asked = view.together ? chosen : [...new Set([...chosen, ...COMPANIONS])];
  const [interval, , length] = intervalFor(view.interval, window);
  const { data, error } = useTable(tableRequest(view, names, asked, window, zone), view.cycle);
  const rows = data?.rows ?? [];
  const column = (name: string, aggregate: string): string => `${name} ${aggregate}`;
  const own = (aggregate: string): string => column(tag.name, aggregate);
  const digits = (key: string): number => digitsOf(rows.map((row) => row[key] ?? null));
  const keys = view.together ? names.map((name) => column(name, chosen[0]!)) : chosen.map(own);
  const digitsByKey = new Map(keys.map((key) => [key, digits(key)]));
  const parsed = parseInterval(interval)!;
  const long = window.to - window.from > 20 * 3_600_000;
  const fine = length < 60_000 ? 'HH:mm:ss' : 'HH:mm';
  const label = (row: (typeof rows)[number]): string => {
    const [from, to] = [Date.parse(String(row.from)), Date.parse(String(row.to))];
    if (view.labelAtEnd) return clock(to, zone, long ? `d LLL ${fine}` : fine);
    if (isCalendar(interval)) return intervalName(from * 1000, parsed, zone);
    return `${clock(from, zone, long ? `d LLL ${fine}` : fine)} – ${clock(to, zone, fine)}`;
  };
  const choose = (position: number, value: string): void => {
    const next = [...chosen];
    next[position] = value as AggregateName;
    onChange({ agg: [...next, ...view.aggregates.slice(next.length)].join(',') });
  };
  const picker = (aggregate: string, position: number) => (
    <select
      aria-label={position === 0 ? 'First aggregate' : `Aggregate ${position + 1}`}
      value={aggregate}
      onChange={(event) => choose(position, event.target.value)}
      className={`${SELECT} w-full max-w-40 text-right`}
    >
      {AGGREGATE_NAMES.map((name) => (
        <option key={name}>{name}</option>
      ))}
    </select>
  );
  return (
    <section aria-label="Processed values" className="flex min-h-0 flex-1 flex-col">
      {error && <Failure error={error} />}
      <div className="min-h-0 flex-1 overflow-auto" tabIndex={0}>
        <table className="w-full">
          <thead className="sticky top-0 bg-paper text-ink-2">
            <tr className="h-12 border-b border-ink/70 text-right">
              <th className="pl-1.5 text-left font-normal whitespace-nowrap">
                Each{' '}
                <select
                  aria-label="Interval"
                  value={interval}
                  onChange={(event) => onChange({ every: event.target.value })}
                  className={SELECT}
                >
                  {intervalsFor(window).map(([value, words]) => (
                    <option key={value} value={value}>
                      {words}
                    </option>
                  ))}
                </select>
                <br />
                <label>
                  stamped at its{' '}
                  <select
                    aria-label="Stamped at"
                    value={view.labelAtEnd ? 'end' : 'start'}
                    onChange={(event) => onChange({ label: event.target.value === 'end' ? 'end' : null })}
                    className="bg-paper underline"
                  >
                    <option value="start">start</option>
                    <option value="end">end</option>
                  </select>
                  , {offsetOf(window.to, zone)}
                </label>
              </th>
              {view.together
                ? names.map((name, i) => (
                    <th key={name} className="min-w-28 font-normal last:pr-3">
                      <span className="figure">{name}</span>
                      <br />
                      {i === 0 ? picker(chosen[0]!, 0) : chosen[0]}
                    </th>
                  ))
                : chosen.map((aggregate, position) => (
                    <th key={position} className="font-normal">
                      {picker(aggregate, position)}
                    </th>
                  ))}
              {!view.together && (
                <>
                  <th className="w-24 font-normal">good time</th>
                  <th className="w-24 font-normal">values</th>
                  <th className="w-[30%] pr-1.5 pl-6 text-left font-normal">Status</th>
                </>
              )}
            </tr>
          </thead>
          <tbody data-testid="processed">
            {rows.map((row) => {
              const [percent, count] = [row[own('PercentGood')], row[own('Count')]];
              const quality = String(row[`${column(tag.name, chosen[0]!)} quality`] ?? '');
              return (
                <tr key={String(row.from)} className="h-8 border-b border-rule text-right">
                  <td className="figure pl-1.5 text-left whitespace-nowrap">{label(row)}</td>
                  {view.together
                    ? names.map((name) => {
                        const key = column(name, chosen[0]!);
                        return (
                          <td key={name} className="figure last:pr-3" title={String(row[`${key} quality`] ?? '')}>
                            {showValue(row[key] ?? null, digitsByKey.get(key))}
                            <span className={toneOf(String(row[`${key} quality`] ?? ''))}>
                              {String(row[`${key} quality`] ?? '').startsWith('Good') ? '' : ' ·'}
                            </span>
                          </td>
                        );
                      })
                    : chosen.map((aggregate, i) => (
                        <td key={i} className="figure">
                          {showValue(row[own(aggregate)] ?? null, digitsByKey.get(own(aggregate)))}
                        </td>
                      ))}
                  {!view.together && (
                    <>
                      <td className={`figure ${typeof percent === 'number' && percent < 99.99 ? 'text-ochre' : ''}`}>
                        {typeof percent === 'number' ? `${percent.toFixed(1)} %` : '—'}
                      </td>
                      <td className="figure">{typeof count === 'number' ? showNumber(count) : '—'}</td>
                      <td className={`pl-6 text-left ${toneOf(quality)}`}>{quality}</td>
                    </>
                  )}
                </tr>
              );
            })}
          </tbody>
        </table>
        {!data && !error && <Skeleton rows={5} />}
        {data && length > window.to - window.from && (
          <p className="py-2 text-ink-2">The interval is longer than the window: its rows are parts of it.</p>
        )}
      </div>
    </section>
  );
}
