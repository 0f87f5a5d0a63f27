/** The register map of a source: out as CSV, and in, looked at line by line before it lands in the draft. */
import type { RegisterMapAnswer, RegisterMapLine } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { AFTER_EDIT } from '../../configuration/drafting.ts';
import { Button } from '../../controls/Button.tsx';
import { Failure } from '../../controls/States.tsx';
import { showNumber } from '../../controls/values.ts';
import { Leaf } from '../../frame/Leaf.tsx';
import { askAnew } from '../../server/anew.ts';
import { post } from '../../server/calls.ts';

/** Lines that are shown; the rest is counted. */
const MOST_SHOWN = 300;

const LOOKS: Record<RegisterMapLine['what'], string> = {
  new: 'text-verdigris',
  changed: 'text-ochre',
  same: 'text-ink-2',
  wrong: 'font-semibold text-madder',
};

export function RegisterMapLeaf({ source, onClose }: { readonly source: number; readonly onClose: () => void }) {
  const client = useQueryClient();
  const [file, setFile] = useState<{ readonly name: string; readonly text: string } | null>(null);
  const path = `/sources/${source}/register-map`;
  const look = useMutation({ mutationFn: (text: string) => post<RegisterMapAnswer>(path, { text, dryRun: true }) });
  const take = useMutation({
    mutationFn: (text: string) => post<RegisterMapAnswer>(path, { text }),
    onSuccess: () => askAnew(client, AFTER_EDIT),
  });
  const error = look.error ?? take.error;
  const told = look.data;
  const count = (what: RegisterMapLine['what']): number => told?.lines.filter((line) => line.what === what).length ?? 0;
  const fit = count('new') + count('changed');
  const choose = async (chosen: File | undefined): Promise<void> => {
    if (!chosen) return;
    const text = await chosen.text();
    take.reset();
    setFile({ name: chosen.name, text });
    look.mutate(text);
  };
  return (
    <Leaf title="Register map" below="as CSV, a line for each tag" onClose={onClose}>
      <a className="underline" href={`/api/v1${path}`} download>
        Save its tags as CSV
      </a>
      <label className="mt-4 block">
        Take a map in
        <input
          type="file"
          accept=".csv,.txt,text/csv"
          className="mt-1 block w-full text-ink-2"
          onChange={(event) => void choose(event.target.files?.[0])}
        />
      </label>
      <p className="mt-1 text-ink-2">
        A column for name and one for address are needed; heads as in what is saved. 40001 is the first holding
        register.
      </p>
      {error && <Failure error={error} />}
      {take.data && (
        <p className="mt-3" role="status">
          {take.data.taken === 1 ? 'One line is' : `${showNumber(take.data.taken)} lines are`} in the draft.
        </p>
      )}
      {told && !take.data && (
        <>
          <p className="mt-3">
            {showNumber(count('new'))} new, {showNumber(count('changed'))} changed, {showNumber(count('same'))} as they
            are, {showNumber(count('wrong'))} wrong.
          </p>
          {told.ignored.length > 0 && <p className="text-ink-2">Columns not understood: {told.ignored.join(', ')}.</p>}
          <Button
            main
            className="mt-2 self-start"
            disabled={fit === 0 || take.isPending}
            onClick={() => take.mutate(file!.text)}
          >
            {fit === 1 ? 'Take the good line into the draft' : `Take the ${showNumber(fit)} good lines into the draft`}
          </Button>
          <ul className="mt-3 border-t border-rule" aria-label="Lines of the map">
            {told.lines.slice(0, MOST_SHOWN).map(({ line, name, what, sentence }) => (
              <li key={line} className="border-b border-rule py-1">
                <span className="flex gap-2">
                  <span className="figure w-10 shrink-0 text-right text-ink-2">{line}</span>
                  <span className="figure min-w-0 flex-1 truncate">{name}</span>
                  <span className={LOOKS[what]}>{what === 'same' ? 'as it is' : what}</span>
                </span>
                {sentence !== '' && <span className="block pl-12 text-ink-2">{sentence}</span>}
              </li>
            ))}
          </ul>
          {told.lines.length > MOST_SHOWN && (
            <p className="mt-1 text-ink-2">and {showNumber(told.lines.length - MOST_SHOWN)} more.</p>
          )}
        </>
      )}
    </Leaf>
  );
}
