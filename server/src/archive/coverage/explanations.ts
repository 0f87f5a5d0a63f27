/** What people said of gaps, by the sources and tags that it is about. */
import { formatInstant, liesIn, type DutyGroup, type GapExplanation, type Span } from '@wide-ledger/core';
import type { ExplanationRow } from '@wide-ledger/contract';
import type { Pool } from 'pg';

interface Row {
  readonly id: number;
  readonly kind: 'tag' | 'source' | 'place';
  readonly item_id: number | null;
  readonly about: string;
  readonly since: number;
  readonly until: number;
  readonly said_by: string;
  readonly reason: string;
  readonly said_at: Date;
}

async function rowsIn(home: Pool, { from, to }: Span): Promise<Row[]> {
  const { rows } = await home.query<Row>({
    name: 'gap_explanations',
    text: 'SELECT * FROM gap_explanation WHERE taken_back_at IS NULL AND until > $1 AND since < $2 ORDER BY id',
    values: [from, to],
  });
  return rows;
}

/** Those of a window, as people see them, the latest first. */
export async function listExplanations(home: Pool, window: Span): Promise<ExplanationRow[]> {
  return (await rowsIn(home, window)).reverse().map((row) => ({
    id: row.id,
    kind: row.kind,
    about: row.about,
    from: formatInstant(row.since),
    to: formatInstant(row.until),
    by: row.said_by,
    reason: row.reason,
    at: row.said_at.toISOString(),
  }));
}

/**
 * By source. What is said of a place is said of its tags, and of a source whose tags all lie in it.
 * @param groups the tags of the sources that are asked for.
 */
export async function explanationsOf(
  home: Pool,
  window: Span,
  groups: readonly (DutyGroup & { readonly source: number })[],
): Promise<Map<number, GapExplanation[]>> {
  const rows = await rowsIn(home, window);
  const found = new Map<number, GapExplanation[]>();
  if (rows.length === 0) return found;
  const places = rows.some(({ kind }) => kind === 'place') ? await placesOf(home, groups) : new Map<number, string>();
  const say = (source: number, tag: number, { since: from, until: to, said_by: by, reason }: Row): void => {
    const known = found.get(source);
    if (known) known.push({ tag, from, to, by, reason });
    else found.set(source, [{ tag, from, to, by, reason }]);
  };
  const tagsOf = new Map<number, number[]>();
  for (const { source, tags } of groups) tagsOf.set(source, [...(tagsOf.get(source) ?? []), ...tags]);
  for (const row of rows)
    for (const [source, tags] of tagsOf) {
      if (row.kind === 'source') {
        if (row.item_id === source) say(source, 0, row);
        continue;
      }
      const own = tags.filter((tag) =>
        row.kind === 'tag' ? tag === row.item_id : liesIn(places.get(tag) ?? '', row.about),
      );
      if (row.kind === 'place' && own.length === tags.length) say(source, 0, row);
      else for (const tag of own) say(source, tag, row);
    }
  return found;
}

async function placesOf(home: Pool, groups: readonly DutyGroup[]): Promise<Map<number, string>> {
  const { rows } = await home.query<{ id: number; place: string }>('SELECT id, place FROM tag WHERE id = ANY($1)', [
    groups.flatMap(({ tags }) => tags),
  ]);
  return new Map(rows.map(({ id, place }) => [id, place]));
}
