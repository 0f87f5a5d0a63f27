/** The leaf of several marked definitions of a kind: what they share, what differs, and changing it for all of them. */
import type { DefinitionKind } from '@wide-ledger/core';
import { Leaf } from '../frame/Leaf.tsx';
import { EditPanel } from './EditPanel.tsx';

/** Fields of which each has its own. */
const OWN: Readonly<Record<DefinitionKind, readonly string[]>> = {
  place: ['name'],
  pace: ['name'],
  store: ['name'],
  source: ['name'],
  family: ['name'],
  tag: ['name', 'address', 'since'],
  link: ['name', 'url', 'key'],
};

interface Props {
  readonly kind: DefinitionKind;
  readonly ids: ReadonlySet<number>;
  readonly onClose: () => void;
}

export function ManyLeaf({ kind, ids, onClose }: Props) {
  return (
    <Leaf
      title={ids.size === 1 ? `1 ${kind}` : `${ids.size} ${kind}s`}
      below="What is changed here is changed for all of them."
      onClose={onClose}
    >
      <EditPanel kind={kind} ids={[...ids]} without={OWN[kind]} />
    </Leaf>
  );
}
