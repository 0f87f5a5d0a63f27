/** What is in force, as it is told to collectors: all of it, or what changed. */
import type { CollectorConfiguration, ConfigurationChanges, ConfiguredTag } from '@wide-ledger/contract';
import type { Pool } from 'pg';
import type { Catalogue, SourceRow, TagRow } from '../../configuration/index.ts';

/** When a version was put in force, as a mark that no other version of its number bears; empty where there is none. */
export async function stampOf(home: Pool, version: number): Promise<string> {
  const { rows } = await home.query<{ at: string }>(
    'SELECT extract(epoch FROM at)::text AS at FROM configuration_version WHERE number = $1',
    [version],
  );
  return rows[0]?.at ?? '';
}

const headOf = ({ id, name, kind, connection }: SourceRow): Pick<SourceRow, 'id' | 'name' | 'kind' | 'connection'> => ({
  id,
  name,
  kind,
  connection,
});

/** A tag as its collector is told of it; null where nobody reads it. */
function toldOf({
  id,
  name,
  type,
  low,
  high,
  sourceId,
  paused,
  retiredAt,
  reading,
}: TagRow): { source: number; tag: ConfiguredTag } | null {
  if (sourceId === null || reading === null || paused || retiredAt !== null) return null;
  return { source: sourceId, tag: { id, name, type, low, high, reading } };
}

const readSources = (catalogue: Catalogue): SourceRow[] => catalogue.sources.filter(({ paused }) => !paused);

/** All that collectors do. */
export function configurationOf(catalogue: Catalogue, stamp: string): CollectorConfiguration {
  const bySource = new Map<number, ConfiguredTag[]>();
  for (const row of catalogue.tags) {
    const told = toldOf(row);
    if (!told) continue;
    const known = bySource.get(told.source);
    if (known) known.push(told.tag);
    else bySource.set(told.source, [told.tag]);
  }
  return {
    version: catalogue.collectorVersion,
    stamp,
    sources: readSources(catalogue).map((source) => ({ ...headOf(source), tags: bySource.get(source.id) ?? [] })),
  };
}

/** What changed for collectors since a version that they run. */
export function changesSince(catalogue: Catalogue, stamp: string, since: number): ConfigurationChanges {
  const changed = catalogue.tagsToldSince(since).map((row) => ({ id: row.id, told: toldOf(row) }));
  return {
    since,
    version: catalogue.collectorVersion,
    stamp,
    sources: readSources(catalogue).map(headOf),
    tags: changed.flatMap(({ told }) => (told ? [{ ...told.tag, source: told.source }] : [])),
    gone: changed.filter(({ told }) => !told).map(({ id }) => id),
  };
}
