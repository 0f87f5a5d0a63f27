/** Whether the address ranges of two private networks overlap, before they are joined. */
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Field } from '../controls/Field.tsx';
import { Failure } from '../controls/States.tsx';
import { post } from '../server/calls.ts';

interface Overlaps {
  readonly overlaps: readonly { readonly here: string; readonly there: string; readonly sentence: string }[];
}

const rangesIn = (text: string): string[] => text.split(/[\s,;]+/).filter(Boolean);

export function Networks() {
  const [here, setHere] = useState('');
  const [there, setThere] = useState('');
  const look = useMutation({
    mutationFn: () => post<Overlaps>('/links/ranges', { here: rangesIn(here), there: rangesIn(there) }),
  });
  return (
    <details className="mt-4">
      <summary className="cursor-pointer font-semibold">Two private networks?</summary>
      <form
        className="mt-2"
        onSubmit={(event) => {
          event.preventDefault();
          look.mutate();
        }}
      >
        <Field label="Address ranges here" hint="10.1.0.0/16, fd00:1::/48" value={here} onChange={setHere} />
        <Field label="Address ranges there" value={there} onChange={setThere} />
        <Button type="submit" disabled={!here || !there || look.isPending}>
          Look for overlaps
        </Button>
      </form>
      {look.error && <Failure error={look.error} />}
      <div aria-live="polite">
        {look.data?.overlaps.length === 0 && <p className="mt-2">They do not overlap.</p>}
        {look.data?.overlaps.map(({ sentence, here: own, there: other }) => (
          <p key={`${own} ${other}`} className="mt-2 text-madder">
            {sentence}
          </p>
        ))}
      </div>
    </details>
  );
}
