/** Doubts: what the data themselves betray, looked for in the window as a job. */
import type { Doubt, DoubtsAnswer, ExaminationAnswer, ExaminationReport, Job } from '@wide-ledger/contract';
import { keepPreviousData, useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { useSearchParams } from 'react-router';
import { PlaceSelect, usePlaceFilter } from '../configuration/PlaceSelect.tsx';
import { Button } from '../controls/Button.tsx';
import { ListRow } from '../controls/ListRow.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { useMoreAt } from '../controls/useMoreAt.ts';
import { showNumber } from '../controls/values.ts';
import { useSelection } from '../frame/useSelection.ts';
import { JobState, isOver, useJob } from '../jobs/JobState.tsx';
import { askAnew } from '../server/anew.ts';
import { get, post } from '../server/calls.ts';
import { lengthWords, stampAt, windowWords } from '../window/times.ts';
import { useWindow, useZone } from '../window/windowStore.ts';
import { DoubtLeaf } from './DoubtLeaf.tsx';
import { KIND_WORDS } from './kinds.ts';
import { TakeProposals } from './TakeProposals.tsx';

const ROW_HEIGHT = 32;
const PAGE = 200;

/** Examinations, the newest first. */
const useExaminations = () =>
  useQuery({
    queryKey: ['examinations'],
    queryFn: ({ signal }) =>
      get<{ jobs: Job[] }>('/jobs', {}, signal).then(({ jobs }) => jobs.filter(({ kind }) => kind === 'examination')),
  });

/** What one found, so far or in all. */
const useDoubts = (job: number | null, kind: string, growing: boolean) =>
  useInfiniteQuery({
    queryKey: ['doubts', job, kind],
    queryFn: ({ pageParam, signal }) =>
      get<DoubtsAnswer>('/doubts', { job: job!, kind: kind || undefined, limit: PAGE, cursor: pageParam }, signal),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (page) => page.next,
    enabled: job !== null,
    placeholderData: keepPreviousData,
    refetchInterval: growing ? 2000 : false,
  });

export function Doubts() {
  const client = useQueryClient();
  const window = useWindow();
  const zone = useZone();
  const filter = usePlaceFilter();
  const [search, setSearch] = useSearchParams();
  const { data: examinations, error } = useExaminations();
  const kind = search.get('kind') ?? '';
  const chosen = Number(search.get('job')) || (examinations?.[0]?.id ?? null);
  const { data: job } = useJob(chosen);
  const pages = useDoubts(chosen, kind, job !== undefined && !isOver(job));
  const doubts = pages.data?.pages.flatMap((page) => page.doubts) ?? [];
  const counts = pages.data?.pages[0]?.counts ?? [];
  const { selected, select } = useSelection(doubts.map(({ id }) => String(id)));
  const choose = (name: 'job' | 'kind', value: string): void =>
    setSearch(
      (current) => {
        if (value === '') current.delete(name);
        else current.set(name, value);
        current.delete('row');
        return current;
      },
      { replace: true },
    );
  const begin = useMutation({
    mutationFn: () =>
      post<ExaminationAnswer>('/examinations', {
        from: new Date(window.from).toISOString(),
        to: new Date(window.to).toISOString(),
        ...(filter.place ? { place: filter.place } : {}),
      }),
    onSuccess: async ({ job: begun }) => {
      await askAnew(client, ['examinations']);
      choose('job', String(begun));
    },
  });
  const one = doubts.find(({ id }) => String(id) === selected);
  const report = job?.report as ExaminationReport | null | undefined;
  return (
    <>
      <Page
        title="Doubts"
        says={
          report &&
          `${showNumber(report.doubts)} in ${showNumber(report.tags)} tags · ${windowWords(Date.parse(report.from), Date.parse(report.to), zone)}`
        }
        tools={
          <>
            {examinations && examinations.length > 1 && (
              <select
                aria-label="Which examination"
                className="h-[30px] max-w-64 rounded-paper border border-rule bg-raised px-1"
                value={String(chosen ?? '')}
                onChange={(event) => choose('job', event.target.value)}
              >
                {examinations.map(({ id, startedAt, title }) => (
                  <option key={id} value={id}>
                    {stampAt(startedAt, zone)} · {title.split(',')[0]}
                  </option>
                ))}
              </select>
            )}
            <PlaceSelect {...filter} />
            <Button
              main
              disabled={begin.isPending || (job !== undefined && !isOver(job))}
              onClick={() => begin.mutate()}
            >
              Examine this window
            </Button>
          </>
        }
      >
        {error && <Failure error={error} />}
        {begin.error && <Failure error={begin.error} />}
        {pages.error && <Failure error={pages.error} />}
        {chosen !== null && (
          <div className="mb-2 flex flex-wrap items-start gap-x-6 gap-y-2 border-b border-rule pb-2">
            <div className="min-w-64 flex-1">
              <JobState key={chosen} id={chosen} name="Examination" changes={['doubts', 'examinations']}>
                {(told) => <Limits report={told as ExaminationReport} zone={zone} />}
              </JobState>
            </div>
            <Kinds counts={counts} kind={kind} onKind={(wanted) => choose('kind', wanted)} />
            {/* Of one kind at a time: what is taken over is what is seen. */}
            {kind !== '' && doubts.length > 1 && <TakeProposals doubts={doubts} />}
          </div>
        )}
        {!examinations && !error && <Skeleton rows={8} />}
        {examinations && chosen === null && (
          <Empty>
            Nothing was examined yet. “Examine this window” looks for values that stand still while their neighbours
            move, counters that stand, values out of range or that came twice, stamps and clocks that are wrong, and
            tags that are read too seldom or too often.
          </Empty>
        )}
        {chosen !== null && pages.data && doubts.length === 0 && job && isOver(job) && (
          <Empty>The data betray nothing {kind ? 'of this kind ' : ''}in this window.</Empty>
        )}
        {doubts.length > 0 && <List doubts={doubts} selected={selected} onSelect={select} zone={zone} pages={pages} />}
      </Page>
      {one && <DoubtLeaf key={one.id} doubt={one} onClose={() => select(null)} />}
    </>
  );
}

/** What an examination could not see. */
function Limits({
  report: { shortestSeconds, journalFrom },
  zone,
}: {
  readonly report: ExaminationReport;
  readonly zone: string;
}) {
  const arrival =
    journalFrom === null
      ? 'The order of arrival is not known of this window any more.'
      : `The order of arrival is known since ${stampAt(journalFrom, zone)}.`;
  return (
    <p className="text-ink-2">
      Rests shorter than {lengthWords(shortestSeconds * 1000)} are not told by neighbours. {arrival}
    </p>
  );
}

interface KindsProps {
  readonly counts: DoubtsAnswer['counts'];
  readonly kind: string;
  readonly onKind: (kind: string) => void;
}

function Kinds({ counts, kind, onKind }: KindsProps) {
  return (
    <div role="group" aria-label="Kinds" className="flex flex-wrap gap-1">
      {counts.map((one) => (
        <Button
          key={one.kind}
          aria-pressed={kind === one.kind}
          onClick={() => onKind(kind === one.kind ? '' : one.kind)}
        >
          {KIND_WORDS[one.kind].name} <span className="figure text-ink-2">{showNumber(one.doubts)}</span>
        </Button>
      ))}
    </div>
  );
}

interface ListProps {
  readonly doubts: readonly Doubt[];
  readonly selected: string | null;
  readonly onSelect: (key: string) => void;
  readonly zone: string;
  readonly pages: Parameters<typeof useMoreAt>[2];
}

function List({ doubts, selected, onSelect, zone, pages }: ListProps) {
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: doubts.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 10,
  });
  const shown = virtual.getVirtualItems();
  useMoreAt(shown.at(-1)?.index ?? 0, doubts.length, pages);
  return (
    <>
      <div className="flex h-7 shrink-0 items-center gap-3 border-b border-ink/70 text-ink-2">
        <span className="w-28 pl-1.5">What</span>
        <span className="w-28">Where</span>
        <span className="w-56 max-[1100px]:w-40">From – to</span>
        <span className="min-w-0 flex-1">Seen by</span>
      </div>
      <div ref={box} role="listbox" aria-label="Doubts" tabIndex={-1} className="min-h-0 flex-1 overflow-y-auto">
        <div role="presentation" className="relative" style={{ height: virtual.getTotalSize() }}>
          {shown.map(({ index, start }) => {
            const { id, kind, tag, source, from, to, sentence } = doubts[index]!;
            return (
              <div
                key={id}
                role="presentation"
                className="absolute inset-x-0"
                style={{ transform: `translateY(${start}px)`, height: ROW_HEIGHT }}
              >
                <ListRow selected={selected === String(id)} onSelect={() => onSelect(String(id))}>
                  <span className="w-28 truncate pl-[3px]">{KIND_WORDS[kind].name}</span>
                  <span className={`w-28 truncate ${tag ? 'figure' : ''}`}>{tag ?? source}</span>
                  <span
                    className="figure w-56 truncate max-[1100px]:w-40"
                    title={windowWords(Date.parse(from), Date.parse(to), zone)}
                  >
                    {windowWords(Date.parse(from), Date.parse(to), zone)}
                  </span>
                  <span className="min-w-0 flex-1 truncate">{sentence}</span>
                </ListRow>
              </div>
            );
          })}
        </div>
      </div>
    </>
  );
}
