/** Beginning a source: its name and its kind; the rest is filled in, and the path walked, while it stands in the draft. */
import { KINDS, SOURCE_KINDS, type SourceKind } from '@wide-ledger/contract';
import { useState } from 'react';
import { useEdit } from '../configuration/drafting.ts';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { Leaf } from '../frame/Leaf.tsx';

interface Props {
  readonly onClose: () => void;
  readonly onCreated: (id: number) => void;
}

export function NewSourceLeaf({ onClose, onCreated }: Props) {
  const edit = useEdit();
  const [name, setName] = useState('');
  const [kind, setKind] = useState<SourceKind>(SOURCE_KINDS[0]);
  const begin = (): void =>
    edit.mutate([{ kind: 'source', create: { name, kind, connection: {} } }], {
      onSuccess: ({ created }) => created[0] !== undefined && onCreated(created[0]),
    });
  return (
    <Leaf title="New source" below="in the draft until it is put in force" onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          begin();
        }}
      >
        <label className="mb-2.5 block">
          Name <span className="text-ink-2">as everybody will know it</span>
          <input
            className="figure mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2"
            value={name}
            autoFocus
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label className="mb-3 block">
          Kind
          <select
            className="mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-1.5"
            value={kind}
            onChange={(event) => setKind(event.target.value as SourceKind)}
          >
            {SOURCE_KINDS.map((one) => (
              <option key={one} value={one}>
                {KINDS[one].words}
              </option>
            ))}
          </select>
        </label>
        {edit.error && <Failure error={edit.error} />}
        <Button main type="submit" disabled={name.trim() === '' || edit.isPending}>
          Begin in the draft
        </Button>
      </form>
    </Leaf>
  );
}
