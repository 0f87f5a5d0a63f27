/** How complete the record of a window is, by tags and by places, in the cells of a calendar. Made in a reading thread. */
import type { CompletenessFormat } from '@wide-ledger/contract';
import {
  SourceCoverage,
  addCompleteness,
  clip,
  completenessOf,
  type Completeness,
  type SourceRecord,
  type Span,
} from '@wide-ledger/core';
import type { Pool } from 'pg';
import { recordsAmong, tagsWithin } from './answers.ts';
import { recordsOf, type Present } from './records.ts';

export interface CompletenessRequest extends Present {
  readonly kind: 'completeness';
  readonly window: Span;
  readonly cells: readonly Span[];
  readonly by: 'hour' | 'day' | 'month';
  readonly rows: 'place' | 'tag';
  /** Only tags that lie there, or below it; null: all. */
  readonly place: string | null;
  readonly zone: string;
  /** The site's name, for the head of a report. */
  readonly site: string;
  readonly format: CompletenessFormat;
}

export const isAboutCompleteness = (request: { readonly kind: string }): request is CompletenessRequest =>
  request.kind === 'completeness';

/** A tag, or all that lie in a place and below it. */
export interface CompletenessOf {
  readonly place: string;
  readonly tag: string | null;
  readonly tags: number;
  readonly cells: readonly Completeness[];
}

interface TagPlaced {
  readonly id: number;
  readonly name: string;
  readonly place: string;
}

/** Rows of the window: the whole site first, then places and, where wanted, tags, in the order of their paths. */
export async function completenessIn(home: Pool, request: CompletenessRequest): Promise<CompletenessOf[]> {
  const { window, place, now, arriving } = request;
  const all = await recordsOf(home, window, { now, arriving });
  const records = place === null ? all : recordsAmong(all, await tagsWithin(home, place));
  const numbers = [...records.values()].flatMap(({ groups }) => groups.flatMap(({ tags }) => tags));
  const { rows } = await home.query<TagPlaced>('SELECT id, name, place FROM tag WHERE id = ANY($1)', [numbers]);
  const placed = new Map(rows.map((tag) => [tag.id, tag]));
  const cells = new Map<number, readonly Completeness[]>();
  for (const record of records.values())
    for (const [tag, own] of cellsOf(record, request)) {
      // A tag that had two sources in the window has the cells of both.
      const known = cells.get(tag);
      cells.set(tag, known ? addCompleteness(known, own) : own);
    }
  const tags = [...cells].flatMap(([id, own]) => {
    const tag = placed.get(id);
    return tag ? [{ ...tag, cells: own }] : [];
  });
  return request.rows === 'tag' ? byTag(tags) : byPlace(tags);
}

/** Cells of the tags of one source; those that differ from it in nothing share theirs. */
function* cellsOf(
  record: SourceRecord,
  { window, cells }: CompletenessRequest,
): Generator<[tag: number, cells: readonly Completeness[]]> {
  const coverage = new SourceCoverage(window, record);
  const dueOf = (duty: readonly Span[]): Span[] => clip(duty, { from: -Infinity, to: record.until });
  const { duty, gaps } = coverage.source;
  const shared = completenessOf(cells, dueOf(duty), gaps);
  const differing = new Set<number>();
  for (const { tag, duty: own } of coverage.differing()) {
    differing.add(tag);
    yield [tag, completenessOf(cells, dueOf(own), coverage.tag(tag, own).gaps)];
  }
  for (const { tags } of record.groups) for (const tag of tags) if (!differing.has(tag)) yield [tag, shared];
}

/** Well 2 comes before Well 10. */
const byName = new Intl.Collator('en', { numeric: true }).compare;

type TagCells = TagPlaced & { readonly cells: readonly Completeness[] };

const byTag = (tags: readonly TagCells[]): CompletenessOf[] =>
  [...tags]
    .sort((a, b) => byName(a.place, b.place) || byName(a.name, b.name))
    .map(({ name, place, cells }) => ({ place, tag: name, tags: 1, cells }));

function byPlace(tags: readonly TagCells[]): CompletenessOf[] {
  // Tags of one place with the same cells are counted together: mostly they are their source's.
  const alike = new Map<string, Map<readonly Completeness[], number>>();
  for (const { place, cells } of tags) {
    const known = alike.get(place) ?? new Map<readonly Completeness[], number>();
    alike.set(place, known.set(cells, (known.get(cells) ?? 0) + 1));
  }
  const found = new Map<string, { tags: number; cells: readonly Completeness[] }>([['', { tags: 0, cells: [] }]]);
  for (const [place, groups] of alike)
    for (const within of ancestorsOf(place))
      for (const [cells, count] of groups) {
        const known = found.get(within) ?? { tags: 0, cells: [] };
        found.set(within, { tags: known.tags + count, cells: addCompleteness(known.cells, cells, count) });
      }
  return [...found].sort(([a], [b]) => byName(a, b)).map(([place, row]) => ({ place, tag: null, ...row }));
}

/** A place, all that it lies in, and the site. */
function ancestorsOf(place: string): string[] {
  const parts = place === '' ? [] : place.split(' / ');
  return parts.map((_, i) => parts.slice(0, i + 1).join(' / ')).concat('');
}
