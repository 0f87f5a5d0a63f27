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

/** When each link had its far end, as strips of the window, by its number. */
export function useLinkStrips(): ReadonlyMap<number, StripRow> {
  const { from, to } = useWindow();
  const step = (time: number): string =>
    new Date(Math.ceil(time / STRIP_MILLISECONDS) * STRIP_MILLISECONDS).toISOString();
  const window = { from: step(from), to: step(to) };
  const { data } = useQuery({
    queryKey: ['links', 'strips', window],
    queryFn: ({ signal }) => get<LinkStrips>('/links/strips', window, signal),
    placeholderData: keepPreviousData,
  });
  return new Map(data?.rows.map(({ id, there, gaps }) => [id, asStrip(there, gaps)]));
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
    cause: 'source' as const,
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
