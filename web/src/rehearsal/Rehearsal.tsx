/** Rehearsal: a script of faults, played in quick time against the configuration as it stands; nothing is touched. */
import type { Scenario } from '@wide-ledger/core';
import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { useDefinitions } from '../configuration/drafting.ts';
import { Page } from '../controls/Page.tsx';
import { Empty, Skeleton } from '../controls/States.tsx';
import { showBytes, showNumber } from '../controls/values.ts';
import { useDesk } from '../server/queries.ts';
import { Outcome } from './Outcome.tsx';
import { Script } from './Script.tsx';
import { FIRST_LINE, faultsOf, linesOf, textOf, type Line } from './script.ts';
import { sourcesOf, withFigures, type Figures } from './sources.ts';
import { useRehearsed } from './useRehearsed.ts';
import { adviceWords, seconds } from './words.ts';

/** What a collector holds in memory while its disk is full, and what it delivers when it catches up. */
const HELD_IN_MEMORY = 2_000_000;
const DELIVERS_PER_SECOND = 50_000;
const BYTES_PER_VALUE = 20;

export function Rehearsal() {
  const [search, setSearch] = useSearchParams();
  const { data: standings } = useDefinitions('source');
  const { data: desk } = useDesk();
  const [typed, setTyped] = useState<Readonly<Record<string, Figures>>>({});
  // The rates of the moment at which it was opened: a rehearsal does not change while it is looked at.
  const [first, setFirst] = useState<typeof desk>();
  if (first === undefined && desk !== undefined) setFirst(desk);
  const given = search.get('script');
  const lines = given === null ? [FIRST_LINE] : linesOf(given);
  const own = useMemo(() => sourcesOf(standings ?? [], first), [standings, first]);
  const sources = own.map((source) => withFigures(source, typed[source.name]));
  const names = sources.map(({ name }) => name);
  const [collector] = first?.collectors ?? [];
  const scenario: Scenario = {
    sources,
    collector: {
      spoolBytes: collector?.spoolFreeBytes ?? null,
      bytesPerValue: collector?.spoolBytesPerSample ?? BYTES_PER_VALUE,
      heldInMemory: HELD_IN_MEMORY,
      deliversPerSecond: DELIVERS_PER_SECOND,
    },
    faults: faultsOf(lines, names),
  };
  const isKnown = standings !== undefined && first !== undefined;
  const { answer, isPlaying } = useRehearsed(
    isKnown && sources.length > 0 && scenario.faults.length > 0 ? scenario : null,
  );
  const setLines = (next: readonly Line[]): void =>
    setSearch(
      (current) => {
        current.set('script', textOf(next));
        return current;
      },
      { replace: true },
    );
  const fits = answer?.played.outcomes.length === sources.length;
  return (
    <Page
      title="Rehearsal"
      says="A script of faults in quick time, on a copy of the configuration with your draft: nothing is touched."
    >
      {!isKnown && <Skeleton rows={8} />}
      {isKnown && sources.length === 0 && <Empty>There is no source yet that could be rehearsed.</Empty>}
      {isKnown && sources.length > 0 && (
        <div className="min-h-0 flex-1 overflow-y-auto pr-1">
          <Script lines={lines} sources={names} onLines={setLines} />
          <SourceTable
            own={sources}
            typed={typed}
            onTyped={(name, change) =>
              setTyped({ ...typed, [name]: { valuesPerSecond: '', remembers: '', ...typed[name], ...change } })
            }
          />
          <section aria-label="What comes of it" aria-busy={isPlaying} className={isPlaying ? 'opacity-60' : ''}>
            <h2 className="mb-1 font-semibold">What comes of it</h2>
            {scenario.faults.length === 0 && <p className="text-ink-2">Nothing goes wrong, so nothing is lost.</p>}
            {answer && fits && (
              <>
                <p className="mb-2 text-ink-2">{spoolWords(answer.played)}</p>
                {answer.advice
                  .filter(({ source }) => source === null)
                  .map((one) => (
                    <p key={one.change} className="mb-2 border-l-2 border-verdigris pl-3">
                      {adviceWords(one)}
                    </p>
                  ))}
                {sources.map(({ name }, place) => (
                  <Outcome
                    key={name}
                    name={name}
                    outcome={answer.played.outcomes[place]!}
                    advice={answer.advice.filter(({ source }) => source === place)}
                    until={answer.played.until}
                  />
                ))}
              </>
            )}
          </section>
        </div>
      )}
    </Page>
  );
}

function spoolWords({
  spoolPeak,
  deliveredAt,
  until,
}: {
  spoolPeak: number;
  deliveredAt: number | null;
  until: number;
}): string {
  const length = `Played for ${seconds(until)}.`;
  if (spoolPeak === 0) return `${length} Nothing waits on the collector’s spool.`;
  const when = deliveredAt === null ? '' : `, delivered ${seconds(deliveredAt)} after the start`;
  return `${length} At most ${showBytes(spoolPeak)} wait on the collector’s spool${when}.`;
}

interface TableProps {
  readonly own: ReturnType<typeof sourcesOf>;
  readonly typed: Readonly<Record<string, Figures>>;
  readonly onTyped: (name: string, change: Partial<Figures>) => void;
}

const INPUT = 'figure h-7 w-24 rounded-paper border border-edge bg-paper px-1.5 text-right';
const MODES = { 'by itself': 'by itself', 'on demand': 'only on demand', off: 'not at all' } as const;

/** What is played with: as it is configured and measured, or as somebody wants to see it. */
function SourceTable({ own, typed, onTyped }: TableProps) {
  return (
    <section aria-label="Sources as they are played" className="mb-4">
      <h2 className="mb-1 font-semibold">With these</h2>
      <table className="w-full text-right">
        <thead className="text-ink-2">
          <tr className="border-b border-ink/70">
            <th className="py-1 text-left font-normal">Source</th>
            <th className="font-normal">values a second</th>
            <th className="font-normal">the device remembers, values</th>
            <th className="font-normal">recovers</th>
            <th className="font-normal">calls a second × values</th>
            <th className="font-normal">standby</th>
          </tr>
        </thead>
        <tbody>
          {own.map(({ name, valuesPerSecond, remembers, mode, callsPerSecond, valuesPerCall, standby }) => (
            <tr key={name} className="h-9 border-b border-rule">
              <td className="text-left">{name}</td>
              <td>
                <input
                  aria-label={`Values a second of ${name}`}
                  inputMode="decimal"
                  className={INPUT}
                  placeholder={showNumber(valuesPerSecond)}
                  value={typed[name]?.valuesPerSecond ?? ''}
                  onChange={(event) => onTyped(name, { valuesPerSecond: event.target.value })}
                />
              </td>
              <td>
                <input
                  aria-label={`Values that the device of ${name} remembers`}
                  inputMode="decimal"
                  className={INPUT}
                  placeholder={remembers === null ? (mode === 'off' ? 'none' : 'not known') : showNumber(remembers)}
                  value={typed[name]?.remembers ?? ''}
                  onChange={(event) => onTyped(name, { remembers: event.target.value })}
                />
              </td>
              <td className={remembers === null ? 'text-ink-2' : ''}>
                {remembers === null && mode === 'off' ? 'nothing to' : MODES[mode]}
              </td>
              <td className="figure text-ink-2">
                {remembers === null ? '' : `${showNumber(callsPerSecond)} × ${showNumber(valuesPerCall)}`}
              </td>
              <td>{standby ? 'yes' : 'no'}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
