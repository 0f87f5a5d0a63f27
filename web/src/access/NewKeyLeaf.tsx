/** A new key: its name, what it may, when it ends. It is shown once. */
import { SCOPES, newKey, type Scope } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Field } from '../controls/Field.tsx';
import { ShownOnce } from '../controls/ShownOnce.tsx';
import { Failure } from '../controls/States.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';
import { SCOPE_WORDS } from './scopes.ts';

const DAY = 86_400_000;
const ENDS: readonly (readonly [label: string, days: number | null])[] = [
  ['in 30 days', 30],
  ['in 90 days', 90],
  ['in a year', 365],
  ['never', null],
];
const FIELD = 'figure mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2';

export function NewKeyLeaf({ onClose }: { readonly onClose: () => void }) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const [scopes, setScopes] = useState<readonly Scope[]>(['read']);
  const [days, setDays] = useState<number | null>(365);
  const [collector, setCollector] = useState('');
  const collects = scopes.includes('collect');
  const given = newKey.safeParse({
    name,
    scopes,
    ends: days === null ? null : new Date(Date.now() + days * DAY).toISOString(),
    ...(collects && collector.trim() ? { collector } : {}),
  }).data;
  const make = useMutation({
    mutationFn: () => post<{ key: string }>('/keys', given),
    onSuccess: () => askAnew(client, ['keys']),
  });
  if (make.data)
    return (
      <Leaf title={name} below="a new key" onClose={onClose}>
        <ShownOnce
          says="Take it along now. It is kept as its digest only, and cannot be shown again."
          made={make.data.key}
          after={
            <>
              Sent as <span className="figure">Authorization: Bearer …</span>
            </>
          }
        />
      </Leaf>
    );
  return (
    <Leaf title="New key" below="for a program; it is shown once" onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (given) make.mutate();
        }}
      >
        <Field autoFocus label="Name" hint="of the program that will use it" value={name} onChange={setName} />
        <fieldset className="mb-2.5">
          <legend className="mb-1">May</legend>
          {SCOPES.map((scope) => (
            <label key={scope} className="flex min-h-7 items-baseline gap-2">
              <input
                type="checkbox"
                checked={scopes.includes(scope)}
                onChange={({ target }) =>
                  setScopes(target.checked ? [...scopes, scope] : scopes.filter((one) => one !== scope))
                }
              />
              <span>{SCOPE_WORDS[scope]}</span>
            </label>
          ))}
        </fieldset>
        {collects && (
          <Field label="Collector" hint="empty: the first that uses it" value={collector} onChange={setCollector} />
        )}
        <label className="mb-2.5 block">
          Ends
          <select
            className={FIELD}
            value={String(days)}
            onChange={({ target }) => setDays(target.value === 'null' ? null : Number(target.value))}
          >
            {ENDS.map(([label, value]) => (
              <option key={label} value={String(value)}>
                {label}
              </option>
            ))}
          </select>
        </label>
        {make.error && <Failure error={make.error} />}
        <Button main type="submit" className="mt-1" disabled={!given || make.isPending}>
          {make.isPending ? 'Making it …' : 'Make the key'}
        </Button>
      </form>
    </Leaf>
  );
}
