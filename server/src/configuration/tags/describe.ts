/** A tag as the interface shows it. */
import type { SampleOutput, Tag } from '@wide-ledger/contract';
import type { Catalogue, TagRow } from '../catalogue/catalogue.ts';

/** What the archive knows of the present, as far as the list of tags shows it. */
export interface LatestValues {
  /** Looks up what was not asked for before. */
  recall(tags: readonly TagRow[]): Promise<void>;
  /** Null where the tag has no value yet. */
  latest(tag: TagRow): SampleOutput | null;
  /** Why its source does not give it, as it was recalled last; null where it does. */
  refusal(tag: TagRow): string | null;
}

/** A tag with the names of what it refers to, and its latest value. */
export function describeTag(row: TagRow, catalogue: Catalogue, values: LatestValues): Tag {
  return {
    id: row.id,
    name: row.name,
    formerNames: [...catalogue.formerNamesOf(row.id)],
    type: row.type,
    unit: row.unit,
    description: row.description,
    place: row.place,
    stepped: row.stepped,
    low: row.low,
    high: row.high,
    states: row.states,
    sourceId: row.sourceId,
    collection: collectionOf(row, catalogue),
    inForceSince: row.inForceSince.toISOString(),
    toldVersion: row.toldVersion,
    retired: row.retiredAt !== null,
    refusal: row.retiredAt === null && row.sourceId !== null ? values.refusal(row) : null,
    store: catalogue.storeById(row.storeId)?.name ?? '',
    aggregateConfiguration: row.aggregateConfiguration,
    counter: row.counter,
    writable: row.writable,
    labels: row.labels ?? {},
    formula: row.formula,
    inputs:
      row.inputs &&
      Object.fromEntries(
        Object.entries(row.inputs).map(([input, id]) => [input, catalogue.tagById(id)?.name ?? `number ${id}`]),
      ),
    latest: values.latest(row),
  };
}

function collectionOf(row: TagRow, catalogue: Catalogue): Tag['collection'] {
  if (row.reading === null || row.sourceId === null) return null;
  const pace = row.paceId === null ? undefined : catalogue.paceById(row.paceId);
  return {
    ...row.reading,
    source: catalogue.sourceById(row.sourceId)?.name ?? '',
    pace: pace?.name ?? null,
    departures: pace ? Object.keys(row.settings) : [],
    paused: row.paused,
  };
}
