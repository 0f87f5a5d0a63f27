/** Beginning something new: its name first, then it stands in the draft and the rest is filled in. */
import type { DefinitionKind } from '@wide-ledger/core';
import { useState, type ReactNode } from 'react';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { useEdit } from './drafting.ts';

interface Props {
  readonly kind: DefinitionKind;
  /** What it begins with beside its name. */
  readonly fields?: Readonly<Record<string, unknown>>;
  /** Further inputs, below the name. */
  readonly children?: ReactNode;
  readonly onClose: () => void;
  readonly onCreated: (id: number) => void;
}

export function NewDefinitionLeaf({ kind, fields = {}, children, onClose, onCreated }: Props) {
  const edit = useEdit();
  const [name, setName] = useState('');
  return (
    <Leaf title={`New ${kind}`} below="in the draft until it is put in force" onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          edit.mutate([{ kind, create: { ...fields, name } }], {
            onSuccess: ({ created }) => created[0] !== undefined && onCreated(created[0]),
          });
        }}
      >
        <label className="mb-3 block">
          Name
          <input
            className="figure mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-2"
            value={name}
            autoFocus
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        {children}
        {edit.error && <Failure error={edit.error} />}
        <Button main type="submit" disabled={name.trim() === '' || edit.isPending}>
          Begin in the draft
        </Button>
      </form>
    </Leaf>
  );
}
