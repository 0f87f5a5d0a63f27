import type { SourceKind } from '@wide-ledger/contract';
import { nameIn, type DefinitionKind } from '@wide-ledger/core';
import { useLayoutEffect, useMemo, useRef } from 'react';
import { useDefinitions, type Standing } from '../configuration/drafting.ts';
import { pathOf } from '../configuration/form/DefinitionForm.tsx';
import type { References } from './cells.ts';

export interface KnownReferences extends References {
  /** All names of a kind, for who picks one. */
  namesOf(kind: DefinitionKind): readonly string[];
  readonly sourceKinds: readonly SourceKind[];
}

/**
 * What tags refer to, by name and by number; undefined while it is not known.
 * @param tags all of them, to which formulas refer. Another tag makes no other references of it: ten thousand rows would be
 * made anew with each edit.
 */
export function useReferences(tags: readonly Standing[]): KnownReferences | undefined {
  const known = useRef(new KnownTags());
  useLayoutEffect(() => known.current.know(tags), [tags]);
  const { data: place } = useDefinitions('place');
  const { data: pace } = useDefinitions('pace');
  const { data: store } = useDefinitions('store');
  const { data: source } = useDefinitions('source');
  const { data: family } = useDefinitions('family');
  return useMemo(
    () =>
      place && pace && store && source && family
        ? referencesOf({ place, pace, store, source, family }, known.current)
        : undefined,
    [place, pace, store, source, family],
  );
}

/** Tags by name and number, looked up only when somebody asks. */
class KnownTags {
  private tags: readonly Standing[] = [];
  private names: Map<number, string> | null = null;
  private ids: Map<string, number> | null = null;

  know(tags: readonly Standing[]): void {
    this.tags = tags;
    this.names = null;
    this.ids = null;
  }

  private static nameOf = ({ body, inForce }: Standing): string => nameIn(body ?? inForce);

  nameOf(id: number): string | undefined {
    this.names ??= new Map(this.tags.map((tag) => [tag.id, KnownTags.nameOf(tag)]));
    return this.names.get(id);
  }

  idOf(name: string): number | undefined {
    this.ids ??= new Map(this.tags.map((tag) => [KnownTags.nameOf(tag), tag.id]));
    return this.ids.get(name);
  }
}

function referencesOf(
  standings: Readonly<Partial<Record<DefinitionKind, readonly Standing[]>>>,
  tags: KnownTags,
): KnownReferences {
  const names = new Map<DefinitionKind, ReadonlyMap<number, string>>();
  const ids = new Map<DefinitionKind, ReadonlyMap<string, number>>();
  for (const [kind, all] of Object.entries(standings) as [DefinitionKind, readonly Standing[]][]) {
    const there = all.filter(({ body }) => body !== null);
    const named = there.map(({ id }) => [id, pathOf(id, all)] as const);
    names.set(kind, new Map(named));
    ids.set(kind, new Map(named.map(([id, name]) => [name, id])));
  }
  const kinds = new Map(
    (standings.source ?? []).map(({ id, body, inForce }) => [id, (body ?? inForce)?.kind as SourceKind | undefined]),
  );
  return {
    nameOf: (kind, id) => (kind === 'tag' ? tags.nameOf(id) : names.get(kind)?.get(id)) ?? `number ${id}`,
    idOf: (kind, name) => (kind === 'tag' ? tags.idOf(name) : ids.get(kind)?.get(name)) ?? null,
    kindOfSource: (id) => kinds.get(id) ?? null,
    namesOf: (kind) => [...(names.get(kind)?.values() ?? [])],
    sourceKinds: [...new Set([...kinds.values()].filter((kind) => kind !== undefined))],
  };
}
