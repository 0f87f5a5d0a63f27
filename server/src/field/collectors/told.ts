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

/** Whether a collector reads a source as its standby: by a way, and at addresses, of its own where it has some. */
const standsBy = ({ standby }: SourceRow, collector: string | null): boolean =>
  collector !== null && standby === collector;

/** The connections by which a collector reads a source. */
export function connectionsFor(source: SourceRow, collector: string | null): SourceRow['connection'][] {
  const { connection, standbyConnection } = headOf(source, collector);
  return standbyConnection ? [connection, standbyConnection] : [connection];
}

/** The first of them. */
const connectionFor = (source: SourceRow, collector: string | null): SourceRow['connection'] =>
  (standsBy(source, collector) ? source.standbyConnection : null) ?? source.connection;

type Head = Pick<SourceRow, 'id' | 'name' | 'kind' | 'connection'> &
  Partial<Pick<SourceRow, 'standbyConnection' | 'changeOverSeconds' | 'staysOver'>>;

/** A source as its collector is told of it: without a standby, the second way is its own. */
function headOf(source: SourceRow, collector: string | null): Head {
  const { id, name, kind, standby, standbyConnection, changeOverSeconds, staysOver } = source;
  const head = { id, name, kind, connection: connectionFor(source, collector) };
  if (standby !== null || standbyConnection === null) return head;
  return { ...head, standbyConnection, ...(changeOverSeconds === null ? {} : { changeOverSeconds }), staysOver };
}

/** A tag as the standby of its source reads it. */
function asStandby({ reading, ...tag }: ConfiguredTag): ConfiguredTag {
  const { standbyAddress, ...rest } = reading;
  return { ...tag, reading: { ...rest, address: standbyAddress ?? reading.address } };
}

/** A tag as its collector is told of it; null where nobody reads it. */
export function toldOf({
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
        AND (later.body ->> 'collector', later.body ->> 'standby')
            IS DISTINCT FROM (earlier.body ->> 'collector', earlier.body ->> 'standby')) AS handed`,
    [since],
  );
  return rows[0]!.handed;
}

/** What is told of a version beside its definitions. */
export interface Told {
  /** Who is told; null: one that does not say. */
  readonly collector: string | null;
  readonly stamp: string;
  readonly secrets: OpenSecrets;
}

/** All that a collector does, which reads these sources. */
export function configurationOf(
  catalogue: Catalogue,
  sources: readonly SourceRow[],
  { collector, ...beside }: Told,
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
      const tags = bySource.get(source.id) ?? [];
      const told = {
        ...headOf(source, collector),
        tags: standsBy(source, collector) ? tags.map(asStandby) : tags,
      };
      return told as ConfiguredSource;
    }),
  };
}

/** What changed for a collector that reads these sources since a version that it runs. */
export function changesSince(
  catalogue: Catalogue,
  sources: readonly SourceRow[],
  { collector, ...beside }: Told,
  since: number,
): ConfigurationChanges {
  const own = new Map(sources.map((source) => [source.id, source]));
  const readBy = (id: number, tag: ConfiguredTag): ConfiguredTag =>
    standsBy(own.get(id)!, collector) ? asStandby(tag) : tag;
  const changed = catalogue.tagsToldSince(since).map((row) => ({ id: row.id, told: toldOf(row) }));
  return {
    since,
    version: catalogue.collectorVersion,
    ...beside,
    sources: sources.map((source) => headOf(source, collector)),
    tags: changed.flatMap(({ told }) =>
      told && own.has(told.source) ? [{ ...readBy(told.source, told.tag), source: told.source }] : [],
    ),
    gone: changed.filter(({ told }) => !told || !own.has(told.source)).map(({ id }) => id),
  };
}
