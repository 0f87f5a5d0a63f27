/** A link that leaves: what it carried, what it could not, and comparing its two ends. */
import type { Job, ReconcilingReport, SendingLink } from '@wide-ledger/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Button } from '../controls/Button.tsx';
import { Field } from '../controls/Field.tsx';
import { Facts } from '../controls/Page.tsx';
import { Failure } from '../controls/States.tsx';
import { showBytes, showNumber } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { JobState } from '../jobs/JobState.tsx';
import { askAnew } from '../server/anew.ts';
import { get, patch, post } from '../server/calls.ts';
import { lengthWords, windowWords } from '../window/times.ts';
import { useWindow, useZone } from '../window/windowStore.ts';
import { LinkEvents } from './LinkEvents.tsx';
import { LinkPath } from './LinkPath.tsx';
import { Terms } from './Terms.tsx';
import { SENDING_COLOURS } from './states.ts';

interface Props {
  readonly link: SendingLink;
  readonly onClose: () => void;
}

/** The last comparison of a link; null where there was none. */
const useLastReconciling = (name: string) =>
  useQuery({
    queryKey: ['reconciling', name],
    queryFn: ({ signal }) =>
      get<{ jobs: Job[] }>('/jobs', {}, signal).then(
        ({ jobs }) =>
          jobs.find(({ kind, title }) => kind === 'reconcile' && title.startsWith(`Reconciling ${name},`))?.id ?? null,
      ),
  });

export function SendingLeaf({ link, onClose }: Props) {
  const { samples, bytes, waiting, lagSeconds, refused, trouble } = link;
  return (
    <Leaf title={link.name} below={`to ${link.farName ?? link.url}`} onClose={onClose}>
      {trouble && <p className="mb-2 text-madder">{trouble}</p>}
      <Facts
        rows={[
          ['State', <span className={SENDING_COLOURS[link.state]}>{link.state}</span>],
          ['Address', <span className="figure wrap-anywhere">{link.url}</span>],
          ...secondRow(link),
          ['Tags', showNumber(link.tags)],
          ['Values', showNumber(samples)],
          // Of tables and files it is not known what goes over a line.
          ...(bytes === 0 ? [] : [['On the line', `${showBytes(bytes)}, ${bytesWords(bytes, samples)}`] as const]),
          [
            'Waiting',
            waiting === 0 ? 'nothing' : `${showNumber(waiting)}, ${lengthWords((lagSeconds ?? 0) * 1000)} old at most`,
          ],
          ['At the moment', paceWords(link)],
          ['Set aside', showNumber(link.setAside)],
          ...clockRow(link),
        ]}
      />
      {refused.length > 0 && (
        <section aria-label="Not carried" className="mt-3">
          <h3 className="font-semibold">Not carried</h3>
          {refused.map(({ tag, farName, reason }) => (
            <p key={tag} className="border-b border-rule py-1">
              <span className="figure">{tag}</span> <span className="text-ink-2">as {farName}:</span> {reason}
            </p>
          ))}
        </section>
      )}
      <Reins link={link} />
      {link.comparable && <Reconciling link={link} />}
      <Terms link={link} />
      <LinkPath to={{ link: link.id }} />
      <LinkEvents id={link.id} />
    </Leaf>
  );
}

const bytesWords = (bytes: number, samples: number): string =>
  samples === 0 ? 'no values yet' : `${(bytes / samples).toFixed(2)} B a value`;

/** Told only where there are two addresses. */
function secondRow({ secondUrl, inUse }: SendingLink): [string, ReactNode][] {
  if (secondUrl === '') return [];
  const words = inUse === secondUrl ? 'in use' : 'in reserve';
  return [
    [
      'Second address',
      <>
        <span className="figure wrap-anywhere">{secondUrl}</span>{' '}
        <span className={inUse === secondUrl ? 'text-ochre' : 'text-ink-2'}>{words}</span>
      </>,
    ],
  ];
}

/** Told only where both clocks differ. */
function clockRow({ clockAheadSeconds: ahead }: SendingLink): [string, ReactNode][] {
  if (ahead === null) return [];
  const words = `${lengthWords(Math.abs(ahead) * 1000)} ${ahead > 0 ? 'ahead' : 'behind'}`;
  return [['Clock there', <span className="text-ochre">{words}</span>]];
}

/** How fast it is, and when it will have caught up. */
function paceWords({ valuesPerSecond, bytesPerSecond, catchUpSeconds, waiting }: SendingLink): string {
  const rate = `${showNumber(Math.round(valuesPerSecond))} values/s, ${showBytes(Math.round(bytesPerSecond))}/s`;
  if (waiting === 0 || catchUpSeconds === 0) return rate;
  return catchUpSeconds === null
    ? `${rate}; it does not catch up`
    : `${rate}; level in ${lengthWords(catchUpSeconds * 1000)}`;
}

/** Pausing a link, letting it go on, and giving it another key where its own is not known any more. */
function Reins({ link: { id, state, kind } }: Pick<Props, 'link'>) {
  const client = useQueryClient();
  const [code, setCode] = useState('');
  const change = useMutation({
    mutationFn: (body: { paused: boolean } | { code: string }) => patch<SendingLink>(`/links/${id}`, body),
    onSuccess: () => askAnew(client, ['links']),
  });
  return (
    <div className="mt-3">
      {state === 'away' && kind === 'site' && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (code) change.mutate({ code });
          }}
        >
          <Field label="Code" hint="of another invitation, where its key was revoked" value={code} onChange={setCode} />
          <Button type="submit" disabled={!code || change.isPending}>
            Join again
          </Button>
        </form>
      )}
      <Button disabled={change.isPending} onClick={() => change.mutate({ paused: state !== 'paused' })}>
        {state === 'paused' ? 'Go on' : 'Pause'}
      </Button>
      {change.error && <Failure error={change.error} />}
    </div>
  );
}

function Reconciling({ link: { id, name, kind } }: Pick<Props, 'link'>) {
  const client = useQueryClient();
  const window = useWindow();
  const zone = useZone();
  const { data: last = null } = useLastReconciling(name);
  const [removals, setRemovals] = useState(false);
  const begin = useMutation({
    mutationFn: (repair: 'nothing' | 'there' | 'here') =>
      post<{ job: number }>(`/links/${id}/reconcile`, {
        from: new Date(window.from).toISOString(),
        to: new Date(window.to).toISOString(),
        repair,
        removals: removals && repair !== 'nothing',
      }),
    onSuccess: () => askAnew(client, ['reconciling', 'job']),
  });
  return (
    <section aria-label="Reconciling" className="mt-4">
      <h3 className="font-semibold">Is it the same there?</h3>
      <p className="mb-2 text-ink-2">
        Both ends are compared by their tallies over this window, {windowWords(window.from, window.to, zone)}. Values
        that are still waiting to be carried are left out. Mending writes the values that one end lacks or that differ;
        the old values stay in its modified history.
      </p>
      <div className="flex flex-wrap gap-2">
        <Button main disabled={begin.isPending} onClick={() => begin.mutate('nothing')}>
          Compare
        </Button>
        <Button disabled={begin.isPending} onClick={() => begin.mutate('there')}>
          Mend there
        </Button>
        {kind !== 'files' && (
          <Button disabled={begin.isPending} onClick={() => begin.mutate('here')}>
            Mend here
          </Button>
        )}
      </div>
      <label className="mt-2 flex items-start gap-2">
        <input
          type="checkbox"
          className="mt-1"
          checked={removals}
          onChange={({ target }) => setRemovals(target.checked)}
        />
        <span>
          Remove extra values when mending
          <span className="block text-ink-2">
            These are values that only the mended end has. Compare first to see them. A daily comparison never removes
            any.
          </span>
        </span>
      </label>
      {begin.error && <Failure error={begin.error} />}
      {last !== null && (
        <div className="mt-3">
          <JobState key={last} id={last} name="Reconciling" changes={['links', 'reconciling']}>
            {(told) => <Differing report={told as ReconcilingReport} zone={zone} />}
          </JobState>
        </div>
      )}
    </section>
  );
}

const SHOWN = 50;

function Differing({ report: { differing, hours, from, to }, zone }: { report: ReconcilingReport; zone: string }) {
  return (
    <>
      <p className="text-ink-2">{windowWords(Date.parse(from), Date.parse(to), zone)}</p>
      {differing.slice(0, SHOWN).map((one) => (
        <p key={`${one.tag} ${one.from}`} className="border-b border-rule py-1">
          <span className="figure">{one.tag}</span>{' '}
          <span className="text-ink-2">{windowWords(Date.parse(one.from), Date.parse(one.to), zone)}:</span>{' '}
          {differenceWords(one)}
        </p>
      ))}
      {hours > SHOWN && <p className="py-1 text-ink-2">and {showNumber(hours - SHOWN)} hours more</p>}
    </>
  );
}

const differenceWords = (one: ReconcilingReport['differing'][number]): string =>
  [
    [one.missingThere, 'missing there'],
    [one.missingHere, 'missing here'],
    [one.differentValue, 'of another value'],
    [one.differentStatus, 'of another status'],
  ]
    .filter(([count]) => Number(count) > 0)
    .map(([count, words]) => `${showNumber(Number(count))} ${words}`)
    .join(', ');
