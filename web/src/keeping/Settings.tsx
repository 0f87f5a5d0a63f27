import { sampledAt, samplingWords, type Movement, type ProposedDeadband } from '@wide-ledger/core';
import { Button } from '../controls/Button.tsx';
import { WAYS, withDeadband, type Typed } from './settings.ts';

interface Props {
  readonly typed: Typed;
  /** Of the tag that is drawn. */
  readonly unit: string;
  readonly proposed: ProposedDeadband | null;
  readonly movement: Movement | null;
  /** At which it is read, tried or in force; seconds, null where nobody reads it. */
  readonly interval: number | null;
  readonly onTyped: (typed: Typed) => void;
}

const BOX = 'figure mt-0.5 block h-[30px] rounded-paper border border-edge bg-raised px-2';

/** How often it would be read, and what of it kept. */
export function Settings({ typed, unit, proposed, movement, interval, onTyped }: Props) {
  const sampled = movement && interval !== null ? sampledAt(movement, interval) : null;
  const text = (label: string, hint: string, name: 'interval' | 'amount' | 'silence', width = 'w-24') => (
    <label className="block">
      {label} <span className="text-ink-2">{hint}</span>
      <input
        className={`${BOX} ${width}`}
        inputMode="decimal"
        value={typed[name]}
        onChange={(event) => onTyped({ ...typed, [name]: event.target.value })}
      />
    </label>
  );
  return (
    <div className="mb-2 flex flex-wrap items-end gap-x-4 gap-y-2 border-b border-rule pb-2.5">
      {text('Read every', 'ms; empty: as it was', 'interval', 'w-36')}
      <label className="block">
        Keep
        <select
          className={`${BOX} w-64`}
          value={typed.way}
          onChange={(event) => onTyped({ ...typed, way: event.target.value as Typed['way'] })}
        >
          {WAYS.map(([way, words]) => (
            <option key={way} value={way}>
              {words}
            </option>
          ))}
        </select>
      </label>
      {typed.way !== 'none' && text('Width', typed.way.endsWith('percent') ? '%' : unit, 'amount')}
      {text('Longest silence', 's', 'silence', 'w-28')}
      <div className="min-w-72 flex-1 border-l-2 border-slate pl-3 empty:hidden">
        {proposed && (
          <Proposal
            words={proposed.sentence}
            action="Try it"
            onTry={() => onTyped(withDeadband(typed, proposed.deadband))}
          />
        )}
        {movement && sampled && (
          <Proposal
            words={samplingWords(movement, sampled)}
            action={sampled.verdict === 'fits' ? null : `Try ${sampled.proposed} ms`}
            onTry={() => onTyped({ ...typed, interval: String(sampled.proposed) })}
          />
        )}
      </div>
    </div>
  );
}

interface ProposalProps {
  readonly words: string;
  readonly action: string | null;
  readonly onTry: () => void;
}

function Proposal({ words, action, onTry }: ProposalProps) {
  return (
    <div className="flex items-center gap-2 py-0.5">
      <p className="min-w-0 flex-1 text-ink-2">{words}</p>
      {action && <Button onClick={onTry}>{action}</Button>}
    </div>
  );
}
