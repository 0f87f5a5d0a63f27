/** Setting a signal of the generator: its shape, how long a period lasts, how high and where it lies, how often it is renewed. */
import { SIGNAL_SHAPES, benchSignal, type BenchSignal } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Failure } from '../controls/States.tsx';
import { askAnew } from '../server/anew.ts';
import { put } from '../server/calls.ts';

/** Fields that hold a number, with what stands before and behind them. */
const FIELDS = [
  ['period', 'period', 's'],
  ['amplitude', '±', ''],
  ['offset', 'about', ''],
  ['renewMilliseconds', 'renewed every', 'ms'],
] as const;

const LOOK = 'h-6 rounded-paper border border-edge bg-paper px-1';

export function SignalFields({ device, signal }: { readonly device: string; readonly signal: BenchSignal }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState<Partial<Record<keyof BenchSignal, string>>>({});
  const set = useMutation({
    mutationFn: (to: BenchSignal) => put(`/bench/${encodeURIComponent(device)}/signal`, to),
    onSettled: () => askAnew(client, ['bench']),
  });
  const change = (field: keyof BenchSignal, to: unknown): void => {
    const { data } = benchSignal.safeParse({ ...signal, [field]: to });
    setTyped({ ...typed, [field]: undefined });
    if (data) set.mutate(data);
  };
  return (
    <span className="ml-3 inline-flex flex-wrap items-center gap-1.5 text-ink-2">
      <select
        aria-label={`Shape of signal ${signal.number}`}
        className={LOOK}
        value={signal.shape}
        onChange={(event) => change('shape', event.target.value)}
      >
        {SIGNAL_SHAPES.map((shape) => (
          <option key={shape}>{shape}</option>
        ))}
      </select>
      {FIELDS.map(([field, before, behind]) => (
        <label key={field}>
          {before}{' '}
          <input
            aria-label={`${field} of signal ${signal.number}`}
            className={`figure w-14 ${LOOK}`}
            inputMode="decimal"
            value={typed[field] ?? String(signal[field])}
            onChange={(event) => setTyped({ ...typed, [field]: event.target.value })}
            onBlur={() => typed[field] !== undefined && change(field, Number(typed[field].replace(',', '.')))}
            onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          />{' '}
          {behind}
        </label>
      ))}
      {set.error && <Failure error={set.error} />}
    </span>
  );
}
