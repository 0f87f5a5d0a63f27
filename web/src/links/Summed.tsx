/** Whether every value is carried, or summaries of them, or both. */
import { SUMMARY_AGGREGATES, summaryInterval, summaryName, type CarriedSummary } from '@wide-ledger/core';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Field } from '../controls/Field.tsx';

export interface Carried {
  readonly detail: boolean;
  readonly summaries: readonly CarriedSummary[];
}

interface Props extends Carried {
  readonly disabled?: boolean;
  readonly onChange: (carried: Carried) => void;
}

export function Summed({ detail, summaries, disabled = false, onChange }: Props) {
  return (
    <div role="group" aria-label="Values and summaries">
      <label className="mb-2 flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-verdigris"
          checked={detail}
          disabled={disabled || (detail && summaries.length === 0)}
          onChange={(event) => onChange({ detail: event.target.checked, summaries })}
        />
        Every value
      </label>
      {summaries.map((summary) => (
        <p
          key={summaryName(summary)}
          className="mb-1 flex items-center justify-between gap-2 border-b border-rule py-1"
        >
          <span>
            {summary.aggregate} <span className="text-ink-2">over</span> {summary.interval}
          </span>
          <Button
            disabled={disabled || (!detail && summaries.length === 1)}
            onClick={() => onChange({ detail, summaries: summaries.filter((other) => other !== summary) })}
          >
            Leave out
          </Button>
        </p>
      ))}
      <NewSummary
        disabled={disabled}
        known={summaries}
        onAdd={(summary) => onChange({ detail, summaries: [...summaries, summary] })}
      />
    </div>
  );
}

interface NewSummaryProps {
  readonly disabled: boolean;
  readonly known: readonly CarriedSummary[];
  readonly onAdd: (summary: CarriedSummary) => void;
}

function NewSummary({ disabled, known, onAdd }: NewSummaryProps) {
  const [aggregate, setAggregate] = useState<CarriedSummary['aggregate']>('TimeAverage');
  const [interval, setInterval] = useState('PT1H');
  const given = { aggregate, interval: interval.trim() };
  const isNew = !known.some((one) => summaryName(one) === summaryName(given));
  const isInterval = summaryInterval(given.interval) !== undefined;
  return (
    <details className="mb-2.5">
      <summary className="cursor-pointer text-ink-2">A summary, sent when its interval is over</summary>
      <label className="mt-1 mb-2.5 block">
        Aggregate
        <select
          className="mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2"
          value={aggregate}
          onChange={(event) => setAggregate(event.target.value as CarriedSummary['aggregate'])}
        >
          {SUMMARY_AGGREGATES.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
      <div className="flex items-end gap-2">
        <div className="min-w-0 flex-1">
          <Field label="Over" hint="PT1H, day, month" value={interval} onChange={setInterval} />
        </div>
        <Button className="mb-2.5" disabled={disabled || !isNew || !isInterval} onClick={() => onAdd(given)}>
          Add
        </Button>
      </div>
      {!isInterval && (
        <p className="text-madder">
          It has to begin at the same instants wherever one begins to count: PT1H, 15 minutes, day, month,
          shift:06:00/18:00; not two days.
        </p>
      )}
    </details>
  );
}
