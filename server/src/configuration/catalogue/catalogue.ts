/** What is in force, as the database projects it, and the copy in memory that the hot paths look things up in. */
import { asc } from 'drizzle-orm';
import { configuration, pace, place, source, store, tag, type Database } from '../../ground/index.ts';

export type TagRow = typeof tag.$inferSelect;
export type SourceRow = typeof source.$inferSelect;
export type PaceRow = typeof pace.$inferSelect;
export type PlaceRow = typeof place.$inferSelect;
export type CatalogueStore = Pick<typeof store.$inferSelect, 'id' | 'name' | 'keepsSince'>;

const mapBy = <Key, Row>(rows: readonly Row[], keyOf: (row: Row) => Key): Map<Key, Row> =>
  new Map(rows.map((row) => [keyOf(row), row]));

/** All that is configured. Loaded again when it has changed, also by another server of the same site. */
export class Catalogue {
  private tagsById = new Map<number, TagRow>();
  private tagsByName = new Map<string, TagRow>();
  private sourcesById = new Map<number, SourceRow>();
  private pacesById = new Map<number, PaceRow>();
  private epoch = 0;
  /** Tags in force, by place and name. */
  tags: readonly TagRow[] = [];
  /** Sources in force, by name. */
  sources: readonly SourceRow[] = [];
  /** Places in force, by path. */
  places: readonly PlaceRow[] = [];
  paces: readonly PaceRow[] = [];
  stores: readonly CatalogueStore[] = [];
  /** The newest version of the configuration, and the newest that matters to collectors. */
  version = 0;
  collectorVersion = 0;

  constructor(private readonly database: Database) {}

  async refresh(): Promise<void> {
    const { tables } = this.database;
    const [row] = await tables.select().from(configuration);
    if (row!.epoch === this.epoch) return;
    const [tags, sources, places, paces, stores] = await Promise.all([
      tables.select().from(tag).orderBy(asc(tag.place), asc(tag.name)),
      tables.select().from(source).orderBy(asc(source.name)),
      tables.select().from(place).orderBy(asc(place.path)),
      tables.select().from(pace).orderBy(asc(pace.name)),
      tables
        .select({ id: store.id, name: store.name, keepsSince: store.keepsSince })
        .from(store)
        .orderBy(asc(store.id)),
    ]);
    this.tags = tags.filter(({ retiredAt }) => retiredAt === null);
    this.tagsById = mapBy(tags, ({ id }) => id);
    this.tagsByName = mapBy(tags, ({ name }) => name);
    this.sources = sources.filter(({ retiredAt }) => retiredAt === null);
    this.sourcesById = mapBy(sources, ({ id }) => id);
    this.places = places.filter(({ retired }) => !retired);
    this.paces = paces;
    this.pacesById = mapBy(paces, ({ id }) => id);
    this.stores = stores;
    this.version = row!.version;
    this.collectorVersion = row!.collectorVersion;
    this.epoch = row!.epoch;
  }

  /** Be it retired: its history stays. */
  tagById = (id: number): TagRow | undefined => this.tagsById.get(id);
  tagByName = (name: string): TagRow | undefined => this.tagsByName.get(name);
  sourceById = (id: number): SourceRow | undefined => this.sourcesById.get(id);
  sourceByName = (name: string): SourceRow | undefined => this.sources.find((one) => one.name === name);
  paceById = (id: number): PaceRow | undefined => this.pacesById.get(id);

  storeById = (id: number): CatalogueStore | undefined => this.stores.find((one) => one.id === id);
  storeByName = (name: string): CatalogueStore | undefined => this.stores.find((one) => one.name === name);
  /** Since when a tag's store keeps values, in microseconds; null: since ever. */
  keepsSince = (row: TagRow): number | null => this.storeById(row.storeId)?.keepsSince ?? null;
}
