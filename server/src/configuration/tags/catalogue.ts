/** Tags in the database, and the copy in memory that the hot paths look things up in. */
import type { NewTag, TagChange, TagType } from '@wide-ledger/contract';
import { parseInstant } from '@wide-ledger/core';
import { eq, sql } from 'drizzle-orm';
import type { Database } from '../../ground/index.ts';
import { EMBEDDED } from '../stores/declared.ts';
import { configuration, source, store, tag } from '../../ground/index.ts';

export type TagRow = typeof tag.$inferSelect;
export type SourceRow = typeof source.$inferSelect;
export type CatalogueStore = Pick<typeof store.$inferSelect, 'id' | 'name' | 'keepsSince'>;

/**
 * All tags and sources of the store. Reloaded when the configuration's version has moved, also by another server
 * on the same store.
 */
export class Catalogue {
  private byId = new Map<number, TagRow>();
  private byName = new Map<string, TagRow>();
  private ordered: readonly TagRow[] = [];
  sources: readonly SourceRow[] = [];
  stores: readonly CatalogueStore[] = [];
  version = 0;

  constructor(private readonly database: Database) {}

  async refresh(): Promise<void> {
    const { tables } = this.database;
    const [row] = await tables.select().from(configuration);
    if (row!.version === this.version) return;
    const [tags, sources, stores] = await Promise.all([
      tables.select().from(tag).orderBy(tag.place, tag.name),
      tables.select().from(source).orderBy(source.name),
      tables.select({ id: store.id, name: store.name, keepsSince: store.keepsSince }).from(store).orderBy(store.id),
    ]);
    this.ordered = tags;
    this.byId = new Map(tags.map((one) => [one.id, one]));
    this.byName = new Map(tags.map((one) => [one.name, one]));
    this.sources = sources;
    this.stores = stores;
    this.version = row!.version;
  }

  get tags(): readonly TagRow[] {
    return this.ordered;
  }

  tagById = (id: number): TagRow | undefined => this.byId.get(id);
  tagByName = (name: string): TagRow | undefined => this.byName.get(name);
  sourceById = (id: number): SourceRow | undefined => this.sources.find((one) => one.id === id);

  storeById = (id: number): CatalogueStore | undefined => this.stores.find((one) => one.id === id);
  /** Since when a tag's store keeps values, in microseconds; null: since ever. */
  keepsSince = (row: TagRow): number | null => this.storeById(row.storeId)?.keepsSince ?? null;

  storeByName = (name: string): CatalogueStore | undefined => this.stores.find((one) => one.name === name);

  /** Adds tags and puts them in force under a new version; names that exist are left alone and not returned. */
  async addTags(tags: readonly NewTag[], sourceIds: readonly (number | null)[]): Promise<Map<string, number>> {
    const rows = tags.map((one, index) => ({
      name: one.name,
      type: one.type,
      unit: one.unit,
      description: one.description,
      place: one.place,
      stepped: one.stepped ?? holdsByNature(one.type),
      low: one.low,
      high: one.high,
      states: one.states ?? null,
      sourceId: sourceIds[index] ?? null,
      collection: one.collection ?? null,
      storeId: one.store ? this.storeByName(one.store)!.id : EMBEDDED,
      aggregateConfiguration: one.aggregateConfiguration ?? null,
      counter: one.counter ?? null,
      inForceSince: new Date((parseInstant(one.inForceSince ?? '') ?? Date.now() * 1000) / 1000),
    }));
    const added = await this.database.tables.transaction(async (tx) => {
      const created: { id: number; name: string }[] = [];
      for (let from = 0; from < rows.length; from += 1000) {
        const part = rows.slice(from, from + 1000);
        created.push(
          ...(await tx.insert(tag).values(part).onConflictDoNothing().returning({ id: tag.id, name: tag.name })),
        );
      }
      await tx.update(configuration).set({ version: sql`${configuration.version} + 1` });
      return created;
    });
    await this.refresh();
    return new Map(added.map(({ id, name }) => [name, id]));
  }

  /** Changes a tag, under a new version. */
  async changeTag(id: number, change: TagChange): Promise<void> {
    // Only what is given is set; Drizzle leaves out what is undefined.
    const values = {
      description: change.description,
      stepped: change.stepped,
      aggregateConfiguration: change.aggregateConfiguration,
      counter: change.counter,
    };
    await this.database.tables.transaction(async (tx) => {
      await tx.update(tag).set(values).where(eq(tag.id, id));
      await tx.update(configuration).set({ version: sql`${configuration.version} + 1` });
    });
    await this.refresh();
  }

  /** Adds a source or changes its connection, under a new version. */
  async putSource(given: { name: string; kind: 'modbus-tcp'; connection: SourceRow['connection'] }): Promise<number> {
    const id = await this.database.tables.transaction(async (tx) => {
      const [known] = await tx.select().from(source).where(eq(source.name, given.name));
      await tx.update(configuration).set({ version: sql`${configuration.version} + 1` });
      if (known) {
        await tx.update(source).set({ connection: given.connection }).where(eq(source.id, known.id));
        return known.id;
      }
      const [created] = await tx.insert(source).values(given).returning({ id: source.id });
      return created!.id;
    });
    await this.refresh();
    return id;
  }
}

/** Only a real value can lie between two samples; everything else holds until it changes. */
const holdsByNature = (type: TagType): boolean => type !== 'real';
