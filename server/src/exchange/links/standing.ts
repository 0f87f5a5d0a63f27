/** Where a link goes on: the far end knows best what it has, and whether it is the one that it was. */
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import type { LinkRow } from '../../configuration/index.ts';
import { noteUncarried } from './carriedTimes.ts';
import { FarAway, type FarPosition } from './far/farEnd.ts';
import type { LinkLog } from './linkLog.ts';
import { printOf } from './stretch.ts';

/** In which life of the journal, and behind which of its entries. */
export interface Standing {
  readonly epoch: number;
  readonly position: number;
}

/** Writes down how a link stands. @param fields as SQL sets them, with the values from $2 on. */
export async function noteOf(home: Pool, link: LinkRow, fields: string, values: readonly unknown[]): Promise<void> {
  await home.query(`UPDATE link_state SET ${fields} WHERE link_id = $1`, [link.id, ...values]);
}

/** The far end is the one that it was. @throws FarAway where another site answers at its address. */
export async function recognise(home: Pool, link: LinkRow, { site, name }: FarPosition): Promise<void> {
  const { rows } = await home.query<{ far_site: string | null }>('SELECT far_site FROM link_state WHERE link_id = $1', [
    link.id,
  ]);
  const before = rows[0]?.far_site ?? null;
  if (site !== null && before !== null && before !== site.identity)
    throw new FarAway(
      `Another site (${site.name}) answers at ${link.body.url}: nothing is carried to it. Correct the address, or make another link.`,
    );
  await noteOf(home, link, 'far_site = $2, far_name = $3, far_version = $4, contact_at = now(), trouble = NULL', [
    site?.identity ?? null,
    name,
    site?.version ?? null,
  ]);
}

/**
 * Where to go on. The far end knows best what it has; but a journal that was restored from a backup gives numbers a
 * second time. It is known by an entry that the far end has and the journal has not, or has another one of. What was
 * acknowledged when the backup was made stands in the backup: from there on the journal is carried in another life,
 * which changes nothing where it stands.
 */
export async function standingAt(
  home: Pool,
  link: LinkRow,
  told: LinkLog,
  log: Logger,
  { epoch, position, print, samplesAt }: FarPosition,
): Promise<Standing> {
  const { rows } = await home.query<{ last: number; first: number | null; began: number; known: number }>(
    `SELECT journal_last() AS last, (SELECT min(id) FROM journal_entry) AS first, began, position AS known
       FROM link_state WHERE link_id = $1`,
    [link.id],
  );
  const { last, first, began, known } = rows[0]!;
  // Nothing was carried yet: it begins where the link was made.
  if (print === '') {
    const from = Math.max(position, began);
    await noteLost(home, link, first, from, samplesAt);
    return { epoch, position: from };
  }
  const here = position <= last ? await printOf(home, position) : null;
  if (position > last || (here !== null && here !== print)) {
    log.warn({ link: link.name, position, last }, 'the journal is another one than the far end has');
    await told.note(
      link.id,
      'restored',
      'The journal here was restored from a backup: what stands in it since is carried again, and changes nothing that is there.',
    );
    await home.query("SELECT setval('journal_entry_id', greatest($1::bigint, journal_last(), 1))", [position]);
    return { epoch: epoch + 1, position: Math.min(known, last) };
  }
  if (here === null) await noteLost(home, link, first, position, samplesAt);
  return { epoch, position };
}

/**
 * Entries that left before they were carried: comparing both ends brings what they held.
 * @param first that is there. @param samplesAt when values came to the far end last, where it tells.
 */
async function noteLost(
  home: Pool,
  link: LinkRow,
  first: number | null,
  position: number,
  samplesAt: string | null | undefined,
): Promise<void> {
  if (first === null || first <= position + 1) return;
  await noteOf(home, link, 'lost_until = (SELECT received_at FROM journal_entry WHERE id = $2)', [first]);
  const { rows } = await home.query<{ micros: number }>(
    'SELECT (extract(epoch FROM received_at) * 1000000)::bigint AS micros FROM journal_entry WHERE id = $1',
    [first],
  );
  const from = samplesAt ? Date.parse(samplesAt) * 1000 : -Infinity;
  if (rows[0] && from < rows[0].micros) await noteUncarried(home, link.id, { from, to: rows[0].micros });
}
