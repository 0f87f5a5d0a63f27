/** Tags as people and programs give them, by the names of things, as wishes to be put in force. */
import { type Collection, type NewTag, type PaceSettings, type TagBody, type TagType } from '@wide-ledger/contract';
import type { Body } from '@wide-ledger/core';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { Turns } from '../../ground/index.ts';
import type { Asked } from '../definitions/definitions.ts';
import type { Wish } from '../force/settle.ts';
import { placesFor } from '../places/paths.ts';
import { EMBEDDED } from '../stores/declared.ts';

/** New tags that are looked at before others have their turn: a few milliseconds of work. */
export const TAGS_A_TURN = 200;

/** Only a real value can lie between two samples; everything else holds until it changes. */
const holdsByNature = (type: TagType): boolean => type !== 'real';

/** What keeps a tag from being made, as a sentence; null where its names all stand for something. */
export function unknownName({ collection, store, inputs }: NewTag, catalogue: Catalogue): string | null {
  if (collection && !catalogue.sourceByName(collection.source)) {
    return `There is no source "${collection.source}". Create it first.`;
  }
  if (collection?.pace !== undefined && !catalogue.paces.some(({ name }) => name === collection.pace)) {
    return `There is no pace "${collection.pace}". Create it first.`;
  }
  for (const input of Object.values(inputs ?? {}))
    if (!catalogue.tagByName(input)) return `There is no tag "${input}". Create it first.`;
  if (store !== undefined && !catalogue.storeByName(store)) return `There is no store "${store}". Create it first.`;
  return null;
}

/**
 * New tags with the places that they need, which come first. To be read where nobody else can make the same places.
 * @param ids numbers of the tags, in their order.
 */
export async function wishesFor(
  asked: Asked,
  tags: readonly NewTag[],
  ids: readonly number[],
  catalogue: Catalogue,
): Promise<Wish[]> {
  const places = await placesFor(
    asked,
    tags.map(({ place }) => place),
  );
  const wishes: Wish[] = [...places.wishes];
  const turns = new Turns(TAGS_A_TURN);
  for (const [i, tag] of tags.entries()) {
    const body = bodyOf(tag, places.idOf(tag.place), catalogue);
    wishes.push({ kind: 'tag', id: ids[i]!, base: null, body: body as unknown as Body });
    await turns.after(1);
  }
  return wishes;
}

function bodyOf(tag: NewTag, place: number | null, catalogue: Catalogue): TagBody {
  const { collection } = tag;
  return {
    name: tag.name,
    type: tag.type,
    unit: tag.unit,
    description: tag.description,
    place,
    stepped: tag.stepped ?? holdsByNature(tag.type),
    low: tag.low,
    high: tag.high,
    states: tag.states ?? null,
    store: tag.store === undefined ? EMBEDDED : catalogue.storeByName(tag.store)!.id,
    source: collection ? catalogue.sourceByName(collection.source)!.id : null,
    address: collection?.address ?? null,
    ...(collection?.standbyAddress ? { standbyAddress: collection.standbyAddress } : {}),
    scaling: collection?.scaling ?? null,
    pace: catalogue.paces.find(({ name }) => name === collection?.pace)?.id ?? null,
    settings: collection ? settingsOf(collection) : {},
    paused: collection?.paused ?? false,
    aggregateConfiguration: tag.aggregateConfiguration ?? null,
    counter: tag.counter ?? null,
    ...(tag.writable === undefined ? {} : { writable: tag.writable }),
    ...(tag.labels === undefined ? {} : { labels: tag.labels }),
    ...(tag.formula === undefined ? {} : { formula: tag.formula }),
    ...(tag.inputs === undefined ? {} : { inputs: numbersOf(tag.inputs, catalogue) }),
    since: tag.inForceSince ?? null,
  };
}

const numbersOf = (inputs: NonNullable<NewTag['inputs']>, catalogue: Catalogue): Record<string, number> =>
  Object.fromEntries(Object.entries(inputs).map(([input, name]) => [input, catalogue.tagByName(name)!.id]));

function settingsOf({
  intervalMilliseconds,
  aligned,
  deadband,
  longestSilenceSeconds,
}: Collection): Partial<PaceSettings> {
  const given = { intervalMilliseconds, aligned, deadband, longestSilenceSeconds };
  return Object.fromEntries(Object.entries(given).filter(([, setting]) => setting !== undefined));
}
