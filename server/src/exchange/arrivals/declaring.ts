/** Tags that a link brings: made here, or found; each comes by one link, and keeps its history when it is renamed there. */
import { newTag, type CarriedTag, type CarriedTagsAnswer } from '@wide-ledger/contract';
import { samePlain, type Body } from '@wide-ledger/core';
import type { Pool } from 'pg';
import {
  bodiesInForce,
  createTags,
  keyOf,
  newIds,
  type Forcing,
  type TagRow,
  type WantedTag,
} from '../../configuration/index.ts';
import type { Doer } from '../../people/index.ts';
import type { Arrival } from './arrivals.ts';

/** What of a tag follows the near end for as long as it is carried. */
const FOLLOWING = ['name', 'unit', 'description', 'stepped', 'low', 'high', 'states'] as const;

/** Takes note of tags by the link's numbers. @returns for each why it cannot be carried, or null. */
export async function declareTags(
  home: Pool,
  forcing: Forcing,
  arrival: Arrival,
  tags: readonly CarriedTag[],
  whence: string,
): Promise<CarriedTagsAnswer['results']> {
  const by: Doer = { who: `link ${arrival.name}`, whence };
  await forcing.catalogue.refresh();
  const known = await numbersOf(
    home,
    arrival,
    tags.map(({ number }) => number),
  );
  const refused = new Map<number, string>();
  await follow(home, forcing, by, tags, known, refused);
  const fresh = tags.filter(({ number }) => !known.has(number));
  const missing: { index: number; tag: CarriedTag }[] = [];
  for (const [index, tag] of fresh.entries()) {
    const here = forcing.catalogue.tagByName(tag.name);
    if (!here) missing.push({ index, tag });
    else {
      const reason = unfit(here, tag);
      if (reason === null) await adopt(home, arrival, tag, here, refused);
      else refused.set(tag.number, reason);
    }
  }
  await make(home, forcing, by, arrival, missing, refused);
  return tags.map(({ number }) => ({ number, refused: refused.get(number) ?? null }));
}

/** The numbers here of a link's tags, by the link's own. @param wanted those that are asked for; a link may have thousands. */
export async function numbersOf(home: Pool, { id }: Arrival, wanted: readonly number[]): Promise<Map<number, number>> {
  const { rows } = await home.query<{ number: number; tag: number }>({
    name: 'numbers_of_arrival',
    text: 'SELECT number, tag_id AS tag FROM arriving_tag WHERE arrival_id = $1 AND number = ANY($2)',
    values: [id, wanted],
  });
  return new Map(rows.map(({ number, tag }) => [number, tag]));
}

/** Why a tag that is here cannot take what is carried; null: it can. */
function unfit(here: TagRow, { name, type }: CarriedTag): string | null {
  if (here.retiredAt !== null)
    return `A tag named ${name} was retired there. Take it back there, or choose another name.`;
  if (here.sourceId !== null)
    return `A tag named ${name} is collected there from a source of its own. Choose another name.`;
  if (here.type !== type) return `A tag named ${name} is ${here.type} there, and ${type} here. Choose another name.`;
  return null;
}

async function adopt(
  home: Pool,
  arrival: Arrival,
  { number, name }: CarriedTag,
  { id }: TagRow,
  refused: Map<number, string>,
): Promise<void> {
  const { rowCount } = await home.query(
    // A near end that was restored has forgotten the number that it gave a tag.
    `INSERT INTO arriving_tag AS known (arrival_id, number, tag_id) VALUES ($1, $2, $3)
     ON CONFLICT (tag_id) DO UPDATE SET number = excluded.number WHERE known.arrival_id = excluded.arrival_id`,
    [arrival.id, number, id],
  );
  if (rowCount === 1) return;
  const { rows } = await home.query<{ name: string }>(
    'SELECT a.name FROM arriving_tag t JOIN arrival a ON a.id = t.arrival_id WHERE t.tag_id = $1',
    [id],
  );
  refused.set(number, `A tag named ${name} comes there by the link ${rows[0]?.name ?? 'of another site'} already.`);
}

async function make(
  home: Pool,
  forcing: Forcing,
  by: Doer,
  arrival: Arrival,
  missing: readonly { readonly index: number; readonly tag: CarriedTag }[],
  refused: Map<number, string>,
): Promise<void> {
  const ids = await newIds(home, 'tag', missing.length);
  const wanted = missing.map(({ index, tag }, i): WantedTag => {
    const { number: _number, states, ...fields } = tag;
    return { index, id: ids[i]!, tag: newTag.parse({ ...fields, ...(states ? { states } : {}) }) };
  });
  const reasons = new Map<number, string>();
  const made = await createTags(forcing, by, wanted, reasons);
  for (const { index, tag } of missing) {
    const id = made.get(index);
    if (id === undefined) refused.set(tag.number, reasons.get(index) ?? 'It could not be made there.');
    else
      await home.query(
        'INSERT INTO arriving_tag (arrival_id, number, tag_id) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING',
        [arrival.id, tag.number, id],
      );
  }
}

/** Tags that came before are as they are at the near end by now; one that cannot be is refused as it is there. */
async function follow(
  home: Pool,
  forcing: Forcing,
  by: Doer,
  tags: readonly CarriedTag[],
  known: ReadonlyMap<number, number>,
  refused: Map<number, string>,
): Promise<void> {
  const keys = tags.flatMap(({ number }) => {
    const id = known.get(number);
    return id === undefined ? [] : [{ kind: 'tag', id } as const];
  });
  const bodies = await bodiesInForce(home, keys);
  for (const tag of tags) {
    const id = known.get(tag.number);
    const base = id === undefined ? undefined : bodies.get(keyOf({ kind: 'tag', id }));
    if (id === undefined || base === undefined) continue;
    const following = tag.labels ? [...FOLLOWING, 'labels' as const] : FOLLOWING;
    const now = Object.fromEntries(following.map((field) => [field, tag[field]])) as Body;
    if (following.every((field) => samePlain(base[field], now[field]))) continue;
    const wish = { kind: 'tag', id, base, body: { ...base, ...now } } as const;
    try {
      await forcing.force({ by, reason: `${tag.name}: as it is at the other end of the link.`, wishes: [wish] });
    } catch (error) {
      refused.set(tag.number, (error as Error).message);
    }
  }
}
