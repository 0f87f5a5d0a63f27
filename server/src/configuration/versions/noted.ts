/** Versions in the logbook: that one was put in force, and a digest of all that it changed. */
import type { Body, Change, Plain } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { digestOfList, type Logbook } from '../../people/index.ts';
import type { Forcing } from '../force/forcing.ts';
import { nameOf } from '../force/force.ts';

/** One digest for what a version changed, whatever the order. */
const digestOfChanges = (changes: readonly Change[]): Promise<string> =>
  digestOfList(
    [...changes]
      .sort((a, b) => (a.kind === b.kind ? a.id - b.id : a.kind < b.kind ? -1 : 1))
      .map(({ kind, id, before, after }): Plain => ({ kind, id, before, after })),
  );

const MOST_NAMES = 3;

function sentenceFor(version: number, reason: string, changes: readonly Change[]): string {
  const names = changes.slice(0, MOST_NAMES).map(nameOf).join(', ');
  const more = changes.length > MOST_NAMES ? ` and ${changes.length - MOST_NAMES} more` : '';
  return `Version ${version}: ${names}${more}.${reason === '' ? '' : ` ${reason}`}`;
}

/** Notes every version in the transaction that makes it; the logbook's check looks at the definitions again. */
export function noteVersions(forcing: Forcing, logbook: Logbook): void {
  forcing.register({
    last: async (client, { version, changes }, { by, reason }) => {
      if (changes.length === 0) return;
      const said = { changes: changes.length, digest: await digestOfChanges(changes) };
      await logbook.note(
        by,
        { act: 'put in force', sentence: sentenceFor(version, reason, changes), new: said, version },
        client,
      );
    },
  });
  logbook.register(async ({ number, act, version, new: said }, home) => {
    if (act !== 'put in force' || version === null) return null;
    const { digest } = JSON.parse(said ?? '{}') as { digest?: string };
    return digest === (await digestOfChanges(await changesOf(home, version)))
      ? null
      : `What version ${version} changed is not what entry ${number} tells of: a definition was altered.`;
  });
}

async function changesOf(home: Pool, version: number): Promise<Change[]> {
  const { rows } = await home.query<Omit<Change, 'before' | 'after'> & { before: Body | null; after: Body | null }>(
    `SELECT kind, id, b.body AS before, a.body AS after
     FROM (SELECT kind, id, body FROM definition WHERE version_to = $1) AS b
     FULL JOIN (SELECT kind, id, body FROM definition WHERE version_from = $1) AS a USING (kind, id)`,
    [version],
  );
  return rows;
}
