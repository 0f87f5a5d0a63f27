import { newTag, newTags, tagChange, type NewTag, type SampleOutput, type Tag } from '@wide-ledger/contract';
import { Router } from 'express';
import { z } from 'zod';
import type { Guard } from '../../people/index.ts';
import { badRequest, notFound, sentenceOf } from '../../ground/index.ts';
import type { Catalogue, TagRow } from './catalogue.ts';

const listQuery = z.object({
  search: z.string().default(''),
  source: z.coerce.number().optional(),
  cursor: z.coerce.number().int().nonnegative().default(0),
  limit: z.coerce.number().int().min(1).max(1000).default(200),
});

/** The name of a row that may be wrong in every other way. */
const namedRow = z.object({ name: z.string() });

/** What the archive knows of the present, as far as the list of tags shows it. */
export interface LatestValues {
  /** Looks up what was not asked for before. */
  recall(tags: readonly TagRow[]): Promise<void>;
  /** Null where the tag has no value yet. */
  latest(tag: TagRow): SampleOutput | null;
}

/** A tag as the interface shows it, with its latest value. */
export function describeTag(row: TagRow, catalogue: Catalogue, values: LatestValues): Tag {
  return {
    id: row.id,
    name: row.name,
    type: row.type,
    unit: row.unit,
    description: row.description,
    place: row.place,
    stepped: row.stepped,
    low: row.low,
    high: row.high,
    states: row.states,
    sourceId: row.sourceId,
    collection: row.collection,
    inForceSince: row.inForceSince.toISOString(),
    store: catalogue.storeById(row.storeId)?.name ?? '',
    aggregateConfiguration: row.aggregateConfiguration,
    counter: row.counter,
    latest: values.latest(row),
  };
}

/** Every word has to occur in name, description, place or unit. */
function matches(row: TagRow, words: readonly string[]): boolean {
  const text = `${row.name} ${row.description} ${row.place} ${row.unit}`.toLowerCase();
  return words.every((word) => text.includes(word));
}

/** Tags: searching by pages, reading one, creating many at once with a result for each, changing one. */
export function tagRoutes(catalogue: Catalogue, values: LatestValues, guard: Guard): Router {
  const router = Router();

  router.get('/tags', guard.needs('read'), async (request, response) => {
    const { search, source, cursor, limit } = listQuery.parse(request.query);
    await catalogue.refresh();
    const words = search.toLowerCase().split(/\s+/).filter(Boolean);
    const found = catalogue.tags.filter(
      (row) => matches(row, words) && (source === undefined || row.sourceId === source),
    );
    const page = found.slice(cursor, cursor + limit);
    await values.recall(page);
    const next = cursor + limit < found.length ? { next: String(cursor + limit) } : {};
    response.json({ tags: page.map((row) => describeTag(row, catalogue, values)), total: found.length, ...next });
  });

  router.get('/tags/:name', guard.needs('read'), async (request, response) => {
    await catalogue.refresh();
    const name = String(request.params.name);
    const row = catalogue.tagByName(name);
    if (!row) throw notFound(`There is no tag "${name}".`);
    await values.recall([row]);
    response.json(describeTag(row, catalogue, values));
  });

  router.patch('/tags/:name', guard.needs('admin'), async (request, response) => {
    const change = tagChange.parse(request.body);
    await catalogue.refresh();
    const name = String(request.params.name);
    const row = catalogue.tagByName(name);
    if (!row) throw notFound(`There is no tag "${name}".`);
    await catalogue.changeTag(row.id, change);
    response.json(describeTag(catalogue.tagByName(name)!, catalogue, values));
  });

  router.post('/tags', guard.needs('admin'), async (request, response) => {
    const given: unknown = newTags.parse(request.body);
    await catalogue.refresh();
    const rows: unknown[] = Array.isArray(given) ? given : [given];
    const refused = new Map<number, string>();
    const accepted: { index: number; tag: NewTag; sourceId: number | null }[] = [];
    const names = new Set<string>();
    rows.forEach((row, index) => {
      const parsed = newTag.safeParse(row);
      if (!parsed.success) {
        refused.set(index, sentenceOf(parsed.error));
        return;
      }
      const { name, collection, store } = parsed.data;
      const source = collection ? catalogue.sources.find((one) => one.name === collection.source) : undefined;
      if (names.has(name)) refused.set(index, `The name ${name} occurs twice in this request.`);
      else if (collection && !source) refused.set(index, `There is no source "${collection.source}". Create it first.`);
      else if (store !== undefined && !catalogue.storeByName(store))
        refused.set(index, `There is no store "${store}". Create it first.`);
      else accepted.push({ index, tag: parsed.data, sourceId: source?.id ?? null });
      names.add(name);
    });
    const created = await catalogue.addTags(
      accepted.map((one) => one.tag),
      accepted.map((one) => one.sourceId),
    );
    for (const { index, tag } of accepted) {
      if (!created.has(tag.name)) refused.set(index, `A tag named ${tag.name} exists already.`);
    }
    if (!Array.isArray(given) && refused.size > 0) throw badRequest(refused.get(0)!);
    const results = rows.map((row, index) => {
      const { name = '' } = namedRow.safeParse(row).data ?? {};
      const reason = refused.get(index);
      return reason === undefined
        ? { name, id: created.get(name), outcome: 'created' }
        : { name, outcome: 'refused', reason };
    });
    response.status(created.size > 0 ? 201 : 200).json({ results });
  });
  return router;
}
