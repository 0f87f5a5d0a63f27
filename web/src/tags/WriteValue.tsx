/** Writing a value to the device of a tag: what it holds is read and shown, and written over while it holds that. */
import type { Held, Tag, Written } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Button } from '../controls/Button.tsx';
import { SureButton } from '../controls/SureButton.tsx';
import { Failure } from '../controls/States.tsx';
import { typedNumber } from '../controls/typedNumber.ts';
import { askAnew } from '../server/anew.ts';
import { get, put } from '../server/calls.ts';

export function WriteValue({ tag }: { readonly tag: Tag }) {
  const client = useQueryClient();
  const path = `/tags/${encodeURIComponent(tag.name)}/device-value`;
  const [typed, setTyped] = useState('');
  const [reason, setReason] = useState('');
  const look = useMutation({ mutationFn: () => get<Held>(path) });
  const seen = look.data ?? null;
  const write = useMutation({
    mutationFn: (value: number | string) => put<Written>(path, { value, seen: seen?.value ?? null, reason }),
    onSettled: () => askAnew(client, ['logbook']),
    onSuccess: () => setTyped(''),
  });
  const value = valueOf(tag, typed);
  const words = (of: Held['value']): string => valueWords(tag, of);
  const lookAgain = (): void => {
    write.reset();
    look.mutate();
  };
  return (
    <section aria-label="Write a value" className="mt-4">
      <h3 className="mb-1 font-semibold">Write a value</h3>
      {!seen && (
        <Button disabled={look.isPending} onClick={lookAgain}>
          {look.isPending ? 'Asking the device …' : 'Read what the device holds'}
        </Button>
      )}
      {look.error && <Failure error={look.error} />}
      {seen && (
        <>
          <p>
            {write.data ? 'It held' : 'It holds'} <b className="figure font-semibold">{words(seen.value)}</b>{' '}
            <span className="text-ink-2">{seen.quality}</span>
          </p>
          {write.data ? (
            <Outcome {...write.data}>{words(write.data.after?.value ?? null)}</Outcome>
          ) : (
            <>
              <ValueInput tag={tag} typed={typed} onType={setTyped} />
              <label className="mt-1.5 flex items-center gap-2">
                <span className="w-16 text-ink-2">Reason</span>
                <input
                  className="h-7 min-w-0 flex-1 rounded-paper border border-edge bg-paper px-1.5"
                  value={reason}
                  maxLength={400}
                  placeholder="for the logbook"
                  onChange={(event) => setReason(event.target.value)}
                />
              </label>
            </>
          )}
          {write.error && <Failure error={write.error} />}
          <div className="mt-2 flex flex-wrap gap-2">
            {!write.data && (
              <SureButton
                label="Write"
                sure={value === null ? 'Write' : `Write ${words(value)} in place of ${words(seen.value)}?`}
                disabled={value === null || write.isPending}
                onSure={() => value !== null && write.mutate(value)}
              />
            )}
            <Button disabled={look.isPending || write.isPending} onClick={lookAgain}>
              Read again
            </Button>
          </div>
        </>
      )}
    </section>
  );
}

/** What was typed, as it is sent: digits that a double does not hold as they are. Null for what is no value. */
function valueOf({ type }: Tag, typed: string): number | string | null {
  if (type === 'text') return typed;
  if (type === 'integer' && /^-?\d{16,20}$/.test(typed.trim())) return typed.trim();
  return typedNumber(typed) ?? null;
}

/** A value with its unit; of a state its name. */
function valueWords({ unit, states }: Tag, value: Held['value']): string {
  if (value === null) return 'no value';
  return [states?.[String(value)] ?? String(value), unit].filter(Boolean).join(' ');
}

function ValueInput({
  tag,
  typed,
  onType,
}: {
  readonly tag: Tag;
  readonly typed: string;
  readonly onType: (typed: string) => void;
}) {
  const { type, low, high, unit, states } = tag;
  const look = 'figure h-7 min-w-0 flex-1 rounded-paper border border-edge bg-paper px-1.5';
  const choices = type === 'boolean' ? { 0: '0', 1: '1' } : states;
  return (
    <label className="mt-1.5 flex items-center gap-2">
      <span className="w-16 text-ink-2">New value</span>
      {choices ? (
        <select className={look} value={typed} onChange={(event) => onType(event.target.value)}>
          <option value="">choose</option>
          {Object.entries(choices).map(([number, name]) => (
            <option key={number} value={number}>
              {name}
            </option>
          ))}
        </select>
      ) : (
        <input className={look} value={typed} onChange={(event) => onType(event.target.value)} />
      )}
      <span className="text-ink-2">
        {unit} {low !== null && high !== null && !choices && `(${low} to ${high})`}
      </span>
    </label>
  );
}

/** What came of it. @param children what was read back, in words. */
function Outcome({ outcome, sentence, children }: Written & { readonly children: ReactNode }) {
  if (outcome === 'written')
    return (
      <p className="border-l-2 border-verdigris pl-3" role="status">
        Written, and read back: <b className="figure font-semibold">{children}</b>
      </p>
    );
  return (
    <p className="border-l-2 border-ochre pl-3" role="alert">
      {sentence}
    </p>
  );
}
