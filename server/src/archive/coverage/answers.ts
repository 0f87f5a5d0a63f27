/** Strips and gaps of a window as they are answered, source by source. Made in a reading thread: there may be thousands. */
import {
  KINDS,
  recoverySettings,
  type CoverageRow,
  type Gap as GapAnswer,
  type GapsAnswer,
  type SourceKind,
} from '@wide-ledger/contract';
import {
  SECOND,
  SourceCoverage,
  formatInstant,
  subtract,
  union,
  type CoverageSpans,
  type ExplainedGap,
  type Span,
  type SourceRecord,
} from '@wide-ledger/core';
import type { Pool } from 'pg';
import { Turns } from '../../ground/index.ts';
import { pausesIn } from './pauses.ts';
import { recordsOf, type Present } from './records.ts';
import { setAsidesIn } from './setAsides.ts';
import { sourcelessAnswer, sourcelessGap, sourcelessRows, sourcelessTags, type AskPresence } from './sourceless.ts';

/** What is asked for: a tag alone; or all sources with the tags that differ from them, all of these or some. */
export interface CoverageRequest extends Present {
  readonly kind: 'coverage' | 'gaps';
  readonly window: Span;
  readonly only: number | null;
  readonly among: readonly number[] | null;
  /** Only tags that lie there, or below it, and sources that have some of them; null: wherever. */
  readonly place: string | null;
  /** Of gaps: whether those that were filled since are told, too. */
  readonly recovered: boolean;
}

/** Whether a request to a reading thread is one about coverage. */
export const isAboutCoverage = (request: { readonly kind: string }): request is CoverageRequest =>
  request.kind === 'coverage' || request.kind === 'gaps';

/** Rows that are made before others get their turn. */
const ROWS_AT_ONCE = 50;
/** Gaps in one answer, the latest; beyond, a narrower window or one tag is asked for. */
const MOST_GAPS = 5000;

interface SourceNamed {
  readonly id: number;
  readonly name: string;
  /** Whether it keeps a past that it may be asked for. */
  readonly remembers: boolean;
}

interface Names {
  readonly sources: ReadonlyMap<number, SourceNamed>;
  readonly tags: ReadonlyMap<number, string>;
}

/** A source with what is known of it, and the tags of it that are asked for. */
interface Asked {
  readonly source: SourceNamed;
  readonly coverage: SourceCoverage;
  readonly tags: readonly { readonly tag: number; readonly name: string; readonly duty: readonly Span[] }[];
}

/** Records of sources as far as they are about some tags: of the others nothing is told, and their duty does not count. */
export function recordsAmong(
  records: ReadonlyMap<number, SourceRecord>,
  wanted: ReadonlySet<number>,
): Map<number, SourceRecord> {
  const found = new Map<number, SourceRecord>();
  for (const [source, record] of records) {
    const groups = record.groups
      .map(({ spans, tags }) => ({ spans, tags: tags.filter((tag) => wanted.has(tag)) }))
      .filter(({ tags }) => tags.length > 0);
    if (groups.length > 0) found.set(source, { ...record, groups });
  }
  return found;
}

export async function tagsWithin(home: Pool, place: string): Promise<Set<number>> {
  const { rows } = await home.query<{ id: number }>(
    `SELECT id FROM tag WHERE place = $1 OR starts_with(place, $1 || ' / ')`,
    [place],
  );
  return new Set(rows.map(({ id }) => id));
}

const everyTag = ({ groups }: SourceRecord): { tag: number; duty: readonly Span[] }[] =>
  groups.flatMap(({ spans, tags }) => tags.map((tag) => ({ tag, duty: spans })));

async function askedFor(home: Pool, request: CoverageRequest): Promise<Asked[]> {
  const { window, only, among, place, now, arriving } = request;
  const all = await recordsOf(home, window, { now, arriving }, only ?? undefined);
  const records = place === null ? all : recordsAmong(all, await tagsWithin(home, place));
  const wanted = among && new Set(among);
  const found = [...records].map(([source, record]) => {
    const coverage = new SourceCoverage(window, record);
    // A tag does not tell which source of another site it has: one that is asked for has a row of its own.
    const own = source < 0 && wanted !== null ? everyTag(record) : [...coverage.differing()];
    const tags =
      only === null
        ? own.filter(({ tag }) => wanted === null || wanted.has(tag))
        : [{ tag: only, duty: coverage.duty }];
    return { source, coverage, tags };
  });
  const names = await namesOf(
    home,
    [...records.keys()],
    found.flatMap(({ tags }) => tags.map(({ tag }) => tag)),
  );
  return found.flatMap(({ source, coverage, tags }) => {
    const named = names.sources.get(source);
    if (named === undefined) return [];
    const asked = tags.flatMap(({ tag, duty }) => {
      const tagName = names.tags.get(tag);
      return tagName === undefined ? [] : [{ tag, duty, name: tagName }];
    });
    return [{ source: named, coverage, tags: asked }];
  });
}

/** Source rows, each with the rows of its tags after it. */
async function* rowsOf(home: Pool, request: CoverageRequest): AsyncGenerator<CoverageRow> {
  const turns = new Turns(ROWS_AT_ONCE);
  for (const { source, coverage, tags } of await askedFor(home, request)) {
    if (request.only === null) yield rowOf(source, null, coverage.tags, coverage.source);
    for (const { tag, name, duty } of tags) {
      yield rowOf(source, name, 1, coverage.tag(tag, duty));
      await turns.after(1);
    }
  }
}

async function namesOf(home: Pool, sources: readonly number[], tags: readonly number[]): Promise<Names> {
  const [ofSources, ofTags] = await Promise.all([
    home.query<{ id: number; name: string; kind: string; connection: object }>(
      `SELECT id, n.name, coalesce(s.kind, '') AS kind, coalesce(s.connection, '{}') AS connection
       FROM named_source n LEFT JOIN source s USING (id) WHERE id = ANY($1)`,
      [sources],
    ),
    home.query<{ id: number; name: string }>('SELECT id, name FROM tag WHERE id = ANY($1)', [tags]),
  ]);
  const named = ofSources.rows.map(({ id, name, kind, connection }) => ({
    id,
    name,
    remembers: remembers(kind, connection),
  }));
  return {
    sources: new Map(named.map((source) => [source.id, source])),
    tags: new Map(ofTags.rows.map(({ id, name }) => [id, name])),
  };
}

const remembers = (kind: string, connection: object): boolean =>
  recoverySettings(connection, kind in KINDS && KINDS[kind as SourceKind].offers.history).mode !== 'off';

function rowOf(
  source: SourceNamed,
  tag: string | null,
  tags: number,
  { duty, spans, gaps, watchedPercent }: CoverageSpans,
): CoverageRow {
  return {
    source: source.name,
    sourceId: source.id,
    tag,
    duty: duty.map(({ from, to }) => ({ from: formatInstant(from), to: formatInstant(to) })),
    spans: spans.map(({ from, to, origin }) => ({ from: formatInstant(from), to: formatInstant(to), origin })),
    gaps: gaps.map((gap) => asGapAnswer(gap, source, tag, tags)),
    watchedPercent,
  };
}

/** What is said of a source's queue, and of a collector's memory when its disk is full. */
const OVERRUN: ReadonlySet<string> = new Set(['OVERFLOW', 'ENOSPC']);

function asGapAnswer(
  { from, to, ...rest }: ExplainedGap,
  source: SourceNamed,
  tag: string | null,
  tags: number,
): GapAnswer {
  return {
    from: formatInstant(from),
    to: formatInstant(to),
    seconds: (to - from) / SECOND,
    ...rest,
    cause: rest.code !== null && OVERRUN.has(rest.code) ? 'overrun' : rest.cause,
    // Also what no collector reported may still be there, while nobody has found that it is not.
    recoverable: rest.recoverable || (rest.state === 'open' && source.remembers),
    source: source.name,
    tag,
    tags,
  };
}

const echo = ({ window: { from, to } }: CoverageRequest): string =>
  `{"from":"${formatInstant(from)}","to":"${formatInstant(to)}"`;

/** The answer as JSON, in pieces. @param ask the values of tags without a source. */
export async function* coverageAnswer(home: Pool, request: CoverageRequest, ask: AskPresence): AsyncGenerator<string> {
  if (request.kind === 'gaps') {
    yield* gapsAnswer(home, request, ask);
    return;
  }
  yield `${echo(request)},"rows":[`;
  let rows: string[] = [];
  let separator = '';
  const recorded = new Set<string>();
  for await (const row of rowsOf(home, request)) {
    if (row.tag !== null) recorded.add(row.tag);
    rows.push(JSON.stringify(row));
    if (rows.length < ROWS_AT_ONCE) continue;
    yield separator + rows.join(',');
    separator = ',';
    rows = [];
  }
  const { tags, unlooked } = await sourcelessTags(home, request);
  // One that had a source in the window has a record of it.
  const left = tags.filter(({ name }) => !recorded.has(name));
  for await (const row of sourcelessRows(home, left, request.window, ask))
    rows.push(JSON.stringify(sourcelessAnswer(row)));
  yield `${rows.length > 0 ? separator : ''}${rows.join(',')}],"unlooked":${unlooked}}`;
}

interface FoundGap {
  readonly gap: ExplainedGap;
  readonly source: SourceNamed;
  readonly tag: string | null;
  readonly tags: number;
  /** Of a source's own: of so many of its tags it is gone for good. */
  readonly goneTags?: number;
}

/** So many tags of a source with the very same gap are one row. */
const MANY_ALIKE = 10;

const keyOf = ({ from, to, state, explained }: ExplainedGap): string =>
  `${from} ${to} ${state} ${explained?.reason ?? ''}`;

/** Gaps of a window, and how many there are of them. */
export type GapsIn = Pick<GapsAnswer, 'total' | 'recovered' | 'unlooked' | 'gaps'>;

/** A tag repeats its source's gaps; in the list of all they are named once, at the source. The latest first. */
export async function gapsIn(home: Pool, request: CoverageRequest, ask: AskPresence): Promise<GapsIn> {
  const found: FoundGap[] = [];
  const told = ({ state }: ExplainedGap): boolean => request.recovered || state !== 'recovered';
  const recorded = new Set<string>();
  const turns = new Turns(ROWS_AT_ONCE);
  for (const { source, coverage, tags } of await askedFor(home, request)) {
    for (const { name } of tags) recorded.add(name);
    const own = request.only === null ? coverage.gapsOfSource : [];
    const ofSource = new Set(own.map(keyOf));
    // While a source is recovered its tags are done one after the other: that is no news of each of them.
    const underway = union(own);
    const isNews = (gap: ExplainedGap): boolean =>
      !ofSource.has(keyOf(gap)) &&
      (gap.state === 'open' || gap.state === 'gone' || subtract([gap], underway).length > 0);
    const alike = new Map<string, FoundGap[]>();
    for (const { tag, name, duty } of tags) {
      await turns.after(1);
      const gaps = request.only === null ? coverage.ownGapsOf(tag, duty) : coverage.gapsOf(tag, duty);
      for (const gap of gaps.filter(told)) {
        if (!isNews(gap)) continue;
        const key = `${keyOf(gap)} ${gap.sentence} ${gap.fate}`;
        const known = alike.get(key);
        if (known) known.push({ gap, source, tag: name, tags: 1 });
        else alike.set(key, [{ gap, source, tag: name, tags: 1 }]);
      }
    }
    const ofAll: Span[] = [];
    for (const group of alike.values()) {
      const isOfAll = group.length > 1 && group.length === coverage.tags;
      if (isOfAll) ofAll.push(group[0]!.gap);
      if (isOfAll || group.length >= MANY_ALIKE) found.push({ ...group[0]!, tag: null, tags: group.length });
      else found.push(...group);
    }
    // What is the same exception of each of its tags is no exception: it is what became of the source.
    for (const gap of own.filter(told))
      for (const { from, to } of subtract([gap], union(ofAll)))
        found.push({
          gap: { ...gap, from, to },
          source,
          tag: null,
          tags: coverage.tags,
          goneTags: coverage.goneTagsIn({ from, to }),
        });
  }
  found.sort((a, b) => b.gap.from - a.gap.from);
  const pauses = await pausesIn(home, request.window, request.only);
  const setAside = await setAsidesIn(home, request);
  const latest = found.slice(0, MOST_GAPS).map(({ gap, source, tag, tags, goneTags }) => ({
    ...asGapAnswer(gap, source, tag, tags),
    ...(goneTags !== undefined && goneTags > 0 && { goneTags }),
  }));
  const { tags: sourceless, unlooked } = await sourcelessTags(home, request);
  const left = sourceless.filter(({ name }) => !recorded.has(name));
  const silent: GapAnswer[] = [];
  for await (const { tag, gaps } of sourcelessRows(home, left, request.window, ask))
    silent.push(...gaps.map((gap) => sourcelessGap(gap, tag)));
  const all = [...latest, ...pauses, ...setAside, ...silent]
    .sort((a, b) => (a.from < b.from ? 1 : -1))
    .slice(0, MOST_GAPS);
  const recovered = found.filter(({ gap }) => gap.state === 'recovered').length;
  return { total: found.length + pauses.length + setAside.length + silent.length, recovered, unlooked, gaps: all };
}

async function* gapsAnswer(home: Pool, request: CoverageRequest, ask: AskPresence): AsyncGenerator<string> {
  const { total, recovered, unlooked, gaps } = await gapsIn(home, request, ask);
  yield `${echo(request)},"total":${total},"recovered":${recovered},"unlooked":${unlooked},"gaps":${JSON.stringify(gaps)}}`;
}
