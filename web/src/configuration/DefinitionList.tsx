/** A list of definitions of a kind with their leaf: paces and places. */
import { plainWords, type Body, type DefinitionKind } from '@wide-ledger/core';
import type { ReactNode } from 'react';
import { Button } from '../controls/Button.tsx';
import { ListRow } from '../controls/ListRow.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { useSelection } from '../frame/useSelection.ts';
import { EditPanel } from './EditPanel.tsx';
import { LifeWord } from './Life.tsx';
import { NewDefinitionLeaf } from './NewDefinitionLeaf.tsx';
import { useDefinitions, type Standing } from './drafting.ts';
import { pathOf } from './form/DefinitionForm.tsx';

const NEW = 'new';

interface Column {
  readonly title: string;
  readonly width: string;
  readonly cell: (body: Body) => ReactNode;
}

interface Props {
  readonly kind: DefinitionKind;
  readonly title: string;
  readonly empty: ReactNode;
  readonly columns: readonly Column[];
}

function DefinitionList({ kind, title, empty, columns }: Props) {
  const { data, error } = useDefinitions(kind);
  const rows = [...(data ?? [])].sort((a, b) => pathOf(a.id, data!).localeCompare(pathOf(b.id, data!), 'en'));
  const { selected, select } = useSelection(rows.map(({ id }) => String(id)));
  const chosen = rows.find(({ id }) => String(id) === selected);
  return (
    <>
      <Page
        title={title}
        says={data && `${data.filter(({ inForce }) => inForce).length} in force`}
        tools={<Button onClick={() => select(NEW)}>New {kind}</Button>}
      >
        {error && <Failure error={error} />}
        <div className="flex h-8 items-center gap-3 border-b border-ink/70 text-ink-2">
          <span className="min-w-0 flex-1 pl-1.5">Name</span>
          {columns.map(({ title: heading, width }) => (
            <span key={heading} className={width}>
              {heading}
            </span>
          ))}
          <span className="w-32">State</span>
        </div>
        {!data && !error && <Skeleton rows={6} />}
        {data?.length === 0 && <Empty>{empty}</Empty>}
        <div role="listbox" aria-label={title} className="min-h-0 flex-1 overflow-y-auto">
          {rows.map((row) => (
            <Row
              key={row.id}
              row={row}
              path={pathOf(row.id, rows)}
              columns={columns}
              selected={selected === String(row.id)}
              onSelect={() => select(String(row.id))}
            />
          ))}
        </div>
      </Page>
      {chosen && (
        <Leaf
          key={chosen.id}
          title={pathOf(chosen.id, rows)}
          below={<LifeWord life={chosen.life} />}
          onClose={() => select(null)}
        >
          <EditPanel kind={kind} ids={[chosen.id]} onCreated={(id) => select(String(id))} />
        </Leaf>
      )}
      {selected === NEW && (
        <NewDefinitionLeaf kind={kind} onClose={() => select(null)} onCreated={(id) => select(String(id))} />
      )}
    </>
  );
}

interface RowProps {
  readonly row: Standing;
  readonly path: string;
  readonly columns: readonly Column[];
  readonly selected: boolean;
  readonly onSelect: () => void;
}

function Row({ row, path, columns, selected, onSelect }: RowProps) {
  const body = row.body ?? row.inForce ?? {};
  return (
    <ListRow selected={selected} onSelect={onSelect}>
      <span className="min-w-0 flex-1 truncate pl-1">{path}</span>
      {columns.map(({ title, width, cell }) => (
        <span key={title} className={`${width} truncate`}>
          {cell(body)}
        </span>
      ))}
      <span className="w-32">
        <LifeWord life={row.life} />
      </span>
    </ListRow>
  );
}

const PACE_COLUMNS: readonly Column[] = [
  {
    title: 'Read',
    width: 'w-28',
    cell: ({ intervalMilliseconds }) => plainWords(['intervalMilliseconds'], intervalMilliseconds),
  },
  { title: 'Deadband', width: 'w-40', cell: ({ deadband }) => plainWords([], deadband).replace(/^kind /, '') },
  {
    title: 'Longest silence',
    width: 'w-32',
    cell: ({ longestSilenceSeconds }) => plainWords(['longestSilenceSeconds'], longestSilenceSeconds),
  },
];

export function Paces() {
  return (
    <DefinitionList
      kind="pace"
      title="Paces"
      empty="No pace yet. A pace is how often tags are read and what of it is kept, under one name: change it once for all of them."
      columns={PACE_COLUMNS}
    />
  );
}

export function Places() {
  return (
    <DefinitionList
      kind="place"
      title="Places"
      empty="No place yet. Places are a tree, site, area and unit; a tag belongs to one of them."
      columns={[]}
    />
  );
}
