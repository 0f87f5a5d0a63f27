/** A tag read fast for a minute: what of it moves faster than its record can tell. Nothing of it is archived. */
import type { Burst, Tag } from '@wide-ledger/contract';
import { fastestMovement, sampledAt, samplingWords, spectrumOf } from '@wide-ledger/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { JobState } from '../jobs/JobState.tsx';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';
import { burstColumns } from './burstColumns.ts';
import { Spectrum } from './Spectrum.tsx';

const PACE = { everyMilliseconds: 50, seconds: 60 };

interface Props {
  readonly tag: Tag;
  /** At which it is read, tried or in force; seconds, null where nobody reads it. */
  readonly interval: number | null;
}

export function FastReading({ tag, interval }: Props) {
  const client = useQueryClient();
  const begin = useMutation({
    mutationFn: () => post<{ job: number }>('/bursts', { tag: tag.name, ...PACE }),
    // A tag has one job for all of its bursts: what was known of it is over.
    onSuccess: () => askAnew(client, ['job']),
  });
  return (
    <section aria-label="Fast reading" className="mb-2 shrink-0 border-t border-rule pt-2">
      {begin.error && <Failure error={begin.error} />}
      <div className="flex flex-wrap items-start gap-x-4 gap-y-1">
        <Button disabled={begin.isPending} onClick={() => begin.mutate()}>
          Read it every 50 ms for a minute
        </Button>
        <div className="min-w-64 flex-1">
          {begin.data ? (
            <JobState key={begin.data.job} id={begin.data.job} name={`Reading ${tag.name} fast`} changes={['jobs']}>
              {(report) => report !== null && <Read burst={report as Burst} interval={interval} />}
            </JobState>
          ) : (
            <p className="text-ink-2">
              What is recorded cannot tell of what is faster than two of its values. This asks the source itself, beside
              everything else; nothing of it is archived.
            </p>
          )}
        </div>
      </div>
    </section>
  );
}

function Read({ burst, interval }: { readonly burst: Burst; readonly interval: number | null }) {
  const { movement, spectrum } = useMemo(() => {
    const columns = burstColumns(burst);
    return { movement: fastestMovement(columns), spectrum: spectrumOf(columns) };
  }, [burst]);
  const sampled = movement && interval !== null ? sampledAt(movement, interval) : null;
  return (
    <>
      {movement && sampled && <p>{samplingWords(movement, sampled)}</p>}
      <Spectrum spectrum={spectrum} movement={movement} interval={interval} />
    </>
  );
}
