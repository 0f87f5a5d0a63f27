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

/**
 * Tells the far end what it does not know yet.
 * @param lastNumber the greatest that the far end knows.
 * @returns the link's numbers of the tags that are carried, by their own.
 */
export async function tellTags(
  home: Pool,
  catalogue: Catalogue,
  { id, body }: LinkRow,
  far: FarEnd,
  lastNumber: number,
): Promise<Map<number, number>> {
  await catalogue.refresh();
  const { rows } = await home.query<Told>('SELECT number, tag_id, told, refused FROM link_tag WHERE link_id = $1', [
    id,
  ]);
  const known = new Map(rows.map((row) => [row.tag_id, row]));
  // A site that was restored has forgotten numbers that the far end knows: none is given a second time.
  let next = rows.reduce((most, { number }) => Math.max(most, number), lastNumber) + 1;
  const named = farNames(chosenTags(catalogue.tags, body.carries), body.naming);
  const numbers = new Map<number, number>();
  const news: Pick<ToldTag, 'tag' | 'told'>[] = [];
  const unnamed: ToldTag[] = [];
  for (const { tag, farName, problem } of named) {
    const before = known.get(tag.id);
    const told = asCarried(before?.number ?? next, farName, tag);
    if (problem !== null) {
      if (!before) next++;
      if (before?.refused !== problem) unnamed.push({ tag, told, refused: problem });
      continue;
    }
    // One that was refused is asked for again: what stood in its way may be gone.
    if (before?.refused === null && samePlain(before.told, told)) numbers.set(tag.id, told.number);
    else {
      if (!before) next++;
      news.push({ tag, told });
    }
  }
  for (let at = 0; at < news.length; at += TAGS_AT_ONCE) {
    const part = news.slice(at, at + TAGS_AT_ONCE);
    // Written down before it is told: whatever happens in between, a number stands for one tag for ever.
    await remember(
      home,
      id,
      part.map((one) => ({ ...one, refused: 'The far end was not told of it yet.' })),
    );
    const { results } = await far.tags(part.map(({ told }) => told));
    const refused = new Map(results.map((one) => [one.number, one.refused]));
    await remember(
      home,
      id,
      part.map((one) => ({ ...one, refused: refused.get(one.told.number) ?? null })),
    );
    for (const { tag, told } of part) if ((refused.get(told.number) ?? null) === null) numbers.set(tag.id, told.number);
  }
  await remember(home, id, unnamed);
  return numbers;
}

/** A tag as it was told, and why it is not carried; null: it is. */
interface ToldTag {
  readonly tag: TagRow;
  readonly told: CarriedTag;
  readonly refused: string | null;
}

async function remember(home: Pool, link: number, tags: readonly ToldTag[]): Promise<void> {
  if (tags.length === 0) return;
  await home.query(
    `INSERT INTO link_tag (link_id, number, tag_id, far_name, told, refused)
       SELECT $1, * FROM unnest($2::int[], $3::int[], $4::text[], $5::jsonb[], $6::text[])
     ON CONFLICT (link_id, number) DO UPDATE SET far_name = excluded.far_name, told = excluded.told, refused = excluded.refused`,
    [
      link,
      tags.map(({ told }) => told.number),
      tags.map(({ tag }) => tag.id),
      tags.map(({ told }) => told.name),
      tags.map(({ told }) => JSON.stringify(told)),
      tags.map(({ refused }) => refused),
    ],
  );
}

/** Characters of a place that a tag made by a call may have. */
const LONGEST_PLACE = 200;

const asCarried = (number: number, name: string, tag: TagRow): CarriedTag => ({
  number,
  name,
  type: tag.type,
  unit: tag.unit,
  description: tag.description,
  place: tag.place.length > LONGEST_PLACE ? '' : tag.place,
  stepped: tag.stepped,
  low: tag.low,
  high: tag.high,
  states: tag.states,
});
