import { Formula } from '@wide-ledger/core';
import type { RawAnswer } from '@wide-ledger/contract';
import { useQueries } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { get } from '../server/calls.ts';
import { clock, stamp } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';
import { MOST_TRIED, tryFormula, type TriedRow } from './trying.ts';

interface Props {
  readonly formula: Formula;
  /** The name of the tag behind each of its inputs. */
  readonly tags: readonly string[];
}

const show = (value: number | string | null): string =>
  value === null ? '—' : typeof value === 'string' ? value : showNumber(value);

/** What a formula gives of the newest values of its inputs, before anything is put in force. */
export function TryFormula({ formula, tags }: Props) {
  const [asked, setAsked] = useState(0);
  const zone = useZone();
  const answers = useQueries({
    queries: tags.map((tag) => ({
      queryKey: ['formula', tag, asked],
      queryFn: () =>
        get<RawAnswer>('/history/raw', { tag, from: 'now-30d', to: 'now', order: 'newest', limit: MOST_TRIED }),
      enabled: asked > 0,
      staleTime: Infinity,
    })),
  });
  const failed = answers.find(({ error }) => error)?.error;
  const all = answers.flatMap(({ data }) => (data ? [data.samples] : []));
  const rows = asked > 0 && all.length === tags.length ? tryFormula(formula, all) : null;
  return (
    <div className="mt-1.5">
      <Button onClick={() => setAsked((times) => times + 1)}>Try it on the newest values</Button>
      {failed && <Failure error={failed} />}
      {rows && <TriedTable formula={formula} rows={rows} zone={zone} />}
    </div>
  );
}

function TriedTable({ formula, rows, zone }: { formula: Formula; rows: readonly TriedRow[]; zone: string }) {
  if (rows.length === 0)
    return (
      <p className="mt-1.5 text-ink-2">Not all inputs have values in the last 30 days: there is nothing to try.</p>
    );
  const bad = rows.filter(({ after }) => after === null).length;
  return (
    <>
      <p className="mt-1.5 text-ink-2" role="status">
        {`${rows.length} ${rows.length === 1 ? 'value' : 'values'}${bad === 0 ? '' : `, ${bad} of them none`}.`}
      </p>
      <div
        className="mt-1 max-h-52 overflow-auto border-y border-rule"
        tabIndex={0}
        role="group"
        aria-label="Tried values"
      >
        <table className="figure w-full text-[12px]">
          <thead>
            <tr className="text-left text-ink-2">
              <th className="pr-2 font-normal">Time</th>
              <th className="pr-3 text-right font-normal">gives</th>
              {formula.inputs.map((input) => (
                <th key={input} className="pr-2 text-right font-normal">
                  {input}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ time, before, after, quality }) => (
              <tr key={time}>
                <td className="pr-2 whitespace-nowrap text-ink-2" title={stamp(time / 1000, zone)}>
                  {clock(time / 1000, zone, 'HH:mm:ss.SSS')}
                </td>
                <td className={`pr-3 text-right ${after === null ? 'text-madder' : ''}`} title={quality}>
                  {after === null ? quality : show(after)}
                </td>
                {before.map((value, i) => (
                  <td key={formula.inputs[i]} className="pr-2 text-right text-ink-2">
                    {show(value)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
