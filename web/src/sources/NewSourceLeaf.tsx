/** Beginning a source: its name, kind and collector; the rest is filled in, and the path walked, while it stands in the draft. */
import { KINDS, SOURCE_KINDS, type SourceKind } from '@wide-ledger/contract';
import { useState } from 'react';
import { NewDefinitionLeaf } from '../configuration/NewDefinitionLeaf.tsx';
import { Offered } from '../configuration/form/FieldInput.tsx';
import { useCollectorNames } from '../server/queries.ts';

interface Props {
  readonly onClose: () => void;
  readonly onCreated: (id: number) => void;
}

const LOOK = 'mt-1 block h-8 w-full rounded-paper border border-edge bg-paper px-1.5';

export function NewSourceLeaf({ onClose, onCreated }: Props) {
  const [kind, setKind] = useState<SourceKind>(SOURCE_KINDS[0]);
  const [typed, setTyped] = useState<string | null>(null);
  const collectors = useCollectorNames();
  // What it says about itself is one collector's; anything else any of them can read.
  const collector = (typed ?? (kind === 'collector' ? (collectors[0] ?? '') : '')).trim();
  return (
    <NewDefinitionLeaf
      kind="source"
      fields={{ kind, connection: {}, ...(collector === '' ? {} : { collector }) }}
      onClose={onClose}
      onCreated={onCreated}
    >
      <label className="mb-3 block">
        Kind
        <select className={LOOK} value={kind} onChange={(event) => setKind(event.target.value as SourceKind)}>
          {SOURCE_KINDS.map((one) => (
            <option key={one} value={one}>
              {KINDS[one].words}
            </option>
          ))}
        </select>
      </label>
      <label className="mb-3 block">
        Collector
        <input
          className={LOOK}
          list="collectors-offered"
          placeholder="that reads it; empty: any"
          value={typed ?? collector}
          onChange={(event) => setTyped(event.target.value)}
        />
        <Offered id="collectors-offered" texts={collectors} />
      </label>
    </NewDefinitionLeaf>
  );
}
