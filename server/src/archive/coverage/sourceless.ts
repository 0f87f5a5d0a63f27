/** Tags whose values come by calls, files or links: nobody records what is watched, so the values themselves are asked. */
import type { CoverageRow, Gap as GapAnswer } from '@wide-ledger/contract';
import {
  SECOND,
  describeLength,
  explainedGaps,
  formatInstant,
  totalLength,
  type ExplainedGap,
  type LivingGap,
  type Origin,
  type Presence,
  type Rhythm,
  type Span,
} from '@wide-ledger/core';
import type { Pool } from 'pg';
import { explanationsOf } from './explanations.ts';

/** A tag whose values are asked. */
export interface SourcelessTag {
  readonly id: number;
  readonly name: string;
  readonly store: number;
  /** After which a value is kept anyway, in seconds; null where nobody said. */
  readonly longestSilence: number | null;
}

/** What the values of a tag tell of a window. */
export interface FoundPresence extends Presence {
  /** Null where there are too few values: then nothing is told of gaps. */
  readonly rhythm: Rhythm | null;
  /** How most of its values got in. */
  readonly origin: Origin;
}

/** Asks the values of a tag; entered by whoever reads history. */
export type AskPresence = (tag: SourcelessTag, window: Span) => Promise<FoundPresence>;

/** More are not looked at in one answer: it is asked again every second while somebody looks at a live window. */
const MOST_TAGS = 60;
/** So many at once. */
const TAGS_AT_ONCE = 4;

/** Which of them are asked for. */
export interface Among {
  readonly window: Span;
  readonly only: number | null;
  readonly among: readonly number[] | null;
  readonly place: string | null;
}

/** Tags without a source; none of them, with their number, where they are too many to be looked at. */
export async function sourcelessTags(
  home: Pool,
  { window, only, among, place }: Among,
): Promise<{ tags: readonly SourcelessTag[]; unlooked: number }> {
  const { rows } = await home.query<SourcelessTag & { readonly total: number }>({
    name: 'sourceless',
    text: `SELECT t.id, t.name, t.store_id AS store, count(*) OVER ()::int AS total,
             coalesce(t.settings ->> 'longestSilenceSeconds', p.settings ->> 'longestSilenceSeconds')::float8 AS "longestSilence"
           FROM tag t LEFT JOIN pace p ON p.id = t.pace_id
           WHERE t.source_id IS NULL AND ($1::int IS NULL OR t.id = $1) AND ($2::int[] IS NULL OR t.id = ANY($2))
             AND ($3::text IS NULL OR t.place = $3 OR starts_with(t.place, $3 || ' / '))
             AND (t.retired_at IS NULL OR $1 IS NOT NULL)
             -- Where it comes from its coverage was recorded, and told here.
             AND NOT EXISTS (SELECT FROM duty d WHERE d.tag_id = t.id AND d.source_id < 0
                               AND d.since < $5 AND coalesce(d.until, $5) > $4)
           ORDER BY t.name LIMIT ${MOST_TAGS + 1}`,
    values: [only, among, place, window.from, window.to],
  });
  const total = rows[0]?.total ?? 0;
  return total > MOST_TAGS ? { tags: [], unlooked: total } : { tags: rows, unlooked: 0 };
}

/** A tag's strip, and its gaps as they are told. */
export interface SourcelessRow {
  readonly tag: SourcelessTag;
  readonly found: FoundPresence;
  readonly gaps: readonly ExplainedGap[];
}

/** Their strips, in the order of the tags. */
export async function* sourcelessRows(
  home: Pool,
  tags: readonly SourcelessTag[],
  window: Span,
  ask: AskPresence,
): AsyncGenerator<SourcelessRow> {
  if (tags.length === 0) return;
  // They stand for one source of no number.
  const groups = [{ source: 0, tags: tags.map(({ id }) => id), spans: [window] }];
  const said = (await explanationsOf(home, window, groups)).get(0) ?? [];
  for (let at = 0; at < tags.length; at += TAGS_AT_ONCE) {
    const next = tags.slice(at, at + TAGS_AT_ONCE);
    const found = await Promise.all(next.map((tag) => ask(tag, window)));
    for (const [i, tag] of next.entries()) {
      const own = said.filter((one) => one.tag === 0 || one.tag === tag.id);
      yield { tag, found: found[i]!, gaps: explainedGaps(livingGaps(found[i]!), own) };
    }
  }
}

function livingGaps({ gaps, rhythm }: FoundPresence): LivingGap[] {
  if (rhythm === null) return [];
  const { usual, longest, values } = rhythm;
  const sentence = `No value came. One is expected about every ${describeLength(usual)}, and a silence of more than ${describeLength(longest)} is unusual: estimated from ${values} values.`;
  return gaps.map(({ from, to }) => ({
    from,
    to,
    cause: 'unknown',
    sentence,
    code: null,
    recoverable: false,
    state: 'open',
    fate: '',
  }));
}

export function sourcelessGap({ from, to, ...rest }: ExplainedGap, tag: SourcelessTag): GapAnswer {
  return {
    ...rest,
    from: formatInstant(from),
    to: formatInstant(to),
    seconds: (to - from) / SECOND,
    cause: 'no values',
    source: null,
    tag: tag.name,
    tags: 1,
  };
}

export function sourcelessAnswer({ tag, found, gaps }: SourcelessRow): CoverageRow {
  const { spans, rhythm, origin } = found;
  const present = totalLength(spans);
  const away = totalLength(gaps);
  return {
    source: '',
    sourceId: 0,
    tag: tag.name,
    duty: [],
    spans: spans.map(({ from, to }) => ({ from: formatInstant(from), to: formatInstant(to), origin })),
    gaps: gaps.map((gap) => sourcelessGap(gap, tag)),
    watchedPercent: present + away === 0 ? 0 : (100 * present) / (present + away),
    estimate: rhythm && {
      values: rhythm.values,
      usualSeconds: rhythm.usual / SECOND,
      gapSeconds: rhythm.longest / SECOND,
    },
  };
}
