/** What is known to have happened around a gap, in the order of time. */
import type { Gap, GapStory } from '@wide-ledger/contract';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { get } from '../server/calls.ts';
import { stampAt } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';

const COLOURS: Readonly<Record<GapStory['events'][number]['told'], string>> = {
  outage: 'border-l-madder',
  end: 'border-l-verdigris',
  values: 'border-l-slate',
  recovery: 'border-l-verdigris',
  lease: 'border-l-slate',
  explanation: 'border-l-slate',
  logbook: 'border-l-rule',
};

/** @param of the tag or the source that it is a gap of. */
export function Story({
  of,
  gap: { from, to },
}: {
  readonly of: { tag: string } | { source: string };
  readonly gap: Gap;
}) {
  const zone = useZone();
  const [asked, setAsked] = useState(false);
  const { data, error } = useQuery({
    queryKey: ['story', of, from, to],
    queryFn: ({ signal }) => get<GapStory>('/gaps/story', { ...of, from, to }, signal),
    enabled: asked,
  });
  return (
    <section aria-label="Story" className="mt-4 border-t border-rule pt-3">
      <h3 className="mb-1 font-semibold">What happened around it</h3>
      {!asked && <Button onClick={() => setAsked(true)}>Tell</Button>}
      {error && <Failure error={error} />}
      {data?.events.length === 0 && <p className="text-ink-2">Nothing is known beside the gap itself.</p>}
      <ol>
        {data?.events.map(({ at, told, who, sentence }, i) => (
          <li key={`${at} ${i}`} className={`mb-1.5 border-l-2 pl-2 ${COLOURS[told]}`}>
            <span className="figure block text-ink-2">
              {stampAt(at, zone)}
              {who && told !== 'logbook' && ` · ${who}`}
            </span>
            {sentence}
          </li>
        ))}
      </ol>
    </section>
  );
}
