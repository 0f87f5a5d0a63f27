import { FAULTS_OF_SOURCES, REHEARSED_FAULTS } from '@wide-ledger/core';
import { Button } from '../controls/Button.tsx';
import { FAULT_NAMES, FIRST_LINE, wrongIn, type Line } from './script.ts';

interface Props {
  readonly lines: readonly Line[];
  readonly sources: readonly string[];
  readonly onLines: (lines: readonly Line[]) => void;
}

const LOOK = 'h-8 rounded-paper border border-edge bg-paper px-1.5';

/** The faults of a rehearsal, a line each. */
export function Script({ lines, sources, onLines }: Props) {
  const set = (place: number, change: Partial<Line>): void =>
    onLines(lines.map((line, i) => (i === place ? { ...line, ...change } : line)));
  return (
    <section aria-label="Script" className="mb-4">
      <h2 className="mb-1 font-semibold">What goes wrong</h2>
      <ol>
        {lines.map((line, i) => {
          const wrong = wrongIn(line);
          return (
            <li key={i} className="flex flex-wrap items-center gap-2 border-b border-rule py-1.5">
              <select
                aria-label={`What, ${i + 1}`}
                className={LOOK}
                value={line.kind}
                onChange={(event) => set(i, { kind: event.target.value as Line['kind'] })}
              >
                {REHEARSED_FAULTS.map((kind) => (
                  <option key={kind} value={kind}>
                    {FAULT_NAMES[kind]}
                  </option>
                ))}
              </select>
              {FAULTS_OF_SOURCES.has(line.kind) && (
                <select
                  aria-label={`Of which source, ${i + 1}`}
                  className={`${LOOK} max-w-64`}
                  value={line.source}
                  onChange={(event) => set(i, { source: event.target.value })}
                >
                  <option value="">every source</option>
                  {sources.map((name) => (
                    <option key={name}>{name}</option>
                  ))}
                </select>
              )}
              <Minutes label="after" place={i} value={line.at} onValue={(at) => set(i, { at })} />
              {line.kind !== 'memory lost' && (
                <Minutes label="for" place={i} value={line.lasts} onValue={(lasts) => set(i, { lasts })} />
              )}
              <Button aria-label={`Leave out line ${i + 1}`} onClick={() => onLines(lines.filter((_, at) => at !== i))}>
                Leave out
              </Button>
              {wrong && <p className="w-full text-ochre">{wrong}</p>}
            </li>
          );
        })}
      </ol>
      <Button className="mt-2" onClick={() => onLines([...lines, FIRST_LINE])}>
        Another fault
      </Button>
    </section>
  );
}

interface MinutesProps {
  readonly label: string;
  readonly place: number;
  readonly value: string;
  readonly onValue: (value: string) => void;
}

function Minutes({ label, place, value, onValue }: MinutesProps) {
  return (
    <label className="flex items-center gap-1.5">
      <span className="text-ink-2">{label}</span>
      <input
        aria-label={`${label}, minutes, ${place + 1}`}
        inputMode="decimal"
        className={`figure w-20 text-right ${LOOK}`}
        value={value}
        onChange={(event) => onValue(event.target.value)}
      />
      <span className="text-ink-2">min</span>
    </label>
  );
}
