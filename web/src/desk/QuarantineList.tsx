/** Entries that could not be posted, and what a person may decide about each. */
import type { QUARANTINE_DECISIONS, QuarantinedEntry } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';
import { stamp, windowWords } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';

interface Choice {
  readonly id: number;
  readonly decision: (typeof QUARANTINE_DECISIONS)[number];
}

export function QuarantineList({ entries }: { readonly entries: readonly QuarantinedEntry[] }) {
  const zone = useZone();
  const client = useQueryClient();
  const decide = useMutation({
    mutationFn: ({ id, decision }: Choice) => post(`/quarantine/${id}`, { decision }),
    onSettled: () => askAnew(client, ['desk']),
  });
  if (entries.length === 0) return null;
  return (
    <section aria-label="Quarantine" id="quarantine">
      <h2 className="mt-5 mb-1 font-semibold">
        Quarantine{' '}
        <span className="font-normal text-ink-2">
          · entries that could not be posted; every value is kept until somebody decides
        </span>
      </h2>
      {decide.error && <Failure error={decide.error} />}
      <ul className="border-t border-ink/70">
        {entries.map((entry) => {
          const { id, samples, tags, from, to, failure, at, writer } = entry;
          const [first, ...others] = tags;
          const span = from && to ? `, ${windowWords(Date.parse(from), Date.parse(to), zone)}` : '';
          return (
            <li key={id} className="flex items-center gap-3 border-b border-rule py-2">
              <span className="figure w-52 shrink-0">{stamp(Date.parse(at), zone)}</span>
              <span className="min-w-0 flex-1">
                {showNumber(samples)} values of {first}
                {others.length > 0 && ` and ${others.length} more`}
                {span}, from {writer}
                <span className="block text-ink-2">{failure}</span>
              </span>
              <Button
                disabled={decide.isPending}
                aria-label={`Post entry ${entry.entry} again`}
                onClick={() => decide.mutate({ id, decision: 'post again' })}
              >
                Post again
              </Button>
              <Button
                disabled={decide.isPending}
                aria-label={`Set the values of entry ${entry.entry} aside`}
                onClick={() => decide.mutate({ id, decision: 'set aside' })}
              >
                Set aside
              </Button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
