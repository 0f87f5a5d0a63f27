/** The journal: entries in the order in which they were committed. What it has answered for is never lost. */
import type { OutageSpan, RecoverySpan, WatchSpan } from '@wide-ledger/contract';
import { encodeFrame, originCode, tagsIn, type Frame, type Origin } from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';
import { Turns, inTransaction, listAsJson, type Database } from '../../ground/index.ts';
import type { Admission, RefusedSample } from './admission.ts';

export interface NewEntry {
  readonly writer: string;
  /** The writer's own number of this entry; null where the writer keeps none and may deliver twice. */
  readonly sequence: number | null;
  readonly origin: Origin;
  readonly frame: Frame | null;
  /** The frame's bytes where they came ready made and nothing was set aside. */
  readonly frameBytes?: Uint8Array | null;
  readonly watches: readonly WatchSpan[];
  readonly outages: readonly OutageSpan[];
  readonly recoveries?: readonly RecoverySpan[] | undefined;
  readonly refused: readonly RefusedSample[];
  /** Why, where somebody said so. */
  readonly reason?: string | undefined;
  /** The sites that it came through, by their identities, the first one first; nothing where it began here. */
  readonly via?: readonly string[];
}

const dayOf = (date: Date): string => date.toISOString().slice(0, 10);

/** For how long a request may stop between two of its entries. */
const STUCK_MILLISECONDS = 10_000;

/** The site's journal: entries are appended, once for each writer's number, and never changed. */
export class Journal {
  private readyDays = '';
  private readonly listeners: ((frame: Frame) => void)[] = [];
  private readonly needs: (() => Promise<number>)[] = [];

  constructor(
    private readonly database: Database,
    private readonly now: () => Date = () => new Date(),
  ) {}

  /** Makes the tables of today and tomorrow, so that midnight finds one. */
  async prepareDays(): Promise<void> {
    const today = this.now();
    const tomorrow = new Date(today.getTime() + 86_400_000);
    const days = `${dayOf(today)} ${dayOf(tomorrow)}`;
    if (days === this.readyDays) return;
    await this.database.pool.query('SELECT ensure_journal_day($1), ensure_journal_day($2)', days.split(' '));
    this.readyDays = days;
  }

  /** Calls back with each entry's frame once it is committed. */
  listen(listener: (frame: Frame) => void): void {
    this.listeners.push(listener);
  }

  /** Says that entries behind some number are needed still, beside those that no store has posted. */
  keepFor(need: () => Promise<number>): void {
    this.needs.push(need);
  }

  /** The number behind which entries are needed by others than the stores; infinite where none are. */
  async neededAfter(): Promise<number> {
    return Math.min(Infinity, ...(await Promise.all(this.needs.map((need) => need()))));
  }

  /**
   * Appends an entry. When this resolves the entry is committed and synced: that is what "acknowledged" means.
   * @returns the entry's number, or null when this writer has delivered this sequence number before.
   */
  async append(entry: NewEntry): Promise<number | null> {
    return (await this.appendAll([entry]))[0]!;
  }

  /**
   * Appends the entries of one request: all of them or, where this rejects, none.
   * @param also what is written in the same transaction, after them.
   * @returns their numbers, each as {@link append} says.
   */
  async appendAll(
    entries: readonly NewEntry[],
    also?: (client: PoolClient) => Promise<void>,
  ): Promise<(number | null)[]> {
    await this.prepareDays();
    const { pool } = this.database;
    const ready = await makeReady(entries);
    const numbers =
      ready.length === 1 && !also
        ? await appendWith(pool, ready)
        : await inTransaction(pool, async (client) => {
            // Whoever stops in the middle holds up posting, but not for long.
            await client.query(`SET LOCAL idle_in_transaction_session_timeout = '${STUCK_MILLISECONDS}ms'`);
            const given = await appendWith(client, ready);
            await also?.(client);
            return given;
          });
    entries.forEach(({ frame }, i) => {
      if (frame && numbers[i] !== null) for (const listener of this.listeners) listener(frame);
    });
    return numbers;
  }

  /** Appends what was admitted, in one transaction: numbers and text in entries of their own, what was refused with the first. */
  async appendAdmitted(
    { frames, refused }: Admission,
    common: Omit<NewEntry, 'frame' | 'refused'>,
    also?: (client: PoolClient) => Promise<void>,
  ): Promise<{ entry: number | null; accepted: number; setAside: { index: number; reason: string }[] }> {
    const parts: readonly (Frame | null)[] = frames.length > 0 ? frames : [null];
    const numbers = await this.appendAll(
      parts.map((frame, i) => ({ ...common, frame, refused: i === 0 ? refused : [] })),
      also,
    );
    return {
      entry: numbers[numbers.length - 1]!,
      accepted: frames.reduce((sum, frame) => sum + frame.times.length, 0),
      setAside: refused.map(({ index, reason }) => ({ index, reason })),
    };
  }

  /** The last sequence number that a writer has committed; 0 for a writer never heard of. */
  async position(writer: string): Promise<number> {
    const { rows } = await this.database.pool.query<{ sequence: number }>(
      'SELECT sequence FROM journal_writer WHERE writer = $1',
      [writer],
    );
    return rows[0]?.sequence ?? 0;
  }
}

interface ReadyEntry {
  readonly entry: NewEntry;
  readonly bytes: Buffer | null;
  /** The oldest and the newest of its times. */
  readonly first: number | null;
  readonly last: number | null;
  /** What was refused, as JSON. */
  readonly refused: string;
}

/** Samples that are encoded before others get their turn. */
const SAMPLES_A_TURN = 20_000;

/** Entries with all that takes long to make: a transaction does not wait for it, and others have their turn. */
async function makeReady(entries: readonly NewEntry[]): Promise<ReadyEntry[]> {
  const turns = new Turns(SAMPLES_A_TURN);
  const ready: ReadyEntry[] = [];
  for (const entry of entries) {
    const { frame } = entry;
    // What came ready made costs next to nothing.
    if (!entry.frameBytes) await turns.after(frame?.times.length ?? 0);
    let [first, last]: [number | null, number | null] = [null, null];
    for (const time of frame?.times ?? []) {
      first = first === null || time < first ? time : first;
      last = last === null || time > last ? time : last;
    }
    const bytes = frame ? Buffer.from(entry.frameBytes ?? encodeFrame(frame)) : null;
    if (!entry.frameBytes) await turns.after(frame?.times.length ?? 0);
    ready.push({ entry, bytes, first, last, refused: await listAsJson(entry.refused, refusedRow) });
  }
  return ready;
}

const refusedRow = ({ tag, time, value, status, reason }: RefusedSample): object => ({
  tag: storable(tag),
  time,
  value: storable(value),
  status,
  reason: storable(reason),
});

/** Appends entries in their order, in one statement: on its way back and forth most of the time of a small one would go. */
async function appendWith(client: Pool | PoolClient, ready: readonly ReadyEntry[]): Promise<(number | null)[]> {
  let at = 1;
  const rows = ready.map(({ entry, bytes, first, last }) => {
    const { frame } = entry;
    const begin = at;
    at += bytes?.length ?? 0;
    return {
      writer: entry.writer,
      sequence: entry.sequence,
      origin: originCode(entry.origin),
      samples: frame?.times.length ?? 0,
      first,
      last,
      tags: frame ? tagsIn(frame.tags!) : null,
      begin,
      length: bytes?.length ?? null,
      watches: entry.watches.map(({ source, version, from, to, origin }) => ({
        source,
        version,
        origin: originCode(origin ?? entry.origin),
        since: from,
        until: to,
      })),
      outages: entry.outages.map(sinceUntil),
      reason: entry.reason === undefined ? null : storable(entry.reason),
      recoveries: (entry.recoveries ?? []).map(sinceUntil),
      via: entry.via ?? null,
    };
  });
  const { rows: given } = await client.query<{ id: number | null }>({
    name: 'append_entries',
    text: `SELECT append_entry(e.writer, e.sequence, e.origin, e.samples, e.first, e.last, e.tags,
             substring($2::bytea FROM e.begin FOR e.length), e.watches, e.outages, $3::jsonb -> (e.place - 1)::int, e.reason, e.recoveries, e.via) AS id
           FROM (SELECT * FROM ROWS FROM (jsonb_to_recordset($1::jsonb) AS (writer text, sequence bigint, origin smallint,
                   samples int, first bigint, last bigint, tags int[], begin int, length int, watches jsonb, outages jsonb,
                   reason text, recoveries jsonb, via text[])) WITH ORDINALITY
                 AS e(writer, sequence, origin, samples, first, last, tags, begin, length, watches, outages, reason, recoveries, via, place)
                 ORDER BY place) AS e`,
    values: [
      JSON.stringify(rows),
      Buffer.concat(ready.flatMap(({ bytes }) => bytes ?? [])),
      // Made in turns before: it may be long.
      `[${ready.map(({ refused }) => refused).join(',')}]`,
    ],
  });
  return given.map(({ id }) => id);
}

/** A span as the functions of the database name its ends. */
const sinceUntil = <Span extends { readonly from: number; readonly to: number | null }>({
  from,
  to,
  ...rest
}: Span) => ({
  ...rest,
  since: from,
  until: to,
});

/** PostgreSQL's texts hold neither U+0000 nor halves of surrogate pairs: what is refused for them is kept by symbols. */
const storable = (text: string): string => text.replaceAll('\0', '\u2400').toWellFormed();
