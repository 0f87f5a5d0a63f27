/** Putting in force: one transaction, one version, all of it or nothing. */
import { nameIn, type Body, type Change } from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';
import { ProblemError, inTransaction, listAsJson } from '../../ground/index.ts';
import type { Doer } from '../../people/index.ts';
import { settle, type Settled, type Wish } from './settle.ts';

export interface Forced {
  readonly version: number;
  readonly changes: readonly Change[];
}

export interface ForceOrder {
  readonly by: Doer;
  readonly reason: string;
  /** The wishes, or how to read them once nobody else can put anything in force. */
  readonly wishes: readonly Wish[] | ((client: PoolClient) => Promise<readonly Wish[]>);
}

/** Wishes that cannot be put in force as they are, with the reasons; nothing was changed. */
export class Unforceable extends ProblemError {
  constructor(readonly settled: Settled) {
    super(409, 'This cannot be put in force', reasonsOf(settled));
  }
}

const MOST_REASONS = 5;

function reasonsOf({ conflicts, findings }: Settled): string {
  const meanwhile =
    conflicts.length === 0
      ? []
      : [
          `${conflicts.length} ${conflicts.length === 1 ? 'field was' : 'fields were'} changed by somebody else meanwhile. Settle each of them, then put it in force again.`,
        ];
  const blocking = findings.filter(({ severity }) => severity === 'blocks').map(({ sentence }) => sentence);
  const more = blocking.length > MOST_REASONS ? [`And ${blocking.length - MOST_REASONS} more.`] : [];
  return [...meanwhile, ...blocking.slice(0, MOST_REASONS), ...more].join(' ');
}

/**
 * Puts wishes in force under a new version. Who comes at the same moment waits, and meets what was put in force.
 * @param also work in the same transaction: what has to be so if and only if the version is.
 * @returns the version as it was, where the wishes change nothing.
 * @throws Unforceable with the conflicts and what blocks.
 */
export async function putInForce(
  home: Pool,
  { by, reason, wishes }: ForceOrder,
  also: (client: PoolClient, forced: Forced) => Promise<void> = () => Promise.resolve(),
): Promise<Forced> {
  return inTransaction(home, async (client) => {
    const { rows } = await client.query<{ version: number }>('SELECT version FROM configuration FOR UPDATE');
    const settled = await settle(client, typeof wishes === 'function' ? await wishes(client) : wishes);
    const blocked = settled.findings.some(({ severity }) => severity === 'blocks');
    if (blocked || settled.conflicts.length > 0) throw new Unforceable(settled);
    const { changes } = settled;
    if (changes.length === 0) {
      const forced = { version: rows[0]!.version, changes };
      await also(client, forced);
      return forced;
    }
    const version = rows[0]!.version + 1;
    // The clock of the machine may have been set back: versions follow each other in time all the same.
    await client.query(
      `INSERT INTO configuration_version (number, at, put_by, reason, changes)
         SELECT $1, greatest(clock_timestamp(), max(at) + interval '1 microsecond'), $2, $3, $4 FROM configuration_version`,
      [version, by.who, reason, changes.length],
    );
    await writeDefinitions(client, version, changes);
    const { rows: told } = await client.query<{ matters: boolean }>('SELECT project_version($1) AS matters', [version]);
    await client.query(
      `UPDATE configuration SET version = $1, epoch = epoch + 1,
         collector_version = CASE WHEN $2 THEN $1 ELSE collector_version END`,
      [version, told[0]!.matters],
    );
    const forced = { version, changes };
    await also(client, forced);
    return forced;
  });
}

async function writeDefinitions(client: PoolClient, version: number, changes: readonly Change[]): Promise<void> {
  const ending = changes.filter(({ before }) => before !== null);
  await client.query(
    `UPDATE definition d SET version_to = $2 FROM jsonb_to_recordset($1) AS ending(kind text, id int)
       WHERE d.kind = ending.kind AND d.id = ending.id AND d.version_to IS NULL`,
    [await listAsJson(ending, ({ kind, id }) => ({ kind, id })), version],
  );
  const beginning = changes.filter((change): change is Change & { after: Body } => change.after !== null);
  await client.query(
    `INSERT INTO definition (kind, id, version_from, body)
       SELECT kind, id, $2, body FROM jsonb_to_recordset($1) AS beginning(kind text, id int, body jsonb)`,
    [await listAsJson(beginning, ({ kind, id, after }) => ({ kind, id, body: after })), version],
  );
}

/** A definition's name, as it is or was. */
export const nameOf = ({ before, after }: Pick<Change, 'before' | 'after'>): string => nameIn(after ?? before);

export const outcomeOf = ({ before, after }: Change): 'new' | 'changed' | 'retired' =>
  before === null ? 'new' : after === null ? 'retired' : 'changed';
