/** The review of a draft: what it changes field by field, what it will do, and what stands in its way. */
import type { DraftSummary, FieldConflictOutput, Finding, Review } from '@wide-ledger/contract';
import {
  effectsOf,
  type Body,
  type Change,
  type DefinitionKey,
  type FieldConflict,
  type PaceUse,
} from '@wide-ledger/core';
import type { Pool } from 'pg';
import { bodiesInForce, keyOf } from '../definitions/definitions.ts';
import type { Forcing } from '../force/forcing.ts';
import { nameOf } from '../force/force.ts';
import { settle, type Settled, type Wish } from '../force/settle.ts';
import { inReadingOrder, itemOf, wordsFor } from '../force/words.ts';

/** So many items and findings are sent; the rest is counted. */
const MOST_ITEMS = 500;

/** Reviews what a draft wishes against what is in force at this moment. */
export async function reviewDraft(
  forcing: Forcing,
  draft: DraftSummary,
  wishes: readonly Wish[],
  inForce: ReadonlyMap<string, Body>,
): Promise<Review> {
  const { home } = forcing;
  const settled = await settle(home, wishes, inForce);
  const words = await wordsFor(home, settled.changes);
  const names = new Map(wishes.map((wish) => [keyOf(wish), nameOf({ before: wish.base, after: wish.body })]));
  const surroundings = await surroundingsOf(home, settled.changes);
  const shown = inReadingOrder(settled.changes).slice(0, MOST_ITEMS);
  return {
    draft,
    inForce: draft.basedOn,
    effects: [
      ...(await forcing.foresee(settled.changes)),
      ...effectsOf(settled.changes, { ...surroundings, words: words.value, title: words.title }),
    ],
    items: shown.map((change) => itemOf(change, words)),
    total: settled.changes.length,
    findings: findingsOf(settled, names),
    conflicts: await conflictsOf(home, settled.conflicts, names),
  };
}

export const findingsOf = ({ findings }: Settled, names: ReadonlyMap<string, string>): Finding[] =>
  findings
    .slice(0, MOST_ITEMS)
    .map((finding) => ({ ...finding, path: [...finding.path], name: names.get(keyOf(finding)) ?? '' }));

/** Conflicts with who put the other value in force. */
export async function conflictsOf(
  home: Pool,
  conflicts: readonly (DefinitionKey & FieldConflict)[],
  names: ReadonlyMap<string, string>,
): Promise<FieldConflictOutput[]> {
  if (conflicts.length === 0) return [];
  const words = await wordsFor(home, []);
  const { rows } = await home.query<DefinitionKey & { put_by: string }>(
    `SELECT DISTINCT ON (d.kind, d.id) d.kind, d.id, v.put_by
     FROM unnest($1::text[], $2::int[]) AS wanted(kind, id) JOIN definition d ON d.kind = wanted.kind AND d.id = wanted.id
     JOIN configuration_version v ON v.number = coalesce(d.version_to, d.version_from) ORDER BY d.kind, d.id, d.version_from DESC`,
    [conflicts.map(({ kind }) => kind), conflicts.map(({ id }) => id)],
  );
  const by = new Map(rows.map((row) => [keyOf(row), row.put_by]));
  return conflicts.slice(0, MOST_ITEMS).map(({ kind, id, path, base, mine, theirs }) => {
    const said = (value: typeof base): string =>
      path.length === 0 ? (value === undefined ? 'retired' : 'kept, and changed') : words.value(kind, path, value);
    return {
      kind,
      id,
      name: names.get(keyOf({ kind, id })) ?? '',
      path: [...path],
      title: words.title(kind, path),
      base: said(base),
      mine: said(mine),
      theirs: said(theirs),
      by: by.get(keyOf({ kind, id })) ?? null,
    };
  });
}

/** The paces that changes use or change, and how many tags have them beside. */
async function surroundingsOf(home: Pool, changes: readonly Change[]) {
  const own = new Map(changes.filter(({ kind }) => kind === 'pace').map((change) => [change.id, change]));
  const used = new Set(
    changes.flatMap(({ kind, before, after }) =>
      kind === 'tag' ? [before?.pace, after?.pace].filter((pace) => typeof pace === 'number') : [],
    ),
  );
  const inForce = await bodiesInForce(
    home,
    [...used].map((id) => ({ kind: 'pace', id })),
  );
  const uses = await pacesInUse(home, [...own.keys()], changes);
  return {
    pace: (id: number, when: 'before' | 'after'): Body | undefined =>
      (when === 'after' ? own.get(id)?.after : own.get(id)?.before) ?? inForce.get(keyOf({ kind: 'pace', id })),
    useOf: (pace: number): PaceUse => uses.get(pace) ?? { tags: 0, ownInterval: 0 },
  };
}

async function pacesInUse(
  home: Pool,
  paces: readonly number[],
  changes: readonly Change[],
): Promise<Map<number, PaceUse>> {
  if (paces.length === 0) return new Map();
  const touched = changes.filter(({ kind }) => kind === 'tag').map(({ id }) => id);
  const { rows } = await home.query<PaceUse & { pace_id: number }>(
    `SELECT pace_id, count(*)::int AS tags, count(*) FILTER (WHERE settings ? 'intervalMilliseconds')::int AS "ownInterval"
     FROM tag WHERE pace_id = ANY($1) AND retired_at IS NULL AND NOT paused AND source_id IS NOT NULL AND id <> ALL($2) GROUP BY pace_id`,
    [paces, touched],
  );
  return new Map(rows.map(({ pace_id, tags, ownInterval }) => [pace_id, { tags, ownInterval }]));
}
