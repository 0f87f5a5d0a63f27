/** The story of a gap: what the collector said, what came in later, whose turn it was, what people did and said meanwhile. */
import type { GapStory } from '@wide-ledger/contract';
import { MINUTE, ORIGINS, formatInstant, type Span } from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { Logbook } from '../../people/index.ts';

type Event = GapStory['events'][number];

/** What people did so long before it, and after it, may have to do with it. */
const AROUND = 15 * MINUTE;
/** Events of one kind that are told. */
const MOST = 40;

/** What the gap is of: a source, or one of its tags. A tag without a source has no number of one. */
export interface GapOf {
  readonly source: number | null;
  readonly tag: number | null;
}

interface OutageRow {
  readonly since: number;
  readonly until: number | null;
  readonly sentence: string;
  readonly code: string | null;
}

async function outagesIn(home: Pool, { source, tag }: GapOf, { from, to }: Span): Promise<Event[]> {
  const { rows } = await home.query<OutageRow>(
    `SELECT since, until, sentence, code FROM outage
     WHERE source_id = $1 AND (tag_id = 0 OR $2::int IS NULL OR tag_id = $2) AND since < $4 AND coalesce(until, $4) > $3
     ORDER BY since LIMIT ${MOST}`,
    [source, tag, from, to],
  );
  return rows.flatMap(({ since, until, sentence, code }): Event[] => [
    { at: formatInstant(since), told: 'outage', who: '', sentence: code === null ? sentence : `${sentence} (${code})` },
    ...(until === null
      ? []
      : [{ at: formatInstant(until), told: 'end' as const, who: '', sentence: 'That was over.' }]),
  ]);
}

interface EntriesRow {
  readonly writer: string;
  readonly origin: number;
  readonly samples: number;
  readonly last: Date;
}

/** Entries that brought something of this time later than it was; as far back as the journal goes. */
async function entriesInto(home: Pool, { source, tag }: GapOf, { from, to }: Span): Promise<Event[]> {
  const { rows } = await home.query<EntriesRow>(
    `SELECT writer, origin, sum(samples)::int AS samples, max(received_at) AS last FROM journal_entry
     WHERE first_time < $4 AND last_time >= $3 AND origin > 0
       AND tags && (SELECT array_agg(id) FROM tag WHERE id = $2 OR ($2::int IS NULL AND source_id = $1))
     GROUP BY writer, origin ORDER BY last LIMIT ${MOST}`,
    [source, tag, from, to],
  );
  return rows.map(({ writer, origin, samples, last }) => ({
    at: last.toISOString(),
    told: 'values',
    who: writer.split('/')[0]!,
    sentence:
      samples === 1
        ? `A value of it came in, ${ORIGINS[origin]}.`
        : `The last of ${samples} values in entries that reach into it came in, ${ORIGINS[origin]}.`,
  }));
}

interface RecoveryRow {
  readonly at: Date;
  readonly outcome: string;
  readonly sentence: string;
}

const OUTCOMES: Readonly<Record<string, string>> = {
  wanted: 'The collector is after it in the source’s own history.',
  recovered: 'It was recovered out of the source’s own history.',
  gone: 'It is gone for good.',
};

async function recoveriesOf(home: Pool, { source, tag }: GapOf, { from, to }: Span): Promise<Event[]> {
  const { rows } = await home.query<RecoveryRow>(
    `SELECT max(said_at) AS at, outcome, sentence FROM recovery
     WHERE source_id = $1 AND (tag_id = 0 OR $2::int IS NULL OR tag_id = $2) AND since < $4 AND until > $3
     GROUP BY outcome, sentence ORDER BY at LIMIT ${MOST}`,
    [source, tag, from, to],
  );
  return rows.map(({ at, outcome, sentence }) => ({
    at: at.toISOString(),
    told: 'recovery',
    who: '',
    sentence: `${OUTCOMES[outcome] ?? outcome} ${sentence}`.trim(),
  }));
}

async function saidOf(home: Pool, { source, tag }: GapOf, { from, to }: Span): Promise<Event[]> {
  const { rows } = await home.query<{ at: Date; who: string; reason: string }>(
    `SELECT said_at AS at, said_by AS who, reason FROM gap_explanation
     WHERE taken_back_at IS NULL AND since < $4 AND until > $3
       AND ((kind = 'source' AND item_id = $1) OR (kind = 'tag' AND item_id = $2)
            OR (kind = 'place' AND EXISTS (SELECT FROM tag t WHERE (t.id = $2 OR ($2::int IS NULL AND t.source_id = $1))
                  AND (t.place = about OR starts_with(t.place, about || ' / ')))))
     ORDER BY said_at LIMIT ${MOST}`,
    [source, tag, from, to],
  );
  return rows.map(({ at, who, reason }) => ({ at: at.toISOString(), told: 'explanation', who, sentence: reason }));
}

async function leaseOf(home: Pool, { source }: GapOf, { from, to }: Span): Promise<Event[]> {
  const { rows } = await home.query<{ at: Date; holder: string }>(
    `SELECT taken_at AS at, holder FROM source_lease WHERE source_id = $1
       AND taken_at >= to_timestamp($2 / 1e6) AND taken_at < to_timestamp($3 / 1e6)`,
    [source, from - AROUND, to + AROUND],
  );
  return rows.map(({ at, holder }) => ({
    at: at.toISOString(),
    told: 'lease',
    who: holder,
    sentence: 'It records from here on.',
  }));
}

async function deedsAround(logbook: Logbook, { from, to }: Span): Promise<Event[]> {
  const { entries } = await logbook.list({ from: from - AROUND, to: to + AROUND, search: '', limit: MOST });
  return entries.map(({ at, who, act, sentence }) => ({
    at,
    told: 'logbook',
    who,
    sentence: `${who} ${act}: ${sentence}`,
  }));
}

/** All that is known of a gap, the earliest first. */
export async function storyOf(home: Pool, logbook: Logbook, of: GapOf, gap: Span): Promise<Event[]> {
  const told = await Promise.all([
    outagesIn(home, of, gap),
    entriesInto(home, of, gap),
    recoveriesOf(home, of, gap),
    saidOf(home, of, gap),
    leaseOf(home, of, gap),
    deedsAround(logbook, gap),
  ]);
  return told.flat().sort((a, b) => Date.parse(a.at) - Date.parse(b.at));
}
