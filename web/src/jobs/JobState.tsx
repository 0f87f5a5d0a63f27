/** A piece of long work: how far it is, its reins, and what came of it. */
import type { Job } from '@wide-ledger/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, type ReactNode } from 'react';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { askAnew } from '../server/anew.ts';
import { get, post } from '../server/calls.ts';
import { lengthWords } from '../window/times.ts';

const OVER: readonly Job['state'][] = ['done', 'failed', 'stopped'];
export const isOver = ({ state }: Job): boolean => OVER.includes(state);

/** @param id null: none is asked for. */
export const useJob = (id: number | null) =>
  useQuery({
    queryKey: ['job', id],
    queryFn: ({ signal }) => get<Job>(`/jobs/${id}`, {}, signal),
    enabled: id !== null,
    refetchInterval: ({ state }) => (state.data && isOver(state.data) ? false : 1000),
  });

/** How much is done, and about how long the rest takes at the rate so far. */
function progressWords({ state, done, total, unit, startedAt, updatedAt }: Job): string {
  if (total === 0) return '';
  const counted = `${showNumber(done)} of ${showNumber(total)} ${unit}`;
  const taken = Date.parse(updatedAt) - Date.parse(startedAt);
  if (state !== 'running' || done === 0 || done >= total || taken < LEAST_TAKEN) return counted;
  return `${counted}, about ${lengthWords((taken * (total - done)) / done)} left`;
}

/** From less nothing is told of the rate. Milliseconds. */
const LEAST_TAKEN = 2000;

interface Props {
  readonly id: number;
  /** What is done, for who cannot see the bar. */
  readonly name: string;
  /** First words of the questions whose answers are others when it is over. */
  readonly changes: readonly string[];
  readonly children?: (report: unknown) => ReactNode;
}

export function JobState({ id, name, changes, children }: Props) {
  const client = useQueryClient();
  const { data: job, error } = useJob(id);
  const over = job !== undefined && isOver(job);
  const anew = changes.join(' ');
  useEffect(() => {
    if (over) void askAnew(client, anew.split(' '));
  }, [over, client, anew]);
  const act = useMutation({
    mutationFn: (wish: 'pause' | 'resume' | 'stop') => post(`/jobs/${id}/${wish}`),
    onSettled: () => askAnew(client, ['job']),
  });
  if (error) return <Failure error={error} />;
  if (!job) return null;
  return (
    <div data-testid="job">
      <p>
        <span
          className={job.state === 'failed' ? 'text-madder' : job.state === 'done' ? 'text-verdigris' : 'text-ochre'}
        >
          {job.state}
        </span>{' '}
        · {job.sentence}
        {!over && <span className="text-ink-2"> {progressWords(job)}</span>}
      </p>
      {job.total > 0 && !over && (
        <div
          role="progressbar"
          aria-label={name}
          aria-valuenow={job.done}
          aria-valuemax={job.total}
          className="mt-2 h-2 bg-rule"
        >
          <div className="h-full bg-verdigris" style={{ width: `${(job.done / job.total) * 100}%` }} />
        </div>
      )}
      {act.error && <Failure error={act.error} />}
      {!over && (
        <div className="mt-3 flex gap-2">
          {job.state === 'paused' ? (
            <Button onClick={() => act.mutate('resume')}>Go on</Button>
          ) : (
            <Button onClick={() => act.mutate('pause')}>Pause</Button>
          )}
          <Button onClick={() => act.mutate('stop')}>Stop</Button>
        </div>
      )}
      {job.report !== null && children?.(job.report)}
    </div>
  );
}
