/** Changing one definition or many: their fields, and what can be done with them as a whole. */
import type { DraftChange } from '@wide-ledger/contract';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Failure, Skeleton } from '../controls/States.tsx';
import { nameIn, type DefinitionKind } from '@wide-ledger/core';
import { useDefinitions, useEdit, type Standing } from './drafting.ts';
import { DefinitionForm } from './form/DefinitionForm.tsx';

interface Props {
  readonly kind: DefinitionKind;
  readonly ids: readonly number[];
  readonly without?: readonly string[];
  /** Called with the number of what was copied or created. */
  readonly onCreated?: (id: number) => void;
}

export function EditPanel({ kind, ids, without, onCreated }: Props) {
  const { data, error } = useDefinitions(kind, ids);
  if (error) return <Failure error={error} />;
  if (!data) return <Skeleton rows={8} />;
  const there = data.filter(({ body }) => body !== null);
  return (
    <>
      {there.length > 0 && <DefinitionForm standings={there} {...(without ? { without } : {})} />}
      {there.length === 0 && <p className="text-ink-2">To be retired with the draft; its history stays.</p>}
      <Actions standings={data} {...(onCreated ? { onCreated } : {})} />
    </>
  );
}

function Actions({
  standings,
  onCreated,
}: {
  readonly standings: readonly Standing[];
  readonly onCreated?: (id: number) => void;
}) {
  const edit = useEdit();
  const [copying, setCopying] = useState<string | null>(null);
  const there = standings.filter(({ body }) => body !== null);
  const [first] = there;
  const canPause = first?.body?.paused !== undefined;
  const paused = there.every(({ body }) => body?.paused === true);
  const inDraft = standings.filter(({ life }) => life !== 'in force' && life !== 'retired');
  const send = (change: (standing: Standing) => DraftChange, among: readonly Standing[]): void =>
    edit.mutate(among.map(change));
  const copy = (): void => {
    if (!first || !copying) return;
    edit.mutate([{ kind: first.kind, id: first.id, copy: true, set: { name: copying } }], {
      onSuccess: ({ created }) => {
        setCopying(null);
        if (created[0] !== undefined) onCreated?.(created[0]);
      },
    });
  };
  return (
    <div className="mt-3 border-t border-rule pt-3">
      {edit.error && <Failure error={edit.error} />}
      <div className="flex flex-wrap gap-2">
        {canPause && (
          <Button onClick={() => send(({ kind, id }) => ({ kind, id, set: { paused: !paused } }), there)}>
            {paused ? 'Resume' : 'Pause'}
          </Button>
        )}
        {there.length === 1 && first?.kind !== 'store' && copying === null && (
          <Button onClick={() => setCopying(`${nameIn(first!.body)}-copy`)}>Copy</Button>
        )}
        {there.length > 0 && first?.kind !== 'store' && (
          <Button onClick={() => send(({ kind, id }) => ({ kind, id, retire: true }), there)}>Retire</Button>
        )}
        {inDraft.length > 0 && (
          <Button onClick={() => send(({ kind, id }) => ({ kind, id, discard: true }), inDraft)}>
            Take out of the draft
          </Button>
        )}
      </div>
      {copying !== null && (
        <form
          className="mt-2 flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            copy();
          }}
        >
          <input
            aria-label="Name of the copy"
            className="figure h-[30px] min-w-0 flex-1 rounded-paper border border-edge bg-paper px-2"
            value={copying}
            autoFocus
            onChange={(event) => setCopying(event.target.value)}
          />
          <Button type="submit" disabled={copying === ''}>
            Copy into the draft
          </Button>
        </form>
      )}
    </div>
  );
}
