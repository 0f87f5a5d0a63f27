/** Paces: how often tags are read and what of it is kept, under one name. */
import { nameIn, plainWords, type Body } from '@wide-ledger/core';
import type { ReactNode } from 'react';
import { Button } from '../controls/Button.tsx';
import { ListRow } from '../controls/ListRow.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { useMarks } from '../controls/marks.ts';
import { useSelection } from '../frame/useSelection.ts';
import { DefinitionLeaves, NEW } from './DefinitionLeaves.tsx';
import { LifeWord } from './Life.tsx';
import { useDefinitions } from './drafting.ts';

interface Column {
  readonly title: string;
  readonly width: string;
  readonly cell: (body: Body) => ReactNode;
}

const COLUMNS: readonly Column[] = [
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
  const { data, error } = useDefinitions('pace');
  const rows = [...(data ?? [])].sort((a, b) => nameIn(a.body).localeCompare(nameIn(b.body), 'en'));
  const { selected, select } = useSelection(rows.map(({ id }) => String(id)));
  const marks = useMarks();
  return (
    <>
      <Page
        title="Paces"
        says={data && `${data.filter(({ inForce }) => inForce).length} in force`}
        tools={<Button onClick={() => select(NEW)}>New pace</Button>}
      >
        {error && <Failure error={error} />}
        <div className="flex h-8 items-center gap-3 border-b border-ink/70 text-ink-2">
          <span className="min-w-0 flex-1 pl-8">Name</span>
          {COLUMNS.map(({ title, width }) => (
            <span key={title} className={width}>
              {title}
            </span>
          ))}
          <span className="w-32">State</span>
        </div>
        {!data && !error && <Skeleton rows={6} />}
        {data?.length === 0 && (
          <Empty>
            No pace yet. A pace is how often tags are read and what of it is kept, under one name: change it once for
            all of them.
          </Empty>
        )}
        <div role="listbox" aria-label="Paces" aria-multiselectable className="min-h-0 flex-1 overflow-y-auto">
          {rows.map(({ id, body, inForce, life }) => {
            const name = nameIn(body ?? inForce);
            return (
              <ListRow
                key={id}
                selected={selected === String(id)}
                onSelect={() => select(String(id))}
                marking={{ name, marked: marks.marked.has(id), onMark: () => marks.mark(id) }}
              >
                <span className="min-w-0 flex-1 truncate pl-1">{name}</span>
                {COLUMNS.map(({ title, width, cell }) => (
                  <span key={title} className={`${width} truncate`}>
                    {cell(body ?? inForce ?? {})}
                  </span>
                ))}
                <span className="w-32">
                  <LifeWord life={life} />
                </span>
              </ListRow>
            );
          })}
        </div>
      </Page>
      <DefinitionLeaves kind="pace" standings={rows} selected={selected} select={select} marks={marks} />
    </>
  );
}
