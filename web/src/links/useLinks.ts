/** Links of both directions, asked again as they change. */
import type { LinkStrips, LinksAnswer } from '@wide-ledger/contract';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { get } from '../server/calls.ts';
import type { StripRow } from '../strip/stripRow.ts';
import { useWindow } from '../window/windowStore.ts';

const REFRESH_MILLISECONDS = 2000;

export const useLinks = () =>
  useQuery({
    queryKey: ['links'],
    queryFn: ({ signal }) => get<LinksAnswer>('/links', {}, signal),
    refetchInterval: REFRESH_MILLISECONDS,
  });

/** Times of day move all the time while the window is live: strips are asked for once in so long. */
const STRIP_MILLISECONDS = 10_000;

/** Strips of the window, by the numbers of links. */
interface LinkStripsOf {
  /** When each that leaves had its far end. */
  readonly leaving: ReadonlyMap<number, StripRow>;
  /** When each that arrives was heard of. */
  readonly arriving: ReadonlyMap<number, StripRow>;
}

export function useLinkStrips(): LinkStripsOf {
  const { from, to } = useWindow();
  const step = (time: number): string =>
    new Date(Math.ceil(time / STRIP_MILLISECONDS) * STRIP_MILLISECONDS).toISOString();
  const window = { from: step(from), to: step(to) };
  const { data } = useQuery({
    queryKey: ['links', 'strips', window],
    queryFn: ({ signal }) => get<LinkStrips>('/links/strips', window, signal),
    placeholderData: keepPreviousData,
  });
  const byLink = (rows: readonly Row[] = []): ReadonlyMap<number, StripRow> =>
    new Map(rows.map(({ id, there, gaps }) => [id, asStrip(there, gaps)]));
  return { leaving: byLink(data?.rows), arriving: byLink(data?.arriving) };
}

type Row = LinkStrips['rows'][number];

const asStrip = (there: Row['there'], gaps: Row['gaps']): StripRow => ({
  duty: [...there, ...gaps].map(({ from, to }) => ({ from, to })),
  spans: there.map((span) => ({ ...span, origin: 'carried' as const })),
  gaps: gaps.map(({ from, to, sentence }) => ({
    from,
    to,
    sentence,
    seconds: (Date.parse(to) - Date.parse(from)) / 1000,
    cause: 'link' as const,
    code: null,
    recoverable: true,
    state: 'open' as const,
    fate: '',
    explained: null,
    source: null,
    tag: null,
    tags: 0,
  })),
  watchedPercent: 100,
});
