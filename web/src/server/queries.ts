/** What the screens ask the server, one hook a question. Equal questions from several screens are asked once. */
import type {
  AnnotationsAnswer,
  BenchDevice,
  CoverageAnswer,
  Desk,
  EnvelopeAnswer,
  GapsAnswer,
  ModifiedAnswer,
  RawAnswer,
  RetentionPreview,
  SampleOutput,
  Session,
  Source,
  StoresAnswer,
  TableAnswer,
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
import { useRested } from './live.ts';

const iso = (milliseconds: number): string => new Date(milliseconds).toISOString();
const span = ({ from, to }: TimeWindow): { from: string; to: string } => ({ from: iso(from), to: iso(to) });

export const useSession = () =>
  useQuery({ queryKey: ['session'], queryFn: () => get<Session>('/session'), retry: false, staleTime: Infinity });

const desk = { queryKey: ['desk'], queryFn: () => get<Desk>('/desk') };

export const useDesk = () => useQuery({ ...desk, refetchInterval: 1000 });

/** Names of the collectors that have reported. */
export function useCollectorNames(): readonly string[] {
  const { data } = useQuery({ ...desk, select: collectorNames });
  return data ?? NO_NAMES;
}
const collectorNames = ({ collectors }: Desk): string[] => collectors.map(({ name }) => name);
const NO_NAMES: readonly string[] = [];

/** The site's zone, for what must not happen by the wrong clock: waits for it where it is not known yet. */
export function useSiteZone(): () => Promise<string> {
  const client = useQueryClient();
  return async () => (await client.ensureQueryData(desk)).zone;
}

export const useSources = () =>
  useQuery({
    queryKey: ['sources'],
    queryFn: () => get<{ sources: Source[] }>('/sources').then((answer) => answer.sources),
    refetchInterval: 1000,
  });

const PAGE = 200;

/** Tags by search, of a place and what lies in it, page by page as the list is scrolled. */
export const useTags = (search: string, place?: string, source?: number) =>
  useInfiniteQuery({
    queryKey: ['tags', search, place, source],
    queryFn: ({ pageParam, signal }) =>
      get<TagList>('/tags', { search, place, source, limit: PAGE, cursor: pageParam }, signal),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  });

/** The name of the first tag of the site; null while it is not known, and where it is not wanted. */
export const useFirstTag = (wanted: boolean): string | null =>
  useQuery({
    queryKey: ['first tag'],
    queryFn: ({ signal }) => get<TagList>('/tags', { limit: 1 }, signal),
    enabled: wanted,
    staleTime: 30_000,
  }).data?.tags[0]?.name ?? null;

export const useTag = (name: string | null) =>
  useQuery({
    queryKey: ['tag', name],
    queryFn: () => get<Tag>(`/tags/${encodeURIComponent(name!)}`),
    enabled: name !== null,
    staleTime: 30_000,
  });

/** Some tags by their names, however many there are in force. */
export const useTagsNamed = (names: readonly string[]) =>
  useQueries({
    queries: names.map((name) => ({
      queryKey: ['tag', name],
      queryFn: () => get<Tag>(`/tags/${encodeURIComponent(name)}`),
      staleTime: 30_000,
    })),
    combine: (answers) => answers.flatMap(({ data }) => data ?? []),
  });

/** First words of the questions that are about the window of time. */
export const WINDOW_QUESTIONS: ReadonlySet<string> = new Set([
  'coverage',
  'gaps',
  'envelope',
  'raw',
  'processed',
  'modified',
  'annotations',
  'logbook',
]);

/** Coverage of the window: one question for all strips of a screen. */
const NO_TAGS: readonly number[] = [];
/** The number of no tag. */
const NOBODY = '0';

/** Rows of all sources, or of those with tags in a place, and of those of these tags that differ from theirs. */
export function useCoverage(tags: readonly number[] = NO_TAGS, place = '') {
  const window = useWindow();
  const among = useRested(tags);
  return useQuery({
    queryKey: ['coverage', window.from, window.to, among, place],
    queryFn: ({ signal }) =>
      get<CoverageAnswer>('/coverage', { ...span(window), among: among || NOBODY, place: place || undefined }, signal),
    placeholderData: keepPreviousData,
    refetchInterval: window.live ? false : 5000,
  });
}

/** Gaps of the window, of all tags or of those in a place, with those that were filled since. */
export function useGaps(place = '') {
  const window = useWindow();
  return useQuery({
    queryKey: ['gaps', window.from, window.to, place],
    queryFn: ({ signal }) =>
      get<GapsAnswer>('/gaps', { ...span(window), recovered: 'true', place: place || undefined }, signal),
    placeholderData: keepPreviousData,
    refetchInterval: window.live ? false : 5000,
  });
}

/** The site's coverage over the last days, for the ribbon. */
export const useRibbon = (days: number) =>
  useQuery({
    queryKey: ['ribbon', days],
    placeholderData: keepPreviousData,
    queryFn: () => get<CoverageAnswer>('/coverage', { from: `now-${days}d`, to: 'now', among: NOBODY }),
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

const cycleOf = (seconds: number): number | false => (seconds > 0 ? seconds * 1000 : false);

/** A trend's points for each tag. @param cycle seconds between two reads; 0: once. */
export function useEnvelopes(tags: readonly string[], columns: number, cycle: number) {
  const client = useQueryClient();
  const window = useWindow();
  return useQueries({
    queries: tags.map((tag) => ({
      queryKey: ['envelope', tag, window.from, window.to, columns],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        get<EnvelopeAnswer>('/history/envelope', { tag, ...span(window), columns }, signal),
      placeholderData: () => latestAnswer<EnvelopeAnswer>(client, ['envelope', tag]),
      refetchInterval: cycleOf(cycle),
    })),
  });
}

const RAW_PAGE = 2000;

/** Raw values of the window, newest first, page by page as the list is scrolled. */
export function useRaw(tag: string, cycle: number) {
  const window = useWindow();
  return useInfiniteQuery({
    queryKey: ['raw', tag, window.from, window.to],
    queryFn: ({ pageParam, signal }) =>
      get<RawAnswer>(
        '/history/raw',
        { tag, ...span(window), order: 'newest', limit: RAW_PAGE, cursor: pageParam },
        signal,
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    refetchInterval: cycleOf(cycle),
  });
}

/** What was replaced or removed in the window. */
export function useModified(tag: string) {
  const window = useWindow();
  return useQuery({
    queryKey: ['modified', tag, window.from, window.to],
    queryFn: ({ signal }) => get<ModifiedAnswer>('/history/modified', { tag, ...span(window) }, signal),
    placeholderData: keepPreviousData,
    staleTime: 5000,
  });
}

export function useAnnotations(tags: readonly string[]) {
  const window = useWindow();
  return useQuery({
    queryKey: ['annotations', tags.join(','), window.from, window.to],
    queryFn: ({ signal }) => get<AnnotationsAnswer>('/annotations', { tags: tags.join(','), ...span(window) }, signal),
    enabled: tags.length > 0,
    placeholderData: keepPreviousData,
    staleTime: 5000,
  });
}

/** Parameters of a table of aggregates, as the call takes them. */
export type TableRequest = Readonly<Record<string, string | undefined>>;

/** Aggregates of several tags over the same intervals. */
export function useTable(request: TableRequest, cycle: number) {
  return useQuery({
    queryKey: ['processed', request],
    queryFn: ({ signal }) => get<TableAnswer>('/history/table', request, signal),
    placeholderData: keepPreviousData,
    refetchInterval: cycleOf(cycle),
  });
}

export function useAtTimes(tag: string, times: readonly string[]) {
  return useQuery({
    queryKey: ['at', tag, times],
    queryFn: ({ signal }) => get<{ samples: SampleOutput[] }>('/history/at', { tag, times: times.join(',') }, signal),
    enabled: times.length > 0,
  });
}

export const useStores = () =>
  useQuery({
    queryKey: ['stores'],
    queryFn: () => get<StoresAnswer>('/stores').then(({ stores }) => stores),
    refetchInterval: 10_000,
  });

export const useRetentionPreview = (store: number, months: number | null) =>
  useQuery({
    queryKey: ['retention', store, months],
    queryFn: ({ signal }) => get<RetentionPreview>(`/stores/${store}/retention`, { months: months! }, signal),
    enabled: months !== null,
  });

export const useBench = () =>
  useQuery({
    queryKey: ['bench'],
    queryFn: () => get<{ devices: BenchDevice[] }>('/bench').then((answer) => answer.devices),
    refetchInterval: 1000,
  });
