/** Papers of the tags that a link carries: what people wrote on them, and what was changed of their definitions. */
import type { Paper, PaperOf } from '@wide-ledger/contract';
import type { Pool } from 'pg';
import type { Stores } from '../../../archive/index.ts';
import { tagChangesOf, type Catalogue } from '../../../configuration/index.ts';
import type { CarriedNumbers } from '../carriedTags.ts';
import type { Unprinted } from './sourcePapers.ts';

/** Of one tag, the latest. */
const MOST_ANNOTATIONS = 2000;

interface AnnotationRow {
  readonly tag: number;
  readonly id: number;
  readonly time: number;
  readonly text: string;
  readonly by: string;
  readonly at: Date;
  readonly origin: string | null;
}

/**
 * What stands written on the tags, in whatever store they are, but for what was written at the far end itself. What came
 * before it was kept where from is told again by whoever told it.
 * @param far the identity of the far end
 */
export async function annotationPapers(
  stores: Stores,
  catalogue: Catalogue,
  { detail }: CarriedNumbers,
  far: string,
): Promise<Unprinted<PaperOf<'annotations'>>[]> {
  const byStore = new Map<number, number[]>();
  for (const id of detail.keys()) {
    const store = catalogue.tagById(id)?.storeId;
    if (store !== undefined) byStore.set(store, [...(byStore.get(store) ?? []), id]);
  }
  const papers = new Map<number, Unprinted<PaperOf<'annotations'>>>();
  for (const [store, tags] of byStore) {
    const pool = await stores.pool(store);
    const { rows } = await pool.query<AnnotationRow>(
      `SELECT * FROM (SELECT tag_id AS tag, id, time, text, written_by AS by, written_at AS at, origin_site AS origin,
                             row_number() OVER (PARTITION BY tag_id ORDER BY time DESC, id DESC) AS place
                      FROM annotation WHERE tag_id = ANY($1::int[]) AND origin_site IS DISTINCT FROM $2
                        AND (carried_id IS NULL OR origin_site IS NOT NULL)) AS written
       WHERE place <= ${MOST_ANNOTATIONS} ORDER BY tag, time, id`,
      [tags, far],
    );
    for (const { tag, id, time, text, by, at, origin } of rows) {
      const number = detail.get(tag)!;
      const known = papers.get(number) ?? { kind: 'annotations', number, annotations: [] };
      papers.set(number, known);
      known.annotations.push({ id, time, text, by, at: at.toISOString(), ...(origin !== null && { origin }) });
    }
  }
  return [...papers.values()];
}

export async function changePapers(home: Pool, { detail }: CarriedNumbers): Promise<Unprinted<PaperOf<'changes'>>[]> {
  const changes = await tagChangesOf(home, [...detail.keys()]);
  return [...changes].map(([tag, list]) => ({ kind: 'changes', number: detail.get(tag)!, changes: list }));
}

/** What takes the place of a paper of which nothing is left. */
export function emptyPaper(kind: Paper['kind'], number: number, day: number): Unprinted | null {
  if (kind === 'day') return { kind, number, day, watches: [], outages: [], recoveries: [] };
  if (kind === 'annotations') return { kind, number, annotations: [] };
  // A source that is carried no more, and what was changed, stay what they were.
  return null;
}
