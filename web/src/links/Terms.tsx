/** On which terms a link carries: how much at what time of day, and whether both ends are compared by themselves. */
import { siteAddress, type SendingLink } from '@wide-ledger/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Field } from '../controls/Field.tsx';
import { Failure } from '../controls/States.tsx';
import { typedNumber } from '../controls/typedNumber.ts';
import { askAnew } from '../server/anew.ts';
import { patch } from '../server/calls.ts';
import { stampAt } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';
import { Summed, type Carried } from './Summed.tsx';

type Terms = Pick<SendingLink, 'limits' | 'reconciles' | 'liveFirst' | 'secondUrl'> & Carried;
type Limit = SendingLink['limits'][number];

const limitWords = ({ from, to, kilobytesPerSecond }: Limit): string =>
  `${kilobytesPerSecond} kB/s${from === to ? ' all day' : ` from ${from} to ${to}`}`;

const LOOK = 'mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2';
const MENDS = { nothing: 'nothing: it only tells', there: 'the far end', here: 'this end' } as const;

export function Terms({ link }: { readonly link: SendingLink }) {
  const client = useQueryClient();
  const zone = useZone();
  const { id, kind, limits, liveFirst, reconciles, comparable, detail, summaries, summarisedUntil } = link;
  const change = useMutation({
    mutationFn: (terms: Partial<Terms>) => patch<SendingLink>(`/links/${id}`, terms),
    onSuccess: () => askAnew(client, ['links', 'link log']),
  });
  return (
    <section aria-label="Terms" className="mt-4">
      {kind !== 'files' && (
        <>
          <h3 className="font-semibold">What it carries of each tag</h3>
          <Summed
            detail={detail}
            summaries={summaries}
            disabled={change.isPending}
            onChange={(carried) => change.mutate({ ...carried, summaries: [...carried.summaries] })}
          />
          {summaries.length > 0 && summarisedUntil !== null && (
            <p className="text-ink-2">
              The far end has the summaries of what was over by {stampAt(summarisedUntil, zone)}.
            </p>
          )}
        </>
      )}
      <h3 className="mt-4 font-semibold">How much it may send</h3>
      {limits.length === 0 && <p className="text-ink-2">As much as the line bears, at any time.</p>}
      {limits.map((limit, i) => (
        <p key={i} className="flex items-center justify-between border-b border-rule py-1">
          {limitWords(limit)}
          <Button
            disabled={change.isPending}
            onClick={() => change.mutate({ limits: limits.filter((_, other) => other !== i) })}
          >
            Lift
          </Button>
        </p>
      ))}
      <NewLimit disabled={change.isPending} onSet={(limit) => change.mutate({ limits: [...limits, limit] })} />
      {comparable && kind !== 'files' && (
        <label className="mt-2 flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-verdigris"
            checked={liveFirst}
            disabled={change.isPending}
            onChange={(event) => change.mutate({ liveFirst: event.target.checked })}
          />
          What comes now goes before what waits
        </label>
      )}
      {kind === 'site' && (
        <SecondAddress
          key={link.secondUrl}
          link={link}
          disabled={change.isPending}
          onSet={(secondUrl) => change.mutate({ secondUrl })}
        />
      )}
      {comparable && (
        <>
          <h3 className="mt-4 font-semibold">Compared by itself</h3>
          {reconciles === null ? (
            <NewSchedule kind={kind} disabled={change.isPending} onSet={(to) => change.mutate({ reconciles: to })} />
          ) : (
            <p className="flex items-center justify-between gap-2 border-b border-rule py-1">
              <span>
                Every day at {reconciles.at}, over {reconciles.days} days; mends {MENDS[reconciles.repair]}.
              </span>
              <Button disabled={change.isPending} onClick={() => change.mutate({ reconciles: null })}>
                Stop that
              </Button>
            </p>
          )}
        </>
      )}
      {change.error && <Failure error={change.error} />}
    </section>
  );
}

interface SecondAddressProps {
  readonly link: SendingLink;
  readonly disabled: boolean;
  readonly onSet: (url: string) => void;
}

/** Another address of the same site, for when the first one does not answer. */
function SecondAddress({ link: { secondUrl }, disabled, onSet }: SecondAddressProps) {
  const [url, setUrl] = useState(secondUrl);
  const fits = url === '' || siteAddress.safeParse(url).success;
  return (
    <form
      className="mt-4 flex items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (fits) onSet(url);
      }}
    >
      <div className="min-w-0 flex-1">
        <Field label="Second address" hint="of the same site" value={url} onChange={setUrl} />
      </div>
      <Button type="submit" className="mb-2.5" disabled={disabled || !fits || url === secondUrl}>
        Set
      </Button>
    </form>
  );
}

interface NewLimitProps {
  readonly disabled: boolean;
  readonly onSet: (limit: Limit) => void;
}

function NewLimit({ disabled, onSet }: NewLimitProps) {
  const [from, setFrom] = useState('06:00');
  const [to, setTo] = useState('22:00');
  const [most, setMost] = useState('');
  const kilobytesPerSecond = typedNumber(most) ?? null;
  return (
    <details className="mt-1">
      <summary className="cursor-pointer text-ink-2">Limit it</summary>
      <form
        className="mt-1"
        onSubmit={(event) => {
          event.preventDefault();
          if (kilobytesPerSecond === null) return;
          onSet({ from, to, kilobytesPerSecond });
          setMost('');
        }}
      >
        <div className="flex gap-2">
          <Field label="From" value={from} onChange={setFrom} />
          <Field label="To" hint="the same: all day" value={to} onChange={setTo} />
          <Field label="kB/s" value={most} onChange={setMost} />
        </div>
        <Button type="submit" disabled={disabled || kilobytesPerSecond === null}>
          Set
        </Button>
      </form>
    </details>
  );
}

interface NewScheduleProps {
  readonly kind: SendingLink['kind'];
  readonly disabled: boolean;
  readonly onSet: (schedule: NonNullable<SendingLink['reconciles']>) => void;
}

function NewSchedule({ kind, disabled, onSet }: NewScheduleProps) {
  const [at, setAt] = useState('03:00');
  const [typed, setTyped] = useState('35');
  const [repair, setRepair] = useState<keyof typeof MENDS>('nothing');
  const days = typedNumber(typed) ?? null;
  return (
    <details className="mt-1">
      <summary className="cursor-pointer text-ink-2">Not yet: do it every day</summary>
      <form
        className="mt-1"
        onSubmit={(event) => {
          event.preventDefault();
          if (days !== null) onSet({ at, days, repair });
        }}
      >
        <div className="flex gap-2">
          <Field label="At" value={at} onChange={setAt} />
          <Field label="Days back" value={typed} onChange={setTyped} />
        </div>
        <label className="mb-2.5 block">
          Mends
          <select
            className={LOOK}
            value={repair}
            onChange={(event) => setRepair(event.target.value as keyof typeof MENDS)}
          >
            {/* Files tell nothing that this end could take. */}
            {Object.entries(MENDS)
              .filter(([value]) => kind !== 'files' || value !== 'here')
              .map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
          </select>
        </label>
        <Button type="submit" disabled={disabled || days === null}>
          Set
        </Button>
      </form>
    </details>
  );
}
