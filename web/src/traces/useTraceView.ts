/** How Traces is set: which tags, what stands below the chart, how it is drawn. The address holds all of it. */
import { AGGREGATE_NAMES, type AggregateName } from '@wide-ledger/core';
import { useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { useFirstTag } from '../server/queries.ts';

export const MOST_TAGS = 8;

export const READS = ['processed', 'raw', 'at', 'modified'] as const;
export type Read = (typeof READS)[number];

/** Seconds between two reads of a held window; 0: it is read once. */
export const CYCLES = [0, 10, 60, 600] as const;

export interface TraceView {
  readonly names: readonly string[];
  readonly read: Read;
  readonly aggregates: readonly AggregateName[];
  readonly interval: string;
  /** Rows carry the start or the end of their interval. */
  readonly labelAtEnd: boolean;
  /** All tags side by side, or the one in focus. */
  readonly together: boolean;
  readonly logarithmic: boolean;
  /** A lane for each unit; null where nobody has said: then from three units on. */
  readonly lanes: boolean | null;
  /** The two tags that are chosen are compared value by value. */
  readonly compared: boolean;
  /** Tags drawn and computed otherwise than they are kept: true holds, false slopes. */
  readonly stepped: ReadonlyMap<string, boolean>;
  /** Milliseconds since 1970; null without cursors. */
  readonly cursors: readonly [number, number] | null;
  readonly cycle: number;
  readonly times: string;
}

const DEFAULT_AGGREGATES: readonly AggregateName[] = ['TimeAverage', 'Maximum'];

/** @param first the tag that is shown where nobody has chosen; null: none. */
function viewOf(search: URLSearchParams, first: string | null): TraceView {
  const list = (name: string): string[] => (search.get(name) ?? '').split(',').filter(Boolean);
  const aggregates = list('agg').filter((name): name is AggregateName =>
    (AGGREGATE_NAMES as readonly string[]).includes(name),
  );
  const [a, b] = list('cursors').map(Number);
  const read = search.get('below') as Read;
  return {
    names: (search.get('tags') ?? first ?? '').split(',').filter(Boolean).slice(0, MOST_TAGS),
    read: READS.includes(read) ? read : 'processed',
    aggregates: aggregates.length > 0 ? aggregates : DEFAULT_AGGREGATES,
    interval: search.get('every') ?? 'PT1H',
    labelAtEnd: search.get('label') === 'end',
    together: search.get('together') === '1',
    logarithmic: search.get('log') === '1',
    lanes: search.has('lanes') ? search.get('lanes') === '1' : null,
    compared: search.get('compare') === '1' && list('tags').length === 2,
    stepped: new Map(
      list('drawn').map((entry) => [entry.replace(/:(held|sloped)$/, ''), entry.endsWith(':held')] as const),
    ),
    cursors: a && b ? [a, b] : null,
    cycle: Number(search.get('cycle') ?? 0),
    times: search.get('times') ?? '',
  };
}

/** The view, and how to change it: null takes a setting out of the address. */
export function useTraceView(): [TraceView, (changes: Readonly<Record<string, string | null>>) => void] {
  const [search, setSearch] = useSearchParams();
  const first = useFirstTag(!search.has('tags'));
  const view = useMemo(() => viewOf(search, first), [search, first]);
  const change = (changes: Readonly<Record<string, string | null>>): void => {
    setSearch(
      (current) => {
        for (const [name, value] of Object.entries(changes)) {
          if (value === null) current.delete(name);
          else current.set(name, value);
        }
        return current;
      },
      { replace: true },
    );
  };
  return [view, change];
}

/** The setting `drawn` with one tag held or sloped. */
export function drawnWith(view: TraceView, tag: string, held: boolean): string {
  const drawn = new Map(view.stepped).set(tag, held);
  return [...drawn].map(([name, stepped]) => `${name}:${stepped ? 'held' : 'sloped'}`).join(',');
}
