/** What was changed of a tag's definition, here and at the site that it comes from, the latest first. */
import type { TagChanges as Answer } from '@wide-ledger/contract';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { get } from '../server/calls.ts';
import { stampAt } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';

/** So many at first, and more each time. */
const SHOWN = 5;

export function TagChanges({ tag }: { readonly tag: string }) {
  const zone = useZone();
  const [shown, setShown] = useState(SHOWN);
  const { data, error } = useQuery({
    queryKey: ['tag changes', tag],
    queryFn: ({ signal }) => get<Answer>(`/tags/${encodeURIComponent(tag)}/changes`, {}, signal),
  });
  if (error) return <Failure error={error} />;
  if (!data || data.changes.length === 0) return null;
  return (
    <section aria-label="Changes" className="mt-4 border-t border-rule pt-3">
      <h3 className="mb-1 font-semibold">What was changed of it</h3>
      <ol>
        {data.changes.slice(0, shown).map(({ at, by, site, reason, fields }, i) => (
          <li key={`${at} ${i}`} className="mb-1.5 border-l-2 border-l-slate pl-2">
            <span className="figure block text-ink-2">
              {stampAt(at, zone)} · {by}
              {site !== null && ` · at ${site}`}
            </span>
            {reason && <span className="block">{reason}</span>}
            {fields.map(({ title, from, to }) => (
              <span key={title} className="block wrap-anywhere">
                {title}: <span className="figure">{from || 'none'}</span> →{' '}
                <span className="figure">{to || 'none'}</span>
              </span>
            ))}
          </li>
        ))}
      </ol>
      {data.changes.length > shown && (
        <Button onClick={() => setShown(shown + SHOWN)}>
          {`Show ${Math.min(SHOWN, data.changes.length - shown)} more of ${data.changes.length}`}
        </Button>
      )}
    </section>
  );
}
