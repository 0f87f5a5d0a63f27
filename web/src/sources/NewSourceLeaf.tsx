/** Beginning a source: its name and its kind; the rest is filled in, and the path walked, while it stands in the draft. */
import { KINDS, SOURCE_KINDS, type SourceKind } from '@wide-ledger/contract';
import { useState } from 'react';
import { NewDefinitionLeaf } from '../configuration/NewDefinitionLeaf.tsx';

interface Props {
  readonly onClose: () => void;
  readonly onCreated: (id: number) => void;
}

export function NewSourceLeaf({ onClose, onCreated }: Props) {
  const [kind, setKind] = useState<SourceKind>(SOURCE_KINDS[0]);
  return (
    <NewDefinitionLeaf kind="source" fields={{ kind, connection: {} }} onClose={onClose} onCreated={onCreated}>
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
    </NewDefinitionLeaf>
  );
}
