/** Another Wide Ledger as a kind of source: its tags are read on by its HTTP interface, with their history. */
import type { BrowsedNode, Tag } from '@wide-ledger/contract';
import type { Kind, RecordSession } from '../kind.ts';
import { NO_VALUE, folder } from '../nodes.ts';
import { walkPath } from './pathCheck.ts';
import { LedgerSession } from './session.ts';
import { Site } from './site.ts';

/** Tags that are looked through. */
const MOST_TAGS = 10_000;
const TAGS_A_CALL = 1000;
/** Begins a folder's node: no tag's name begins so. */
const PLACE = 'place:\t';
const NOWHERE = 'no place';

export const ledger: Kind<'ledger', RecordSession<'ledger'>> = {
  check: walkPath,
  open: async ({ connection }, around) => {
    const session = new LedgerSession(connection, new Site(connection, around));
    // Who is not let in, or meets nobody, hears it at once.
    await session.look();
    return session;
  },
  browse: async ({ connection }, node, around) => {
    const { tags, more } = await allTags(new Site(connection, around));
    if (node !== null)
      return { nodes: tags.filter((tag) => placeOf(tag) === node.slice(PLACE.length)).map(nodeOf), more };
    const places = new Map<string, number>();
    for (const tag of tags) places.set(placeOf(tag), (places.get(placeOf(tag)) ?? 0) + 1);
    const folders = [...places].map(([place, count]) =>
      folder(PLACE + place, place, count === 1 ? '1 tag' : `${count} tags`),
    );
    return { nodes: folders.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true })), more };
  },
};

const placeOf = ({ place }: Tag): string => place || NOWHERE;

async function allTags(site: Site): Promise<{ readonly tags: readonly Tag[]; readonly more: boolean }> {
  const tags: Tag[] = [];
  for (let cursor = '0'; tags.length < MOST_TAGS;) {
    const page = await site.tags(cursor, TAGS_A_CALL);
    tags.push(...page.tags);
    if (page.next === undefined) return { tags, more: false };
    cursor = page.next;
  }
  return { tags, more: true };
}

const nodeOf = ({ name, description, type, unit, low, high, states }: Tag): BrowsedNode => ({
  ...NO_VALUE,
  node: name,
  name,
  description,
  hasBelow: false,
  type,
  typeWords: type,
  unit,
  low,
  high,
  states,
});
