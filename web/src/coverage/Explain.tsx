/** Saying why nothing was watched: it stands with the gap, with who said it. */
import type { FormEvent } from 'react';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { ReasonInput } from './ReasonInput.tsx';
import { useExplaining } from './useExplaining.ts';

interface Props {
  /** Of one tag, or of a source with all its tags. */
  readonly of: { readonly tag: string } | { readonly source: string };
  readonly from: string;
  readonly to: string;
}

export function Explain({ of, from, to }: Props) {
  const { reason, setReason, say, isSayable } = useExplaining();
  return (
    <form
      aria-label="Explain"
      className="mt-4 border-t border-rule pt-3"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        say.mutate({ ...of, from, to });
      }}
    >
      {say.error && <Failure error={say.error} />}
      <ReasonInput label="Why it was" hint="stands with the gap" reason={reason} onReason={setReason} />
      <Button className="mt-2" type="submit" disabled={!isSayable}>
        Explain
      </Button>
    </form>
  );
}
