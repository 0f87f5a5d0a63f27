/** What opens beside a list of definitions: one that was chosen, several that were marked, or a new one. */
import type { DefinitionKind } from '@wide-ledger/core';
import { Leaf } from '../frame/Leaf.tsx';
import type { Marks } from '../controls/marks.ts';
import { EditPanel } from './EditPanel.tsx';
import { LifeWord } from './Life.tsx';
import { ManyLeaf } from './ManyLeaf.tsx';
import { NewDefinitionLeaf } from './NewDefinitionLeaf.tsx';
import type { Standing } from './drafting.ts';
import { pathOf } from './form/DefinitionForm.tsx';

/** In place of a number while a new one is begun. */
export const NEW = 'new';

interface Props {
  readonly kind: DefinitionKind;
  readonly standings: readonly Standing[];
  readonly selected: string | null;
  readonly select: (key: string | null) => void;
  readonly marks: Marks;
}

export function DefinitionLeaves({ kind, standings, selected, select, marks }: Props) {
  const chosen = standings.find(({ id }) => String(id) === selected);
  const created = (id: number): void => select(String(id));
  const close = (): void => select(null);
  if (marks.marked.size > 0) return <ManyLeaf kind={kind} ids={marks.marked} onClose={marks.clear} />;
  if (selected === NEW) return <NewDefinitionLeaf kind={kind} onClose={close} onCreated={created} />;
  if (!chosen) return null;
  return (
    <Leaf key={chosen.id} title={pathOf(chosen.id, standings)} below={<LifeWord life={chosen.life} />} onClose={close}>
      <EditPanel kind={kind} ids={[chosen.id]} onCreated={created} />
    </Leaf>
  );
}
