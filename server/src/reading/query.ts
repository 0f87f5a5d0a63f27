/** What the history calls have in common: the tag, the window, the format. */
import { formatInstant, resolveTime } from '@wide-ledger/core';
import { badRequest, notFound } from '../http/problem.ts';
import type { Catalogue, TagRow } from '../tags/store.ts';

export interface Window {
  readonly from: number;
  readonly to: number;
}

export const nowMicros = (): number => Date.now() * 1000;

/** Both ends against one present. @throws a problem naming the end that is no time. */
export function resolveWindow(given: { from: string; to: string }): Window {
  const now = nowMicros();
  const end = (name: 'from' | 'to'): number => {
    const time = resolveTime(given[name], now);
    if (time === undefined) {
      throw badRequest(
        `${name}: "${given[name]}" is neither a date-time with its offset, such as 2026-11-22T06:00:00Z, nor a relative one, such as now-6h.`,
      );
    }
    return time;
  };
  return { from: end('from'), to: end('to') };
}

export async function findTag(catalogue: Catalogue, name: string): Promise<TagRow> {
  if (!catalogue.tagByName(name)) await catalogue.refresh();
  const row = catalogue.tagByName(name);
  if (!row) throw notFound(`There is no tag "${name}".`);
  return row;
}

export const echoWindow = ({ from, to }: Window): { from: string; to: string } => ({
  from: formatInstant(from),
  to: formatInstant(to),
});
