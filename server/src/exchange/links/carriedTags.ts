/** The tags of a link: which are chosen, by what names they go, and what the far end said of each. */
import type { CarriedTag } from '@wide-ledger/contract';
import { chosenTags, farNames, samePlain } from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { Catalogue, LinkRow, TagRow } from '../../configuration/index.ts';
import type { FarEnd } from './farEnd.ts';

/** Tags that are told in one request. */
const TAGS_AT_ONCE = 2_000;

interface Told {
  readonly number: number;
  readonly tag_id: number;
  readonly told: CarriedTag;
  readonly refused: string | null;
}

/** Tells the far end what it does not know yet. @returns the link's numbers of the tags that are carried, by their own. */
export async function tellTags(
  home: Pool,
  catalogue: Catalogue,
  { id, body }: LinkRow,
  far: FarEnd,
): Promise<Map<number, number>> {
  await catalogue.refresh();
  const { rows } = await home.query<Told>('SELECT number, tag_id, told, refused FROM link_tag WHERE link_id = $1', [
    id,
  ]);
  const known = new Map(rows.map((row) => [row.tag_id, row]));
  let next = rows.reduce((most, { number }) => Math.max(most, number), 0) + 1;
  const named = farNames(chosenTags(catalogue.tags, body.carries), body.naming);
  const numbers = new Map<number, number>();
  const news: { readonly tag: TagRow; readonly told: CarriedTag }[] = [];
  for (const { tag, farName, problem } of named) {
    if (problem !== null) continue;
    const before = known.get(tag.id);
    const told = asCarried(before?.number ?? next, farName, tag);
    // One that was refused is asked for again: what stood in its way may be gone.
    if (before?.refused === null && samePlain(before.told, told)) numbers.set(tag.id, told.number);
    else {
      if (!before) next++;
      news.push({ tag, told });
    }
  }
  for (let at = 0; at < news.length; at += TAGS_AT_ONCE) {
    const part = news.slice(at, at + TAGS_AT_ONCE);
    const { results } = await far.tags(part.map(({ told }) => told));
    const refused = new Map(results.map((one) => [one.number, one.refused]));
    await home.query(
      `INSERT INTO link_tag (link_id, number, tag_id, far_name, told, refused)
         SELECT $1, * FROM unnest($2::int[], $3::int[], $4::text[], $5::jsonb[], $6::text[])
       ON CONFLICT (link_id, number) DO UPDATE SET far_name = excluded.far_name, told = excluded.told, refused = excluded.refused`,
      [
        id,
        part.map(({ told }) => told.number),
        part.map(({ tag }) => tag.id),
        part.map(({ told }) => told.name),
        part.map(({ told }) => JSON.stringify(told)),
        part.map(({ told }) => refused.get(told.number) ?? null),
      ],
    );
    for (const { tag, told } of part) if ((refused.get(told.number) ?? null) === null) numbers.set(tag.id, told.number);
  }
  return numbers;
}

const asCarried = (number: number, name: string, tag: TagRow): CarriedTag => ({
  number,
  name,
  type: tag.type,
  unit: tag.unit,
  description: tag.description,
  place: tag.place,
  stepped: tag.stepped,
  low: tag.low,
  high: tag.high,
  states: tag.states,
});
