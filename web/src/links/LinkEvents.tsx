/** What befell a link, the newest first. */
import type { LinkLogAnswer } from '@wide-ledger/contract';
import { useQuery } from '@tanstack/react-query';
import { Failure, Skeleton } from '../controls/States.tsx';
import { get } from '../server/calls.ts';
import { stampAt } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';

const SHOWN = 30;
const REFRESH_MILLISECONDS = 5000;
const COLOURS: Readonly<Record<string, string>> = {
  away: 'text-madder',
  restored: 'text-ochre',
  'set aside': 'text-ochre',
};

export function LinkEvents({ id }: { readonly id: number }) {
  const zone = useZone();
  const { data, error } = useQuery({
    queryKey: ['link log', id],
    queryFn: ({ signal }) => get<LinkLogAnswer>(`/links/${id}/log`, {}, signal),
    refetchInterval: REFRESH_MILLISECONDS,
  });
  return (
    <section aria-label="Its log" className="mt-4">
      <h3 className="font-semibold">Its log</h3>
      {error && <Failure error={error} />}
      {!data && !error && <Skeleton rows={2} />}
      {data?.events.slice(0, SHOWN).map(({ id: event, at, what, sentence }) => (
        <p key={event} className="border-b border-rule py-1">
          <span className="figure text-ink-2">{stampAt(at, zone)}</span>{' '}
          <span className={COLOURS[what] ?? ''}>{sentence}</span>
        </p>
      ))}
    </section>
  );
}
