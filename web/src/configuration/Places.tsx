/** Places: a tree of sites, areas and units, with how many tags each holds. */
import { nameIn } from '@wide-ledger/core';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { TreeRow } from '../controls/TreeRow.tsx';
import { useMarks } from '../controls/marks.ts';
import { useGo } from '../frame/useGo.ts';
import { useSelection } from '../frame/useSelection.ts';
import { DefinitionLeaves, NEW } from './DefinitionLeaves.tsx';
import { LifeWord } from './Life.tsx';
import { useDefinitions, type Standing } from './drafting.ts';
import { pathOf } from './form/DefinitionForm.tsx';

interface Branch {
  readonly standing: Standing;
  readonly level: number;
  readonly hasBelow: boolean;
}

const parentOf = ({ body, inForce }: Standing): unknown => (body ?? inForce)?.parent ?? null;

/** The places in the order of a tree, without what lies below those that are closed. */
export function branchesOf(places: readonly Standing[], closed: ReadonlySet<number>): Branch[] {
  const known = new Set(places.map(({ id }) => id));
  const below = new Map<number | null, Standing[]>();
  for (const place of places) {
    const parent = parentOf(place);
    const under = typeof parent === 'number' && known.has(parent) ? parent : null;
    below.set(under, [...(below.get(under) ?? []), place]);
  }
  const branches: Branch[] = [];
  const add = (parent: number | null, level: number): void => {
    const here = [...(below.get(parent) ?? [])];
    here.sort((a, b) => nameIn(a.body ?? a.inForce).localeCompare(nameIn(b.body ?? b.inForce), 'en'));
    for (const standing of here) {
      branches.push({ standing, level, hasBelow: below.has(standing.id) });
      if (!closed.has(standing.id)) add(standing.id, level + 1);
    }
  };
  add(null, 1);
  return branches;
}

/** What there is to see of a place. */
const SCREENS = [
  ['/place', 'Now'],
  ['/tags', 'Tags'],
  ['/coverage', 'Coverage'],
] as const;

export function Places() {
  const { data, error } = useDefinitions('place');
  const [closed, setClosed] = useState<ReadonlySet<number>>(new Set());
  const { selected, select } = useSelection(data?.map(({ id }) => String(id)) ?? []);
  const marks = useMarks();
  const go = useGo();
  const open = (id: number, isOpen: boolean): void => {
    const next = new Set(closed);
    if (isOpen) next.delete(id);
    else next.add(id);
    setClosed(next);
  };
  return (
    <>
      <Page
        title="Places"
        says={data && `${data.filter(({ inForce }) => inForce).length} in force`}
        tools={<Button onClick={() => select(NEW)}>New place</Button>}
      >
        {error && <Failure error={error} />}
        {!data && !error && <Skeleton rows={6} />}
        {data?.length === 0 && (
          <Empty>No place yet. Places are a tree, site, area and unit; a tag belongs to one of them.</Empty>
        )}
        <div role="tree" aria-label="Places" aria-multiselectable className="min-h-0 flex-1 overflow-y-auto">
          {branchesOf(data ?? [], closed).map(({ standing, level, hasBelow }) => (
            <TreeRow
              key={standing.id}
              level={level}
              open={hasBelow ? !closed.has(standing.id) : null}
              onOpen={(isOpen) => open(standing.id, isOpen)}
              selected={selected === String(standing.id)}
              onSelect={() => select(String(standing.id))}
              marked={marks.marked.has(standing.id)}
              onMark={() => marks.mark(standing.id)}
            >
              <span className="min-w-0 flex-1 truncate">{nameIn(standing.body ?? standing.inForce)}</span>
              <span className="w-32">
                <LifeWord life={standing.life} />
              </span>
              {standing.inForce && (
                <span className="flex gap-3 pr-2">
                  {SCREENS.map(([screen, words]) => (
                    <button
                      key={screen}
                      type="button"
                      className="text-ink-2 underline hover:text-ink"
                      onClick={(event) => {
                        event.stopPropagation();
                        go(screen, { place: pathOf(standing.id, data!) });
                      }}
                    >
                      {words}
                    </button>
                  ))}
                </span>
              )}
            </TreeRow>
          ))}
        </div>
      </Page>
      <DefinitionLeaves kind="place" standings={data ?? []} selected={selected} select={select} marks={marks} />
    </>
  );
}
