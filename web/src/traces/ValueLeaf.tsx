/** One archived value: everything about it, and what a person can do: correct, remove, annotate. */
import type { Tag } from '@wide-ledger/contract';
import { formatInstant, parseInstant } from '@wide-ledger/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent, type ReactNode } from 'react';
import { Button } from '../controls/Button.tsx';
import { Facts } from '../controls/Page.tsx';
import { Failure } from '../controls/States.tsx';
import { showValue } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';
import { offsetOf, stamp } from '../window/times.ts';
import { useWindowState } from '../window/windowStore.ts';
import type { RawSample } from './RawTable.tsx';
import { typedValue } from './typedValue.ts';

interface Props {
  readonly tag: Tag;
  readonly sample: RawSample;
  readonly onClose: () => void;
}

interface Answer {
  readonly accepted?: number;
  readonly setAside?: readonly { readonly reason: string }[];
}

export function ValueLeaf({ tag, sample, onClose }: Props) {
  const siteZone = useWindowState((state) => state.siteZone);
  const client = useQueryClient();
  const [value, setValue] = useState(sample.value === null ? '' : String(sample.value));
  const [reason, setReason] = useState('');
  const [note, setNote] = useState('');
  const time = Date.parse(sample.time);
  const act = useMutation({
    mutationFn: async ({ path, body }: { path: string; body: unknown }) => {
      const answer = await post<Answer>(path, body);
      const refused = answer.setAside?.[0];
      if (refused) throw new Error(refused.reason);
    },
    onSuccess: async () => {
      await askAnew(client, ['raw', 'modified', 'processed', 'envelope', 'annotations', 'point']);
      onClose();
    },
  });
  const form = (label: string, onSubmit: () => void, children: ReactNode, action: ReactNode) => (
    <form
      aria-label={label}
      className="mt-4 border-t border-rule pt-3"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        onSubmit();
      }}
    >
      {children}
      <div className="mt-2 flex gap-2">{action}</div>
    </form>
  );
  const field = (label: string, text: string, set: (text: string) => void, hint = '') => (
    <label className="mb-2 block">
      {label} <span className="text-ink-2">{hint}</span>
      <input
        className="figure mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2"
        value={text}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  );
  // One microsecond: another value may stand right behind it.
  const next = formatInstant(parseInstant(sample.time)! + 1);
  const right = typedValue(tag, value);
  const correction = { tag: tag.name, reason, samples: [{ time: sample.time, value: right }] };
  const removal = { tag: tag.name, reason, from: sample.time, to: next };
  return (
    <Leaf title={`${showValue(sample.value)} ${tag.unit}`} below={tag.name} onClose={onClose}>
      <Facts
        rows={[
          ['Time', <span className="figure">{`${stamp(time, siteZone)} ${offsetOf(time, siteZone)}`}</span>],
          ['In UTC', <span className="figure">{stamp(time, 'UTC')}</span>],
          ['Status', sample.quality],
          ['Code', <span className="figure">0x{sample.status.toString(16).toUpperCase().padStart(8, '0')}</span>],
          ['Origin', sample.origin],
        ]}
      />
      {act.error && <Failure error={act.error} />}
      {form(
        'Correct or remove',
        () => act.mutate({ path: '/history/corrections', body: correction }),
        <>
          {field('Correct value', value, setValue, tag.unit)}
          {right === null && (
            <p role="status" className="mb-2 text-ochre">
              {value.trim() === ''
                ? 'Type the right value. A value that should not be there is removed.'
                : `“${value}” is no value of type ${tag.type}.`}
            </p>
          )}
          {field('Reason', reason, setReason, 'stays with the old value')}
        </>,
        <>
          <Button main type="submit" disabled={right === null || reason.trim() === '' || act.isPending}>
            Correct
          </Button>
          <Button
            disabled={reason.trim() === '' || act.isPending}
            onClick={() => act.mutate({ path: '/history/removals', body: removal })}
          >
            Remove the value
          </Button>
        </>,
      )}
      {form(
        'Annotate',
        () => act.mutate({ path: '/annotations', body: { tag: tag.name, time: sample.time, text: note } }),
        field('Annotation', note, setNote, 'on this tag and time'),
        <Button type="submit" disabled={note.trim() === '' || act.isPending}>
          Annotate
        </Button>,
      )}
    </Leaf>
  );
}
