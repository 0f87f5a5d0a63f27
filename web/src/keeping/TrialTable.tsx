import { describeLength, sampledAt, type HourlyDifference } from '@wide-ledger/core';
import { showBytes, showNumber } from '../controls/values.ts';
import type { TrialRow } from './trial.ts';

interface Props {
  readonly rows: readonly TrialRow[];
  readonly units: ReadonlyMap<string, string>;
  /** At which they are read; milliseconds, 0 where nobody does. */
  readonly intervals: ReadonlyMap<string, number>;
  readonly drawn: string;
  readonly onDrawn: (tag: string) => void;
  readonly onTakeAway: (tag: string) => void;
}

/** Three digits say enough of an error. */
const small = (value: number): string => (value === 0 ? '0' : String(Number(value.toPrecision(3))));

const HOURLY: readonly (readonly [HourlyDifference['aggregate'], string])[] = [
  ['TimeAverage2', 'average'],
  ['Total2', 'total'],
  ['Minimum2', 'least'],
  ['Maximum2', 'greatest'],
];

/** What would be kept of each tag, what it takes, and how far figures would lie off. */
export function TrialTable({ rows, units, intervals, drawn, onDrawn, onTakeAway }: Props) {
  return (
    <table className="w-full [&_td+td]:pl-3 [&_th+th]:pl-3" aria-label="What would be kept">
      <thead className="text-left align-bottom text-ink-2">
        <tr className="h-7">
          <th className="font-normal">Tag</th>
          <th className="text-right font-normal">recorded</th>
          <th className="text-right font-normal">kept</th>
          <th className="text-right font-normal">a day</th>
          <th className="text-right font-normal">instead of</th>
          <th className="text-right font-normal">largest error</th>
          <th className="text-right font-normal">mean</th>
          {HOURLY.map(([name, words]) => (
            <th key={name} className="text-right font-normal" title={`Largest difference of the hourly ${name}`}>
              hourly {words}
            </th>
          ))}
          <th
            className="text-right font-normal"
            title="The period of the fastest movement that matters, and how many samples it has"
          >
            fastest
          </th>
          <th>
            <span className="sr-only">Take away</span>
          </th>
        </tr>
      </thead>
      <tbody className="whitespace-nowrap">
        {rows.map((row) => (
          <tr key={row.tag} className="row border-t border-rule">
            <td>
              <button
                className={`figure ${row.tag === drawn ? 'font-semibold text-verdigris' : ''}`}
                aria-pressed={row.tag === drawn}
                onClick={() => onDrawn(row.tag)}
              >
                {row.tag}
              </button>
            </td>
            <td className="figure text-right">{showNumber(row.samples)}</td>
            <td className="figure text-right">
              {showNumber(row.kept)}{' '}
              <span className="text-ink-2">
                {row.samples === 0 ? '' : `${((100 * row.kept) / row.samples).toFixed(1)} %`}
              </span>
            </td>
            <td className="figure text-right">{row.days === 0 ? '' : showBytes(row.bytes / row.days)}</td>
            <td className="figure text-right text-ink-2">
              {row.days === 0 ? '' : showBytes(row.bytesBefore / row.days)}
            </td>
            <td className="figure text-right">
              {small(row.largestError)} <span className="text-ink-2">{units.get(row.tag)}</span>
            </td>
            <td className="figure text-right">{small(row.meanError)}</td>
            {HOURLY.map(([name]) => {
              const hourly = row.hourly.find(({ aggregate }) => aggregate === name);
              return (
                <td key={name} className="figure text-right">
                  {!hourly || hourly.hours === 0 ? <span className="text-ink-2">no hour</span> : small(hourly.largest)}
                </td>
              );
            })}
            <td className="figure text-right">
              <Fastest row={row} interval={intervals.get(row.tag) ?? 0} />
            </td>
            <td className="text-right">
              <button
                className="px-1.5 text-ink-2 hover:text-ink"
                aria-label={`Take ${row.tag} away`}
                onClick={() => onTakeAway(row.tag)}
              >
                ×
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const VERDICTS = { 'too slow': 'text-madder', fits: '', wasteful: 'text-ink-2' } as const;

/** The fastest movement, and whether it is read often enough for it. */
function Fastest({ row: { movement }, interval }: { readonly row: TrialRow; readonly interval: number }) {
  if (!movement) return <span className="text-ink-2">none</span>;
  const period = describeLength(Math.round(movement.period * 1e6));
  if (interval === 0) return <>{period}</>;
  const { verdict, samplesPerPeriod } = sampledAt(movement, interval / 1000);
  return (
    <span className={VERDICTS[verdict]}>
      {period}{' '}
      <span className={verdict === 'too slow' ? '' : 'text-ink-2'}>
        {Number(samplesPerPeriod.toPrecision(2))} samples{verdict === 'fits' ? '' : `, ${verdict}`}
      </span>
    </span>
  );
}
