/** What was changed of tags since they were made: when, by whom, why, field by field in words. */
import type { DefinitionChange } from '@wide-ledger/contract';
import type { Body, Change } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { itemOf, wordsFor } from '../force/words.ts';

/** Of one tag; older ones are left out. */
const MOST_CHANGES = 500;
const LONGEST_TEXT = 4000;

interface Row {
  readonly id: number;
  readonly at: Date;
  readonly put_by: string;
  readonly reason: string;
  readonly before: Body;
  readonly after: Body;
}

const textOf = (words: unknown): string => (typeof words === 'string' ? words.slice(0, LONGEST_TEXT) : '');

/** By the numbers of the tags, the oldest first; tags of which nothing was changed are left out. */
export async function tagChangesOf(home: Pool, tags: readonly number[]): Promise<Map<number, DefinitionChange[]>> {
  const { rows } = await home.query<Row>(
    `SELECT * FROM (
       SELECT a.id, a.version_from AS version, v.at, v.put_by, v.reason, b.body AS before, a.body AS after,
              row_number() OVER (PARTITION BY a.id ORDER BY a.version_from DESC) AS place
       FROM definition a JOIN definition b ON b.kind = 'tag' AND b.id = a.id AND b.version_to = a.version_from
       JOIN configuration_version v ON v.number = a.version_from
       WHERE a.kind = 'tag' AND a.id = ANY($1::int[])) AS changed
     WHERE place <= ${MOST_CHANGES} ORDER BY id, version`,
    [tags],
  );
  const changes = rows.map(({ id, before, after }): Change => ({ kind: 'tag', id, before, after }));
  const words = await wordsFor(home, changes);
  const found = new Map<number, DefinitionChange[]>();
  for (const [i, { id, at, put_by: by, reason }] of rows.entries()) {
    const fields = itemOf(changes[i]!, words).fields.map(({ title, from, to }) => ({
      title,
      from: textOf(from),
      to: textOf(to),
    }));
    const known = found.get(id) ?? [];
    found.set(id, known);
    known.push({ at: at.toISOString(), by, reason, fields });
  }
  return found;
}
