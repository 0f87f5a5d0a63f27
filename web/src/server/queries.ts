/** What the screens ask the server, one hook a question. Equal questions from several screens are asked once. */
import type {
  BenchDevice,
  CoverageAnswer,
  Desk,
  EnvelopeAnswer,
  GapsAnswer,
  ProcessedAnswer,
  RawAnswer,
  Session,
  Source,
  Tag,
  TagList,
} from '@wide-ledger/contract';
import {
  keepPreviousData,
  useInfiniteQuery,
  useQueries,
  useQuery,
  useQueryClient,
  type QueryClient,
} from '@tanstack/react-query';
import { useWindow, type TimeWindow } from '../window/windowStore.ts';
import { get } from './calls.ts';

const iso = (milliseconds: number): string => new Date(milliseconds).toISOString();
const span = ({ from, to }: TimeWindow): { from: string; to: string } => ({ from: iso(from), to: iso(to) });

export const useSession = () =>
  useQuery({ queryKey: ['session'], queryFn: () => get<Session>('/session'), retry: false, staleTime: Infinity });

export const useDesk = () => useQuery({ queryKey: ['desk'], queryFn: () => get<Desk>('/desk'), refetchInterval: 1000 });

export const useSources = () =>
  useQuery({
    queryKey: ['sources'],
    queryFn: () => get<{ sources: Source[] }>('/sources').then((answer) => answer.sources),
    refetchInterval: 1000,
  });

const PAGE = 200;

/** Tags by search, page by page as the list is scrolled. */
export const useTags = (search: string) =>
  useInfiniteQuery({
    queryKey: ['tags', search],
    queryFn: ({ pageParam, signal }) => get<TagList>('/tags', { search, limit: PAGE, cursor: pageParam }, signal),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  });

export const useTag = (name: string | null) =>
  useQuery({
    queryKey: ['tag', name],
    queryFn: () => get<Tag>(`/tags/${encodeURIComponent(name!)}`),
    enabled: name !== null,
    staleTime: 30_000,
  });

/** First words of the questions that are about the window of time. */
export const WINDOW_QUESTIONS: ReadonlySet<string> = new Set(['coverage', 'gaps', 'envelope', 'raw', 'processed']);

/** Coverage of the window: one question for all strips of a screen. */
export function useCoverage() {
  const window = useWindow();
  return useQuery({
    queryKey: ['coverage', window.from, window.to],
    queryFn: ({ signal }) => get<CoverageAnswer>('/coverage', span(window), signal),
    placeholderData: keepPreviousData,
    refetchInterval: window.live ? false : 5000,
  });
}

export function useGaps() {
  const window = useWindow();
  return useQuery({
    queryKey: ['gaps', window.from, window.to],
    queryFn: ({ signal }) => get<GapsAnswer>('/gaps', span(window), signal),
    placeholderData: keepPreviousData,
    refetchInterval: window.live ? false : 5000,
  });
}

const RIBBON_DAYS = 14;

/** The site's coverage over the last days, for the ribbon. */
export const useRibbon = () =>
  useQuery({
    queryKey: ['ribbon'],
    queryFn: () => get<CoverageAnswer>('/coverage', { from: `now-${RIBBON_DAYS}d`, to: 'now' }),
    refetchInterval: 15_000,
  });

/**
 * The newest answer to a question that differs only in its window: what a chart or a table goes on showing until the
 * next answer is there.
 */
function latestAnswer<Answer>(client: QueryClient, start: readonly unknown[]): Answer | undefined {
  const answered = client
    .getQueryCache()
    .findAll({ queryKey: start, predicate: ({ state }) => state.data !== undefined });
  const newest = answered.reduce<(typeof answered)[number] | undefined>(
    (found, query) => (found && found.state.dataUpdatedAt > query.state.dataUpdatedAt ? found : query),
    undefined,
  );
  return newest?.state.data as Answer | undefined;
}

/** A trend's points for each tag. */
export function useEnvelopes(tags: readonly string[], columns: number) {
  const client = useQueryClient();
  const window = useWindow();
  return useQueries({
    queries: tags.map((tag) => ({
      queryKey: ['envelope', tag, window.from, window.to, columns],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        get<EnvelopeAnswer>('/history/envelope', { tag, ...span(window), columns }, signal),
      placeholderData: () => latestAnswer<EnvelopeAnswer>(client, ['envelope', tag]),
    })),
  });
}

export function useRaw(tag: string | null) {
  const window = useWindow();
  return useQuery({
    queryKey: ['raw', tag, window.from, window.to],
    queryFn: ({ signal }) => get<RawAnswer>('/history/raw', { tag: tag!, ...span(window), limit: 5000 }, signal),
    enabled: tag !== null,
    placeholderData: keepPreviousData,
  });
}

export interface ProcessedRequest {
  readonly tag: string;
  readonly interval: string;
  readonly zone: string;
}

/** Several aggregates over the same buckets, which lie on whole intervals around the window. */
export function useProcessed(
  request: ProcessedRequest | null,
  aggregates: readonly string[],
  window: { from: number; to: number },
) {
  const client = useQueryClient();
  return useQueries({
    queries: aggregates.map((aggregate) => ({
      queryKey: ['processed', request, aggregate, window.from, window.to],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        get<ProcessedAnswer>(
          '/history/processed',
          { ...request!, aggregate, from: iso(window.from), to: iso(window.to) },
          signal,
        ),
      enabled: request !== null,
      placeholderData: () => latestAnswer<ProcessedAnswer>(client, ['processed', request, aggregate]),
    })),
  });
}

export const useBench = () =>
  useQuery({
    queryKey: ['bench'],
    queryFn: () => get<{ devices: BenchDevice[] }>('/bench').then((answer) => answer.devices),
    refetchInterval: 1000,
  });
