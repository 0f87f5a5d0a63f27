/** The tags of a link: which are chosen, by what names they go, and what the far end said of each. */
import type { CarriedTag } from '@wide-ledger/contract';
import {
  carriedKinds,
  chosenTags,
  farNames,
  samePlain,
  summaryName,
  summaryUnit,
  type CarriedSummary,
  type Plain,
} from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { Stores } from '../../archive/index.ts';
import type { Catalogue, LinkRow, TagRow } from '../../configuration/index.ts';
import { noteCarried } from './carriedTimes.ts';
import type { FarEnd } from './far/farEnd.ts';

/** Tags that are told in one request. */
const TAGS_AT_ONCE = 2_000;

interface Told {
  readonly number: number;
  readonly tag_id: number;
  readonly summary: string;
  readonly told: CarriedTag;
  readonly refused: string | null;
}

/** The link's numbers of what it carries. */
export interface CarriedNumbers {
  /** Of tags of which every value is carried, by their own numbers. */
  readonly detail: ReadonlyMap<number, number>;
  /** Of the summaries of a tag, by its own number: a pair for each. */
  readonly summaries: ReadonlyMap<number, readonly (readonly [CarriedSummary, number])[]>;
}

/** What a summary is known by among those of a tag; every value: by nothing. */
const keptAs = (summary: CarriedSummary | null): string => (summary ? summaryName(summary) : '');

/** Where a link stands as tags are told. */
export interface TellingAt {
  /** The greatest of the link's numbers that the far end knows. */
  readonly lastNumber: number;
  /** Up to where the journal was carried. */
  readonly position: number;
}

/**
 * Tells the far end what it does not know yet.
 * @returns the link's numbers of what is carried.
 */
export async function tellTags(
  home: Pool,
  stores: Stores,
  catalogue: Catalogue,
  { id, body }: LinkRow,
  far: FarEnd,
  { lastNumber, position }: TellingAt,
): Promise<CarriedNumbers> {
  await catalogue.refresh();
  const { rows } = await home.query<Told>(
    'SELECT number, tag_id, summary, told, refused FROM link_tag WHERE link_id = $1',
    [id],
  );
  const known = new Map(rows.map((row) => [`${row.tag_id} ${row.summary}`, row]));
  // A site that was restored has forgotten numbers that the far end knows: none is given a second time.
  let next = rows.reduce((most, { number }) => Math.max(most, number), lastNumber) + 1;
  const kinds = carriedKinds(body.detail, body.summaries);
  const named = farNames(chosenTags(catalogue.tags, body.carries), body.naming, kinds);
  const numbers = new Numbers();
  const news: Omit<ToldTag, 'refused'>[] = [];
  const unnamed: ToldTag[] = [];
  for (const { tag, summary, farName, problem } of named) {
    const before = known.get(`${tag.id} ${keptAs(summary)}`);
    const told = asCarried(before?.number ?? next, farName, tag, summary);
    if (problem !== null) {
      if (!before) next++;
      if (before?.refused !== problem) unnamed.push({ tag, summary, told, refused: problem });
      continue;
    }
    // One that was refused is asked for again: what stood in its way may be gone.
    if (before?.refused === null && samePlain(before.told as Plain, told as Plain))
      numbers.add(tag, summary, told.number);
    else {
      if (!before) next++;
      news.push({ tag, summary, told });
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
    for (const { tag, summary, told } of part)
      if ((refused.get(told.number) ?? null) === null) numbers.add(tag, summary, told.number);
  }
  await remember(home, id, unnamed);
  await noteCarried(home, stores, catalogue, id, numbers.detail, position);
  return numbers;
}

/** Numbers as they are gathered. */
class Numbers implements CarriedNumbers {
  readonly detail = new Map<number, number>();
  readonly summaries = new Map<number, (readonly [CarriedSummary, number])[]>();

  add({ id }: TagRow, summary: CarriedSummary | null, number: number): void {
    if (summary === null) this.detail.set(id, number);
    else this.summaries.set(id, [...(this.summaries.get(id) ?? []), [summary, number]]);
  }
}

/** A tag as it was told, and why it is not carried; null: it is. */
interface ToldTag {
  readonly tag: TagRow;
  readonly summary: CarriedSummary | null;
  readonly told: CarriedTag;
  readonly refused: string | null;
}

async function remember(home: Pool, link: number, tags: readonly ToldTag[]): Promise<void> {
  if (tags.length === 0) return;
  await home.query(
    `INSERT INTO link_tag (link_id, number, tag_id, far_name, told, refused, summary)
       SELECT $1, * FROM unnest($2::int[], $3::int[], $4::text[], $5::jsonb[], $6::text[], $7::text[])
     ON CONFLICT (link_id, number) DO UPDATE SET far_name = excluded.far_name, told = excluded.told, refused = excluded.refused`,
    [
      link,
      tags.map(({ told }) => told.number),
      tags.map(({ tag }) => tag.id),
      tags.map(({ told }) => told.name),
      tags.map(({ told }) => JSON.stringify(told)),
      tags.map(({ refused }) => refused),
      tags.map(({ summary }) => keptAs(summary)),
    ],
  );
}

const LONGEST_DESCRIPTION = 400;
/** Characters of a place that a tag made by a call may have. */
const LONGEST_PLACE = 200;

/** What is told of a tag, or of a summary of it, which is a number whatever the tag is. */
export function asCarried(
  number: number,
  name: string,
  tag: TagRow,
  summary: CarriedSummary | null = null,
): CarriedTag {
  const common = { number, name, place: tag.place.length > LONGEST_PLACE ? '' : tag.place };
  const { type, unit, description, stepped, low, high, states, labels } = tag;
  const labelled = labels ? { labels } : {};
  if (summary === null) return { ...common, type, unit, description, stepped, low, high, states, ...labelled };
  const of = `${summary.aggregate} over ${summary.interval} of ${tag.name}`;
  return {
    ...common,
    type: 'real',
    unit: summaryUnit(summary.aggregate, unit),
    description: `${of}${description && `: ${description}`}`.slice(0, LONGEST_DESCRIPTION),
    stepped: true,
    low: null,
    high: null,
    states: null,
    ...labelled,
  };
}
