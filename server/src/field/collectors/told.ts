/** What is in force, as it is told to collectors: all of it, or what changed. */
import type {
  CollectorConfiguration,
  ConfigurationChanges,
  ConfiguredSource,
  ConfiguredTag,
} from '@wide-ledger/contract';
import type { Pool } from 'pg';
import type { Catalogue, OpenSecrets, SourceRow, TagRow } from '../../configuration/index.ts';

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

/** The sources that a collector reads: its own, those that it stands ready for, and those that any may read. @param collector null: one that does not say. */
export const readSources = (catalogue: Catalogue, collector: string | null): SourceRow[] =>
  catalogue.sources.filter(
    ({ paused, collector: own, standby }) => !paused && (own === null || own === collector || standby === collector),
  );

/** Whether a source was given to another collector after a version: then what changed says too little. */
export async function wereHandedOver(home: Pool, since: number): Promise<boolean> {
  const { rows } = await home.query<{ handed: boolean }>(
    `SELECT EXISTS (SELECT FROM definition later JOIN definition earlier
        ON earlier.kind = 'source' AND earlier.id = later.id AND earlier.version_to = later.version_from
      WHERE later.kind = 'source' AND later.version_from > $1
        AND (later.body ->> 'collector', later.body ->> 'standby') IS DISTINCT FROM (earlier.body ->> 'collector', earlier.body ->> 'standby')) AS handed`,
    [since],
  );
  return rows[0]!.handed;
}

/** What is told of a version beside its definitions. */
export interface Told {
  readonly stamp: string;
  readonly secrets: OpenSecrets;
}

/** All that a collector does, which reads these sources. */
export function configurationOf(
  catalogue: Catalogue,
  sources: readonly SourceRow[],
  beside: Told,
): CollectorConfiguration {
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
    ...beside,
    sources: sources.map((source) => {
      const told = { ...headOf(source), tags: bySource.get(source.id) ?? [] };
      return told as ConfiguredSource;
    }),
  };
}

/** What changed for a collector that reads these sources since a version that it runs. */
export function changesSince(
  catalogue: Catalogue,
  sources: readonly SourceRow[],
  beside: Told,
  since: number,
): ConfigurationChanges {
  const own = new Set(sources.map(({ id }) => id));
  const changed = catalogue.tagsToldSince(since).map((row) => ({ id: row.id, told: toldOf(row) }));
  return {
    since,
    version: catalogue.collectorVersion,
    ...beside,
    sources: sources.map(headOf),
    tags: changed.flatMap(({ told }) => (told && own.has(told.source) ? [{ ...told.tag, source: told.source }] : [])),
    gone: changed.filter(({ told }) => !told || !own.has(told.source)).map(({ id }) => id),
  };
}
