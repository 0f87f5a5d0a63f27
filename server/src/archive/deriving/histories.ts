/** What a formula needs of the archive: the samples of a window, those just before it, and when the next ones are. */
import { emptyFrame, firstAtOrAfter, sliceFrame, type Frame, type Span } from '@wide-ledger/core';
import { markOf } from '../journal/entries.ts';
import { standingOfMany } from '../reading/standingOfMany.ts';
import type { Stores } from '../stores/stores.ts';
import type { StoredTag } from './derivedTags.ts';
import { LOOKS_BACK } from './recent.ts';

/** How far is looked back for the samples before a window at first, and by how much farther each time. Microseconds. */
const FIRST_LOOK = 600_000_000;
const FARTHER = 16;
/** Nothing lies before 1700. Microseconds. */
const FARTHEST = 400 * 366 * 86_400_000_000;

/** Of each tag the samples in [from, to), and before them as many as a formula may look at. */
export async function samplesAround(
  stores: Stores,
  tags: readonly StoredTag[],
  { from, to }: Span,
): Promise<Map<number, Frame>> {
  const found = new Map<number, Frame>();
  // Asked first: what is posted meanwhile was seen before it was.
  const begins = await beginsOf(stores, tags);
  let asked = tags;
  for (let look = FIRST_LOOK; asked.length > 0; look *= FARTHER) {
    const window = { from: from - Math.min(look, FARTHEST), to };
    const standing = await standingIn(stores, asked, window);
    for (const { id } of asked) found.set(id, standing.get(id) ?? emptyFrame(0, { origins: true }));
    if (look >= FARTHEST) break;
    asked = asked.filter(
      ({ id }) => firstAtOrAfter(found.get(id)!.times, from) < LOOKS_BACK && begins.get(id)! < window.from,
    );
  }
  for (const [id, frame] of found) {
    const first = Math.max(0, firstAtOrAfter(frame.times, from) - LOOKS_BACK);
    found.set(id, sliceFrame(frame, first, frame.times.length));
  }
  return found;
}

/** The times of a tag's next samples behind a moment, as many as a formula may look at, or fewer where there are no more. */
export async function timesBehind(stores: Stores, tag: StoredTag, time: number, until: number): Promise<Float64Array> {
  for (let look = FIRST_LOOK; ; look *= FARTHER) {
    const to = Math.min(time + look, until);
    const frame = (await standingIn(stores, [tag], { from: time + 1, to })).get(tag.id);
    if ((frame?.times.length ?? 0) >= LOOKS_BACK || to >= until)
      return frame?.times.slice(0, LOOKS_BACK) ?? new Float64Array();
  }
}

/** Before these moments there is nothing of each tag. Most tags that lack samples have none at all. */
async function beginsOf(stores: Stores, tags: readonly StoredTag[]): Promise<Map<number, number>> {
  const begins = new Map<number, number>();
  for (const store of new Set(tags.map(({ storeId }) => storeId))) {
    const ids = tags.filter(({ storeId }) => storeId === store).map(({ id }) => id);
    const ledger = await stores.pool(store);
    const mark = await markOf(ledger);
    const { rows: waiting } = await stores.home.query<{ first: number | null }>(
      'SELECT min(first_time) AS first FROM journal_entry WHERE id > $1',
      [mark],
    );
    const { rows } = await ledger.query<{ tag: number; month: number }>(
      'SELECT tag_id AS tag, min(month) AS month FROM ledger_month WHERE tag_id = ANY($1::int[]) GROUP BY tag_id',
      [ids],
    );
    const months = new Map(rows.map(({ tag, month }) => [tag, month]));
    for (const id of ids) begins.set(id, Math.min(waiting[0]!.first ?? Infinity, months.get(id) ?? Infinity));
  }
  return begins;
}

async function standingIn(stores: Stores, tags: readonly StoredTag[], window: Span): Promise<Map<number, Frame>> {
  const found = new Map<number, Frame>();
  await standingOfMany(
    stores,
    tags.map((tag) => ({ tag, window })),
    (tag, frame) => found.set(tag, frame),
  );
  return found;
}
