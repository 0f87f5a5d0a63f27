/** The tags that are computed out of others, each behind those of which it is computed. */
import { Formula, type Holder } from '@wide-ledger/core';
import type { Pool } from 'pg';

/** A tag and the store in which its history is. */
export interface StoredTag {
  readonly id: number;
  readonly storeId: number;
}

export interface DerivedTag extends StoredTag, Holder {
  readonly name: string;
  readonly formula: Formula;
  /** In the order of the formula's inputs. */
  readonly inputs: readonly StoredTag[];
  /** Before this it has no values by itself, and none are computed again; microseconds. */
  readonly since: number;
}

/** What is computed under one configuration. */
export interface DerivedTags {
  readonly epoch: number;
  /** In the order of their dependence. */
  readonly all: readonly DerivedTag[];
  /** Every tag that one of them is computed of. */
  readonly inputs: ReadonlyMap<number, StoredTag>;
}

interface Row extends StoredTag, Holder {
  readonly name: string;
  readonly formula: string;
  readonly inputs: Readonly<Record<string, number>>;
  readonly since: number;
}

type TypedTag = StoredTag & Pick<Holder, 'type'>;

/** @param known what was read last; the same again while nothing has changed */
export async function readDerivedTags(home: Pool, known: DerivedTags | null): Promise<DerivedTags> {
  const { rows: at } = await home.query<{ epoch: number }>('SELECT epoch FROM configuration');
  const { epoch } = at[0]!;
  if (known?.epoch === epoch) return known;
  const { rows } = await home.query<Row>(
    `SELECT id, name, type, low, high, store_id AS "storeId", formula, inputs,
            least((extract(epoch FROM in_force_since) * 1000000)::bigint, p.since) AS since
     FROM tag LEFT JOIN derived_past p ON p.tag_id = tag.id WHERE inputs IS NOT NULL AND formula IS NOT NULL AND retired_at IS NULL AND NOT paused ORDER BY id`,
  );
  const ids = [...new Set(rows.flatMap(({ inputs }) => Object.values(inputs)))];
  const { rows: given } = await home.query<TypedTag>(
    'SELECT id, store_id AS "storeId", type FROM tag WHERE id = ANY($1::int[])',
    [ids],
  );
  const byId = new Map(given.map((tag) => [tag.id, tag]));
  return { epoch, all: inOrder(rows.flatMap((row) => derivedOf(row, byId))), inputs: byId };
}

/** Since when stores keep what they hold, of those that drop months; by their numbers, microseconds. */
export async function keptSince(home: Pool): Promise<Map<number, number>> {
  const { rows } = await home.query<{ id: number; since: number }>(
    'SELECT id, keeps_since AS since FROM store WHERE keeps_since IS NOT NULL',
  );
  return new Map(rows.map(({ id, since }) => [id, since]));
}

/** A tag whose formula does not read, or lacks an input, gives nothing: the check of its configuration has said so. */
function derivedOf(row: Row, byId: ReadonlyMap<number, TypedTag>): DerivedTag[] {
  const { formula: text, inputs: named, ...tag } = row;
  const of = (name: string): TypedTag | undefined => byId.get(named[name] ?? NaN);
  try {
    const formula = Formula.read(text, (name) => of(name)?.type === 'text');
    const inputs = formula.inputs.flatMap((name) => of(name) ?? []);
    return inputs.length === formula.inputs.length && inputs.length > 0 ? [{ ...tag, formula, inputs }] : [];
  } catch {
    return [];
  }
}

/** Each behind those of which it is computed; a circle, which no configuration in force has, is left where it is met. */
function inOrder(tags: readonly DerivedTag[]): DerivedTag[] {
  const byId = new Map(tags.map((tag) => [tag.id, tag]));
  const placed = new Set<DerivedTag>();
  const place = (tag: DerivedTag, above: ReadonlySet<DerivedTag>): void => {
    if (placed.has(tag) || above.has(tag)) return;
    const below = new Set([...above, tag]);
    for (const { id } of tag.inputs) {
      const input = byId.get(id);
      if (input) place(input, below);
    }
    placed.add(tag);
  };
  for (const tag of tags) place(tag, new Set());
  return [...placed];
}
