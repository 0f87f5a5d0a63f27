/** The logbook: everything anybody did in the window, with old and new, and whether it is whole. */
import type { LogbookCheck, LogbookEntry, LogbookPage } from '@wide-ledger/contract';
import { plainWords, type Plain } from '@wide-ledger/core';
import { keepPreviousData, useInfiniteQuery, useMutation } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { FilterField } from '../controls/FilterField.tsx';
import { ListRow } from '../controls/ListRow.tsx';
import { Facts, Page } from '../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { Leaf } from '../frame/Leaf.tsx';
import { useGo } from '../frame/useGo.ts';
import { useSelection } from '../frame/useSelection.ts';
import { address, get } from '../server/calls.ts';
import { stamp, stampAt } from '../window/times.ts';
import { useWindow, useZone } from '../window/windowStore.ts';

function useLogbook(search: string) {
  const { from, to } = useWindow();
  const window = { from: new Date(from).toISOString(), to: new Date(to).toISOString() };
  const entries = useInfiniteQuery({
    queryKey: ['logbook', from, to, search],
    queryFn: ({ pageParam, signal }) => get<LogbookPage>('/logbook', { ...window, search, cursor: pageParam }, signal),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
  });
  return { ...entries, exportAddress: address('/logbook/export', { ...window, search }) };
}

export function Logbook() {
  const [words, setWords] = useState('');
  const { data, error, hasNextPage, fetchNextPage, exportAddress } = useLogbook(useDeferredValue(words));
  const entries = data?.pages.flatMap((page) => page.entries) ?? [];
  const { selected, select } = useSelection(entries.map(({ number }) => String(number)));
  const zone = useZone();
  const check = useMutation({ mutationFn: () => get<LogbookCheck>('/logbook/check') });
  const chosen = entries.find(({ number }) => String(number) === selected);
  const go = useGo();
  return (
    <>
      <Page
        title="Logbook"
        says={data && `${entries.length}${hasNextPage ? ' and more' : ''} in this window`}
        tools={
          <>
            <FilterField
              label="Filter by person, act, name or reason"
              hint="person, act, name, reason…"
              width="w-60 max-[1100px]:w-40"
              words={words}
              onWords={setWords}
            />
            <Button onClick={() => go('/versions')}>Versions</Button>
            <a
              href={exportAddress}
              download
              className="flex h-[30px] shrink-0 items-center rounded-paper border border-rule bg-raised px-2.5 no-underline hover:border-edge"
            >
              Take away as CSV
            </a>
            <Button disabled={check.isPending} onClick={() => check.mutate()}>
              {check.isPending ? 'Checking…' : 'Check it'}
            </Button>
          </>
        }
      >
        {error && <Failure error={error} />}
        {check.error && <Failure error={check.error} />}
        {check.data && <Checked check={check.data} />}
        <div className="flex h-8 shrink-0 items-center gap-3 border-b border-ink/70 text-ink-2">
          <span className="w-44 pl-1.5">When</span>
          <span className="w-32">Who</span>
          <span className="w-28">Did</span>
          <span className="min-w-0 flex-1">What</span>
        </div>
        {!data && !error && <Skeleton rows={10} />}
        {data && entries.length === 0 && (
          <Empty>
            {words
              ? `Nothing with “${words}” in this window.`
              : 'Nobody did anything in this window. Widen it to look further back.'}
          </Empty>
        )}
        <div role="listbox" aria-label="Logbook" className="min-h-0 flex-1 overflow-y-auto">
          {entries.map((entry) => (
            <Row
              key={entry.number}
              entry={entry}
              zone={zone}
              selected={selected === String(entry.number)}
              onSelect={() => select(String(entry.number))}
            />
          ))}
          {hasNextPage && (
            <Button className="my-2" onClick={() => void fetchNextPage()}>
              Older entries
            </Button>
          )}
        </div>
      </Page>
      {chosen && <EntryLeaf entry={chosen} zone={zone} onClose={() => select(null)} />}
    </>
  );
}

interface RowProps {
  readonly entry: LogbookEntry;
  readonly zone: string;
  readonly selected: boolean;
  readonly onSelect: () => void;
}

function Row({ entry: { at, who, act, sentence }, zone, selected, onSelect }: RowProps) {
  return (
    <ListRow selected={selected} onSelect={onSelect}>
      <span className="figure w-44 pl-[3px]">{stampAt(at, zone)}</span>
      <span className="w-32 truncate">{who}</span>
      <span className={`w-28 truncate ${act === 'was refused' ? 'text-ochre' : ''}`}>{act}</span>
      <span className="min-w-0 flex-1 truncate">{sentence}</span>
    </ListRow>
  );
}

function Checked({ check: { whole, sentence, head } }: { readonly check: LogbookCheck }) {
  return (
    <p role="status" className={`my-2 border-l-2 py-1 pl-3 ${whole ? 'border-verdigris' : 'border-madder'}`}>
      {sentence}{' '}
      {head && (
        <span className="text-ink-2">
          The last is entry {head.number}, <span className="figure break-all">{head.hash}</span>: written down
          elsewhere, it shows later whether the end was cut off.
        </span>
      )}
    </p>
  );
}

function EntryLeaf({
  entry,
  zone,
  onClose,
}: {
  readonly entry: LogbookEntry;
  readonly zone: string;
  readonly onClose: () => void;
}) {
  const go = useGo();
  const { number, at, who, whence, act, sentence, old, new: after, version, hash } = entry;
  const words = (value: unknown) => (
    <span className="figure break-words whitespace-pre-wrap">{linesOf(value as Plain).join('\n')}</span>
  );
  return (
    <Leaf title={`Entry ${number}`} below={`${who} ${act}`} onClose={onClose}>
      <p className="mb-2">{sentence}</p>
      <Facts
        rows={[
          ['When', stamp(Date.parse(at), zone)],
          ['From', whence || 'the server itself'],
          ...(old === null ? [] : ([['Old', words(old)]] as const)),
          ...(after === null ? [] : ([['New', words(after)]] as const)),
          ['Hash', <span className="figure break-all">{hash}</span>],
        ]}
      />
      {version !== null && (
        <Button className="mt-3 self-start" onClick={() => go('/versions', { row: String(version) })}>
          Field by field
        </Button>
      )}
    </Leaf>
  );
}

/** Values a line each. */
function linesOf(value: Plain): string[] {
  if (Array.isArray(value)) return value.map((one) => plainWords([], one as Plain));
  if (typeof value === 'object' && value !== null) {
    return Object.entries(value).map(([name, held]) => `${name} ${plainWords([name], held)}`);
  }
  return [plainWords([], value)];
}
