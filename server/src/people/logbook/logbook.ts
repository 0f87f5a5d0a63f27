/** The logbook in the database: entries are added at its end, each chained to the one before. */
import type { Act, LogbookCheck, LogbookEntry, LogbookPage } from '@wide-ledger/contract';
import { canonical, type Plain } from '@wide-ledger/core';
import type { Request } from 'express';
import type { Pool, PoolClient } from 'pg';
import { LOCKS, inTransaction } from '../../ground/index.ts';
import { visitorOf } from '../visitors/visitor.ts';
import { BEGINNING, hashOf, type Chained } from './chain.ts';

/** Who did it, and the address that it came from. */
export interface Doer {
  readonly who: string;
  readonly whence: string;
}

/** Wide Ledger itself. */
export const BY_ITSELF: Doer = { who: 'Wide Ledger', whence: '' };

/** The one who made a request that was let pass. */
export const doerOf = (request: Request): Doer => ({ who: visitorOf(request).name, whence: request.ip ?? '' });

export interface Deed {
  readonly act: Act;
  readonly sentence: string;
  readonly kind?: string;
  readonly item?: number;
  readonly name?: string;
  readonly old?: Plain;
  readonly new?: Plain;
  readonly version?: number;
}

export interface LogbookQuery {
  readonly from?: number;
  readonly to?: number;
  readonly search: string;
  readonly kind?: string;
  readonly item?: number;
  /** Entries with lower numbers only. */
  readonly below?: number;
  readonly limit: number;
}

/** Key of the advisory lock under which entries are added: the chain has one end. */
const APPENDING = 4;
const CHECKED_AT_ONCE = 2_000;

interface Row extends Chained {
  readonly previous: Buffer;
  readonly hash: Buffer;
}

const COLUMNS = `number, (extract(epoch FROM at) * 1000000)::bigint AS at, who, whence, act, kind, item, name, sentence,
  old, new, version, previous, hash`;

/** Looks again at what an entry stands for, where that is kept elsewhere; a sentence where it is not as it was. */
export type Witness = (entry: Chained, home: Pool) => Promise<string | null>;

/** Everything anybody did on this site. */
export class Logbook {
  private readonly witnesses: Witness[] = [];

  constructor(private readonly home: Pool) {}

  /** Registers a look at what is kept elsewhere, for {@link check}. */
  register(witness: Witness): void {
    this.witnesses.push(witness);
  }

  /**
   * Adds an entry, at once or in a transaction: it is there if and only if what it tells of is.
   * Nobody else adds one until the end of the transaction, so it comes last in it.
   */
  async note(doer: Doer, deed: Deed, client?: PoolClient): Promise<void> {
    if (client) return append(client, doer, deed);
    await inTransaction(this.home, (own) => append(own, doer, deed));
  }

  /** Entries, newest first. */
  async list({ from, to, search, kind, item, below, limit }: LogbookQuery): Promise<LogbookPage> {
    const { rows } = await this.home.query<Row>(
      `SELECT ${COLUMNS} FROM logbook l
       WHERE ($1::bigint IS NULL OR at >= timestamptz 'epoch' + $1 * interval '1 microsecond')
         AND ($2::bigint IS NULL OR at < timestamptz 'epoch' + $2 * interval '1 microsecond')
         AND ($3 = '' OR concat_ws(' ', who, whence, act, kind, name, sentence, old, new) ILIKE '%' || $3 || '%')
         AND ($4::text IS NULL OR (l.kind = $4 AND l.item = $5)
              OR l.version IN (SELECT version_from FROM definition d WHERE d.kind = $4 AND d.id = $5
                               UNION SELECT version_to FROM definition d WHERE d.kind = $4 AND d.id = $5))
         AND ($6::bigint IS NULL OR number < $6)
       ORDER BY number DESC LIMIT $7`,
      [
        from ?? null,
        to ?? null,
        search.replace(/[\\%_]/g, '\\$&'),
        kind ?? null,
        item ?? null,
        below ?? null,
        limit + 1,
      ],
    );
    const shown = rows.slice(0, limit);
    return {
      entries: shown.map(outputOf),
      ...(rows.length > limit ? { next: String(shown.at(-1)!.number) } : {}),
    };
  }

  /** Walks the whole chain, and looks at what its entries stand for: says where it is broken first. */
  async check(): Promise<LogbookCheck> {
    let previous: Buffer = BEGINNING;
    let number = 0;
    for (;;) {
      const { rows } = await this.home.query<Row>(
        `SELECT ${COLUMNS} FROM logbook WHERE number > $1 ORDER BY number LIMIT $2`,
        [number, CHECKED_AT_ONCE],
      );
      if (rows.length === 0) break;
      for (const row of rows) {
        const fault = (await this.faultOf(row, previous, number)) ?? null;
        if (fault !== null) {
          return { whole: false, checked: number, sentence: fault, brokenAt: row.number, head: headOf(row) };
        }
        ({ number, hash: previous } = row);
      }
    }
    const head = number === 0 ? null : { number, hash: previous.toString('hex') };
    const sentence =
      number === 0 ? 'The logbook is empty.' : `All ${number} entries are there, in order and unaltered.`;
    return { whole: true, checked: number, sentence, brokenAt: null, head };
  }

  private async faultOf(row: Row, previous: Buffer, before: number): Promise<string | null> {
    const { previous: claimed, hash, ...said } = row;
    if (row.number !== before + 1) return `Entry ${before + 1} is missing.`;
    if (!claimed.equals(previous)) return `Entry ${row.number} does not follow from entry ${before}.`;
    if (!hashOf(said, claimed).equals(hash)) return `Entry ${row.number} was altered.`;
    for (const witness of this.witnesses) {
      const fault = await witness(said, this.home);
      if (fault !== null) return fault;
    }
    return null;
  }
}

const headOf = ({ number, hash }: Row): LogbookCheck['head'] => ({ number, hash: hash.toString('hex') });

function outputOf({ previous: _previous, hash, at, act, old, new: after, ...rest }: Row): LogbookEntry {
  const parsed = (text: string | null): unknown => (text === null ? null : (JSON.parse(text) as unknown));
  return {
    ...rest,
    act: act as Act,
    at: new Date(at / 1000).toISOString(),
    old: parsed(old),
    new: parsed(after),
    hash: hash.toString('hex'),
  };
}

async function append(client: PoolClient, { who, whence }: Doer, deed: Deed): Promise<void> {
  await client.query('SELECT pg_advisory_xact_lock($1, $2)', [LOCKS, APPENDING]);
  // The clock may have been set back: entries follow each other in time all the same.
  const { rows } = await client.query<{ number: number; hash: Buffer | null; at: number }>(
    `SELECT coalesce(max(number), 0) + 1 AS number, (array_agg(hash ORDER BY number DESC))[1] AS hash,
       (extract(epoch FROM greatest(clock_timestamp(), max(at) + interval '1 microsecond')) * 1000000)::bigint AS at
     FROM (SELECT number, hash, at FROM logbook ORDER BY number DESC LIMIT 1) AS last`,
  );
  const { number, at, hash } = rows[0]!;
  const text = (value: Plain | undefined): string | null => (value === undefined ? null : canonical(value));
  const entry: Chained = {
    number,
    at,
    who,
    whence,
    act: deed.act,
    kind: deed.kind ?? null,
    item: deed.item ?? null,
    name: deed.name ?? null,
    sentence: deed.sentence,
    old: text(deed.old),
    new: text(deed.new),
    version: deed.version ?? null,
  };
  const previous = hash ?? BEGINNING;
  await client.query(
    `INSERT INTO logbook (number, at, who, whence, act, kind, item, name, sentence, old, new, version, previous, hash)
       VALUES ($1, timestamptz 'epoch' + $2 * interval '1 microsecond', $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14)`,
    [
      number,
      at,
      entry.who,
      entry.whence,
      entry.act,
      entry.kind,
      entry.item,
      entry.name,
      entry.sentence,
      entry.old,
      entry.new,
      entry.version,
      previous,
      hashOf(entry, previous),
    ],
  );
}
