/** A later version of a collector's configuration out of the one it has and what changed. Pure. */
import type { CollectorConfiguration, ConfigurationChanges } from '@wide-ledger/contract';

const tagsOf = (source: CollectorConfiguration['sources'][number]): { id: number }[] =>
  (source as { tags?: { id: number }[] }).tags ?? [];

/**
 * The configuration with the changes made in it.
 * @throws Error where the changes are not of this configuration: it then has to be asked for as a whole.
 */
export function withChanges(has: CollectorConfiguration, changes: ConfigurationChanges): CollectorConfiguration {
  if (has.version !== changes.since)
    throw new Error(`changes since version ${changes.since} do not fit version ${has.version}`);
  // A tag that changed leaves where it was, and may come back at another source.
  const leaving = new Set([...changes.gone, ...changes.tags.map(({ id }) => id)]);
  const bySource = new Map(
    has.sources.map((source) => [source.id, tagsOf(source).filter(({ id }) => !leaving.has(id))]),
  );
  for (const { source, ...tag } of changes.tags) bySource.set(source, [...(bySource.get(source) ?? []), tag]);
  // What stays is handed on as it is: it was looked at when it came.
  return {
    version: changes.version,
    stamp: changes.stamp,
    secrets: changes.secrets,
    sources: changes.sources.map((head) => ({ ...head, tags: bySource.get(head.id) ?? [] })),
  };
}
