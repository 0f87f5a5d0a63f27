/** Values of one tag at given times: raw where there is one, else interpolated or held. */
import type { Tag } from '@wide-ledger/contract';
import { parseInstant, resolveTime } from '@wide-ledger/core';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Empty, Failure } from '../controls/States.tsx';
import { GRADE_COLOUR, gradeOf, showValue } from '../controls/values.ts';
import { useAtTimes } from '../server/queries.ts';
import { bothZones, offsetOf, stamp } from '../window/times.ts';
import { useWindow, useWindowState, useZone } from '../window/windowStore.ts';
import { timesOf } from './requests.ts';
import type { TraceView } from './useTraceView.ts';

interface Props {
  readonly tag: Tag;
  readonly view: TraceView;
  readonly onChange: (changes: Readonly<Record<string, string | null>>) => void;
}

const isTime = (text: string): boolean => parseInstant(text) !== undefined || resolveTime(text, 0) !== undefined;

export function AtTimesTable({ tag, view, onChange }: Props) {
  const { from, to } = useWindow();
  const zone = useZone();
  const siteZone = useWindowState((state) => state.siteZone);
  const [words, setWords] = useState(view.times);
  const given = timesOf(view);
  const wrong = given.filter((text) => !isTime(text));
  const { data, error } = useAtTimes(tag.name, wrong.length === 0 ? given : []);
  const quarters = [0, 0.25, 0.5, 0.75].map((share) => new Date(Math.round(from + share * (to - from))).toISOString());
  return (
    <section aria-label="Values at times" className="flex min-h-0 flex-1 flex-col">
      <form
        className="flex h-9 shrink-0 items-center gap-2 border-b border-ink/70"
        onSubmit={(event) => {
          event.preventDefault();
          onChange({ times: words });
        }}
      >
        <label className="flex min-w-0 flex-1 items-center gap-2 text-ink-2">
          Times
          <input
            className="figure h-[28px] min-w-0 flex-1 rounded-paper border border-edge bg-raised px-2 text-ink"
            placeholder="2026-11-22T06:00:00+01:00, now-1h"
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
        </label>
        <Button type="submit">Read</Button>
        <Button
          onClick={() => {
            setWords(quarters.join(', '));
            onChange({ times: quarters.join(',') });
          }}
        >
          Quarters of the window
        </Button>
      </form>
      {wrong.length > 0 && (
        <p role="alert" className="my-2 border-l-2 border-madder py-1 pl-3">
          “{wrong[0]}” is neither a date-time with its offset, such as 2026-11-22T06:00:00Z, nor a relative one, such as
          now-1h.
        </p>
      )}
      {error && <Failure error={error} />}
      {given.length === 0 && <Empty>Give one or more times, or take the quarters of the window.</Empty>}
      <div className="min-h-0 flex-1 overflow-y-auto" tabIndex={0}>
        <table className="w-full" data-testid="at-times">
          <tbody>
            {data?.samples.map((row, i) => (
              <tr key={`${row.time} ${i}`} className="h-8 border-b border-rule">
                <td className="figure pl-1.5" title={bothZones(Date.parse(row.time), siteZone)}>
                  {stamp(Date.parse(row.time), zone)} {offsetOf(Date.parse(row.time), zone)}
                </td>
                <td className="figure text-right">{showValue(row.value)}</td>
                <td className="w-16 pl-2 text-ink-2">{tag.unit}</td>
                <td className={`w-1/2 pl-6 ${GRADE_COLOUR[gradeOf(row.status)]}`}>{row.quality}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
