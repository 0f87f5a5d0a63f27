/** Versions of the configuration: who put what in force, when and why; any two compared. */
import type { Comparison, VersionList } from '@wide-ledger/contract';
import { samePlain, type Change } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { bodiesUnder, changedBetween, keyOf } from '../definitions/definitions.ts';
import { inReadingOrder, itemOf, wordsFor } from '../force/words.ts';

const MOST_ITEMS = 1000;

/** Versions, newest first. @param below only those with lower numbers. */
export async function listVersions(home: Pool, limit: number, below?: number): Promise<VersionList> {
  const { rows } = await home.query<{ number: number; at: Date; put_by: string; reason: string; changes: number }>(
    `SELECT * FROM configuration_version WHERE $1::int IS NULL OR number < $1 ORDER BY number DESC LIMIT $2`,
    [below ?? null, limit + 1],
  );
  const shown = rows.slice(0, limit);
  return {
    versions: shown.map(({ number, at, put_by: by, reason, changes }) => ({
      number,
      at: at.toISOString(),
      by,
      reason,
      changes,
    })),
    ...(rows.length > limit ? { next: String(shown.at(-1)!.number) } : {}),
  };
}

/** The number of the version before one; null for the first. */
export async function versionBefore(home: Pool, number: number): Promise<number | null> {
  const { rows } = await home.query<{ number: number | null }>(
    'SELECT max(number) AS number FROM configuration_version WHERE number < $1',
    [number],
  );
  return rows[0]!.number;
}

export async function hasVersion(home: Pool, number: number): Promise<boolean> {
  return (await home.query('SELECT FROM configuration_version WHERE number = $1', [number])).rows.length > 0;
}

/** What has to change for one version to become another, whichever of the two is older. */
export async function compareVersions(home: Pool, from: number, to: number): Promise<Comparison> {
  const keys = await changedBetween(home, Math.min(from, to), Math.max(from, to));
  const [before, after] = await Promise.all([bodiesUnder(home, from, keys), bodiesUnder(home, to, keys)]);
  const changes = keys
    .map((key): Change => ({ ...key, before: before.get(keyOf(key)) ?? null, after: after.get(keyOf(key)) ?? null }))
    .filter((change) => !samePlain(change.before, change.after));
  const words = await wordsFor(home, changes);
  const items = inReadingOrder(changes)
    .slice(0, MOST_ITEMS)
    .map((change) => itemOf(change, words));
  return { from, to, items, total: changes.length };
}
