/** Work that is planned: what will not be watched then is explained before it happens. And what was explained so far. */
import type { ExplanationRow, ExplanationsAnswer } from '@wide-ledger/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { usePlacePaths } from '../configuration/PlaceSelect.tsx';
import { Button } from '../controls/Button.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { SureButton } from '../controls/SureButton.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { askAnew } from '../server/anew.ts';
import { get, remove } from '../server/calls.ts';
import { useSources } from '../server/queries.ts';
import { instantAt, offsetOf, windowWords } from '../window/times.ts';
import { useWindowState, useZone } from '../window/windowStore.ts';
import { ReasonInput } from './ReasonInput.tsx';
import { useExplaining } from './useExplaining.ts';

/** So far back, and so far ahead, explanations are listed. */
const LISTED = { from: 'now-30d', to: 'now+366d' };

export function PlannedWork({ onClose }: { readonly onClose: () => void }) {
  const { data, error } = useQuery({
    queryKey: ['explanations'],
    queryFn: ({ signal }) => get<ExplanationsAnswer>('/gaps/explanations', LISTED, signal),
  });
  return (
    <Leaf title="Planned work" below="and what was explained in the last 30 days" onClose={onClose}>
      <PlanForm />
      <h3 className="mt-4 mb-1 font-semibold">Said so far</h3>
      {error && <Failure error={error} />}
      {!data && !error && <Skeleton rows={3} />}
      {data?.explanations.length === 0 && <Empty>Nothing was explained, and nothing is planned.</Empty>}
      <ul>
        {data?.explanations.map((one) => (
          <Said key={one.id} one={one} />
        ))}
      </ul>
    </Leaf>
  );
}

function Said({ one }: { readonly one: ExplanationRow }) {
  const client = useQueryClient();
  const zone = useZone();
  const takeBack = useMutation({
    mutationFn: () => remove(`/gaps/explanations/${one.id}`),
    onSettled: () => askAnew(client, ['explanations', 'gaps']),
  });
  const [from, to] = [Date.parse(one.from), Date.parse(one.to)];
  return (
    <li className="border-t border-rule py-2">
      <p className="figure">{windowWords(from, to, zone)}</p>
      <p>
        {one.about}: {one.reason}
      </p>
      <div className="flex items-center justify-between text-ink-2">
        <span>
          {one.by}
          {from > Date.now() ? ', planned' : ''}
        </span>
        <SureButton label="Take back" sure="Really take it back?" onSure={() => takeBack.mutate()} />
      </div>
      {takeBack.error && <Failure error={takeBack.error} />}
    </li>
  );
}

function PlanForm() {
  const siteZone = useWindowState((state) => state.siteZone);
  const places = usePlacePaths();
  const { data: sources = [] } = useSources();
  const [about, setAbout] = useState('');
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const { reason, setReason, say, isSayable } = useExplaining();
  const window = { from: instantAt(from, siteZone), to: instantAt(to, siteZone) };
  const upsideDown = window.from !== null && window.to !== null && window.to <= window.from;
  const time = (label: string, value: string, set: (value: string) => void) => (
    <label className="block min-w-0 flex-1">
      {label}
      <input
        type="datetime-local"
        className="figure mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-1"
        value={value}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  );
  return (
    <form
      aria-label="Planned work"
      className="flex flex-col gap-2"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        const [kind, name] = [about.slice(0, about.indexOf(':')), about.slice(about.indexOf(':') + 1)];
        say.mutate({ [kind]: name, ...window });
      }}
    >
      {say.error && <Failure error={say.error} />}
      <label className="block">
        Where
        <select
          className="mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-1"
          value={about}
          onChange={(event) => setAbout(event.target.value)}
        >
          <option value="">choose…</option>
          <optgroup label="A place, with all that lies in it">
            {places.map((path) => (
              <option key={path} value={`place:${path}`}>
                {path}
              </option>
            ))}
          </optgroup>
          <optgroup label="A source, with all its tags">
            {sources.map(({ id, name }) => (
              <option key={id} value={`source:${name}`}>
                {name}
              </option>
            ))}
          </optgroup>
        </select>
      </label>
      {time('From', from, setFrom)}
      {time('To', to, setTo)}
      <p className="text-ink-2">
        by the site’s clock, {siteZone} ({offsetOf(Date.now(), siteZone)} now)
      </p>
      {upsideDown && (
        <p role="status" className="text-ochre">
          It ends before it begins.
        </p>
      )}
      <ReasonInput label="Why" reason={reason} onReason={setReason} />
      <Button
        main
        type="submit"
        className="self-start"
        disabled={about === '' || window.from === null || window.to === null || upsideDown || !isSayable}
      >
        Plan it
      </Button>
    </form>
  );
}
