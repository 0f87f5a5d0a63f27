/** What is in force, as the database projects it, and the copy in memory that the hot paths look things up in. */
import { linkBody } from '@wide-ledger/contract';
import { asc, gt } from 'drizzle-orm';
import { configuration, formerName, link, pace, source, store, tag, type Database } from '../../ground/index.ts';

export type TagRow = typeof tag.$inferSelect;
export type SourceRow = typeof source.$inferSelect;
export type PaceRow = typeof pace.$inferSelect;
export type LinkRow = typeof link.$inferSelect;
export type CatalogueStore = Pick<typeof store.$inferSelect, 'id' | 'name' | 'keepsSince'>;

const mapBy = <Key, Row>(rows: readonly Row[], keyOf: (row: Row) => Key): Map<Key, Row> =>
  new Map(rows.map((row) => [keyOf(row), row]));

const byPlaceAndName = (a: TagRow, b: TagRow): number =>
  a.place < b.place ? -1 : a.place > b.place ? 1 : a.name < b.name ? -1 : a.name > b.name ? 1 : 0;

/** All that is configured. What has changed is read again, also when another server of the same site changed it. */
export class Catalogue {
  private tagsById = new Map<number, TagRow>();
  private tagsByName = new Map<string, TagRow>();
  private sourcesById = new Map<number, SourceRow>();
  private pacesById = new Map<number, PaceRow>();
  private ordered: readonly TagRow[] | null = [];
  private epoch = 0;
  private refreshing: Promise<void> | null = null;
  /** Sources in force, by name. */
  sources: readonly SourceRow[] = [];
  paces: readonly PaceRow[] = [];
  /** Links in force, by name. */
  links: readonly LinkRow[] = [];
  stores: readonly CatalogueStore[] = [];
  /** The tags that had names which none has now. */
  private formerNames: ReadonlyMap<string, number> = new Map();
  private namesBefore: ReadonlyMap<number, readonly string[]> = new Map();
  /** The newest version of the configuration, and the newest that matters to collectors. */
  version = 0;
  collectorVersion = 0;

  constructor(private readonly database: Database) {}

  /** Knows, when it resolves, all that was committed when it was called. Many who ask at once are answered by one reading. */
  async refresh(): Promise<void> {
    for (;;) {
      const [row] = await this.database.tables.select().from(configuration);
      if (row!.epoch <= this.epoch) return;
      this.refreshing ??= this.read(row!).finally(() => (this.refreshing = null));
      await this.refreshing;
    }
  }

  private async read({ epoch, version, collectorVersion }: typeof configuration.$inferSelect): Promise<void> {
    const { tables } = this.database;
    const [tags, sources, paces, links, stores, former] = await Promise.all([
      tables.select().from(tag).where(gt(tag.epoch, this.epoch)),
      tables.select().from(source).orderBy(asc(source.name)),
      tables.select().from(pace).orderBy(asc(pace.name)),
      tables.select().from(link).orderBy(asc(link.name)),
      tables
        .select({ id: store.id, name: store.name, keepsSince: store.keepsSince })
        .from(store)
        .orderBy(asc(store.id)),
      tables.select().from(formerName).orderBy(asc(formerName.until)),
    ]);
    this.formerNames = new Map(former.map(({ name, tagId }) => [name, tagId]));
    this.namesBefore = listsBy(former);
    this.takeTags(tags);
    this.sources = sources.filter(({ retiredAt }) => retiredAt === null);
    this.sourcesById = mapBy(sources, ({ id }) => id);
    this.paces = paces;
    this.pacesById = mapBy(paces, ({ id }) => id);
    // Bodies of an older version lack what came since.
    this.links = links.flatMap((row) => (row.retiredAt === null ? [{ ...row, body: linkBody.parse(row.body) }] : []));
    this.stores = stores;
    this.version = version;
    this.collectorVersion = collectorVersion;
    // What was committed between the reading of the epoch and of the tags is read once more with the next one.
    this.epoch = epoch;
  }

  private takeTags(tags: readonly TagRow[]): void {
    if (tags.length === 0) return;
    // Names may have changed places: the old ones go before the new ones come.
    for (const { id } of tags) {
      const known = this.tagsById.get(id);
      if (known && this.tagsByName.get(known.name) === known) this.tagsByName.delete(known.name);
    }
    for (const row of tags) {
      this.tagsById.set(row.id, row);
      this.tagsByName.set(row.name, row);
    }
    this.ordered = null;
  }

  /** Tags in force, by place and name. */
  get tags(): readonly TagRow[] {
    this.ordered ??= [...this.tagsById.values()].filter(({ retiredAt }) => retiredAt === null).sort(byPlaceAndName);
    return this.ordered;
  }

  /** Whether a tag in force is computed out of others. */
  get hasDerivedTags(): boolean {
    return this.tags.some(({ inputs }) => inputs !== null);
  }

  /** Tags, also retired ones, of which collectors were told something new after a version. */
  tagsToldSince = (version: number): TagRow[] =>
    [...this.tagsById.values()].filter(({ toldVersion }) => toldVersion > version);

  /** The tag that had a name, before it was renamed. */
  tagOnceNamed(name: string): TagRow | undefined {
    const id = this.formerNames.get(name);
    return id === undefined ? undefined : this.tagsById.get(id);
  }

  /** What a tag was called before, the last name last. */
  formerNamesOf = (tag: number): readonly string[] => this.namesBefore.get(tag) ?? [];

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

/** The names of each tag, in their order. */
function listsBy(former: readonly (typeof formerName.$inferSelect)[]): Map<number, string[]> {
  const lists = new Map<number, string[]>();
  for (const { name, tagId } of former) lists.set(tagId, [...(lists.get(tagId) ?? []), name]);
  return lists;
}
