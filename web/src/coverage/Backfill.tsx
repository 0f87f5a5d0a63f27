/** Fetching what is missing from where it is kept: the plan first, then the job, then what is still missing and why. */
import type { BackfillAnswer, BackfillReport } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Facts } from '../controls/Page.tsx';
import { Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { JobState } from '../jobs/JobState.tsx';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';
import { lengthWords, stamp, windowWords } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';

interface Props {
  /** Whose history: of one tag, or of all tags of a source. */
  readonly of: { readonly tags: readonly string[] } | { readonly source: string };
  readonly from: string;
  readonly to: string;
}

type Overlap = 'fill' | 'replace';

export function Backfill({ of, from, to }: Props) {
  const client = useQueryClient();
  const [overlap, setOverlap] = useState<Overlap>('fill');
  const ask = useMutation({
    mutationFn: (given: { overlap: Overlap; dryRun: boolean }) =>
      post<BackfillAnswer>('/backfills', { ...of, from, to, ...given }),
    onSuccess: ({ job }) => (job === null ? undefined : askAnew(client, ['desk', 'gaps', 'coverage'])),
  });
  const { data } = ask;
  const plan = (chosen: Overlap): void => {
    setOverlap(chosen);
    ask.mutate({ overlap: chosen, dryRun: true });
  };
  return (
    <section aria-label="Backfill" className="mt-4 border-t border-rule pt-3">
      <h3 className="mb-1 font-semibold">Fetch it from the source</h3>
      {ask.error && <Failure error={ask.error} />}
      {data?.job ? (
        <JobState id={data.job} name="Backfill" changes={['gaps', 'coverage', 'ribbon']}>
          {(report) => <Remains report={report as BackfillReport} />}
        </JobState>
      ) : data ? (
        <>
          <p>{data.plan.sentence}</p>
          {data.plan.parts.map((part) => (
            <PartFacts key={part.source} part={part} />
          ))}
          {data.plan.leftOut.length > 0 && (
            <ul className="mt-2 max-h-32 overflow-y-auto text-ink-2" tabIndex={0} aria-label="Left out">
              {data.plan.leftOut.map(({ tag, reason }) => (
                <li key={tag + reason}>
                  <span className="figure">{tag}</span>: {reason}
                </li>
              ))}
            </ul>
          )}
          <div className="mt-3 flex flex-wrap items-center gap-2">
            <select
              aria-label="What to fetch"
              className="h-[30px] rounded-paper border border-rule bg-raised px-1"
              value={overlap}
              onChange={(event) => plan(event.target.value as Overlap)}
            >
              <option value="fill">only what is missing</option>
              <option value="replace">all of it, and compare</option>
            </select>
            <Button
              main
              disabled={ask.isPending || data.plan.parts.length === 0}
              onClick={() => ask.mutate({ overlap, dryRun: false })}
            >
              Begin
            </Button>
          </div>
        </>
      ) : (
        <Button disabled={ask.isPending} onClick={() => plan('fill')}>
          Plan it
        </Button>
      )}
    </section>
  );
}

function PartFacts({ part }: { readonly part: BackfillAnswer['plan']['parts'][number] }) {
  const zone = useZone();
  const { source, tags, stretches, seconds, values, calls, lasts, reachesBack, olderSeconds } = part;
  return (
    <Facts
      rows={[
        ['Source', source],
        [
          'Missing',
          `${lengthWords(seconds * 1000)} in ${showNumber(stretches)} ${stretches === 1 ? 'stretch' : 'stretches'}, of ${showNumber(tags)} ${tags === 1 ? 'tag' : 'tags'}`,
        ],
        ['At most', `${showNumber(values)} values in ${showNumber(calls)} calls`],
        ['Takes about', lengthWords(lasts * 1000)],
        ['It still has', reachesBack === null ? 'not known' : `what is since ${stamp(Date.parse(reachesBack), zone)}`],
        ...(olderSeconds > 0
          ? [
              [
                'Too old',
                <span className="text-ochre">{lengthWords(olderSeconds * 1000)} lie before that</span>,
              ] as const,
            ]
          : []),
      ]}
    />
  );
}

function Remains({ report }: { readonly report: BackfillReport }) {
  const zone = useZone();
  const { missingBefore, missingAfter, remains } = report;
  return (
    <>
      <Facts
        rows={[
          ['Missing before', `${lengthWords(missingBefore * 1000)}, of all tags together`],
          ['Missing now', missingAfter === 0 ? 'nothing' : lengthWords(missingAfter * 1000)],
        ]}
      />
      {remains.length > 0 && (
        <ul className="mt-2 max-h-48 overflow-y-auto" tabIndex={0} aria-label="Still missing">
          {remains.map(({ tag, from, to, reason }) => (
            <li key={`${tag} ${from}`} className="border-t border-rule py-1">
              <span className="figure">{tag}</span>, {windowWords(Date.parse(from), Date.parse(to), zone)}: {reason}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
