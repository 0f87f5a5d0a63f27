/** Sources out of a configuration, each looked at as closely as reading it needs. */
import {
  changeOver,
  configuredTag,
  newSource,
  type CollectorConfiguration,
  type ConfiguredSource,
  type ConfiguredTag,
} from '@wide-ledger/contract';
import { z } from 'zod';

/** Tags that were looked at already: of a new version only what changed in it is, and the rest is read on meanwhile. */
const known = new WeakMap<object, ConfiguredTag>();

function asTag(given: object): ConfiguredTag | null {
  const before = known.get(given);
  if (before) return before;
  const { data } = configuredTag.safeParse(given);
  if (!data) return null;
  known.set(given, data);
  return data;
}

/** A source as this collector can read it; null where it does not understand its connection or one of its tags. */
export function asConfigured(given: CollectorConfiguration['sources'][number]): ConfiguredSource | null {
  const { id, name, kind } = given;
  const {
    connection,
    tags = [],
    standbyConnection,
    ...terms
  } = given as Readonly<Record<string, unknown>> & { readonly tags?: readonly object[] };
  const second = standbyConnection ? { standbyConnection } : {};
  const { data: head } = newSource.safeParse({ name, kind, connection, ...second });
  const { data: over } = z.object(changeOver).safeParse(terms);
  if (!head || !over) return null;
  const understood: ConfiguredTag[] = [];
  for (const one of tags) {
    const tag = asTag(one);
    if (!tag) return null;
    understood.push(tag);
  }
  return { ...head, id, tags: understood, ...over };
}
