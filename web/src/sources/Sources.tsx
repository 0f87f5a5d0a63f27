/** Sources: where values come from, and how they are doing. */
import { whither } from '@wide-ledger/contract';
import { nameIn } from '@wide-ledger/core';
import { LifeWord } from '../configuration/Life.tsx';
import { ManyLeaf } from '../configuration/ManyLeaf.tsx';
import { useDrafted } from '../configuration/drafting.ts';
import { ListRow } from '../controls/ListRow.tsx';
import { Page } from '../controls/Page.tsx';
import { useMarks } from '../controls/marks.ts';
import { Empty, Failure, Skeleton } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { Button } from '../controls/Button.tsx';
import { useSelection } from '../frame/useSelection.ts';
import { useCoverage, useSources } from '../server/queries.ts';
import { Strip, StripLegend } from '../strip/Strip.tsx';
import { BuffersLeaf } from './buffers/BuffersLeaf.tsx';
import { SourceLeaf } from './SourceLeaf.tsx';
import { DraftSourceLeaf } from './DraftSourceLeaf.tsx';
import { NewSourceLeaf } from './NewSourceLeaf.tsx';

/** In place of a source's number while a new one is being brought in. */
const NEW = 'new';
/** The same while the buffers are looked at. */
const BUFFERS = 'buffers';
/** The same for one that is only in the draft. */
const draftKey = (id: number): string => `draft:${id}`;

export function Sources() {
  const { data: sources, error } = useSources();
  const { data: coverage } = useCoverage();
  const drafted = useDrafted('source');
  const fresh = [...drafted.values()].filter(({ life }) => life === 'new in draft');
  const { selected, select } = useSelection([
    ...(sources?.map(({ id }) => String(id)) ?? []),
    ...fresh.map(({ id }) => draftKey(id)),
  ]);
  const chosenDraft = fresh.find(({ id }) => draftKey(id) === selected);
  const chosen = sources?.find(({ id }) => String(id) === selected);
  const marks = useMarks();
  const markingOf = (id: number, name: string) => ({
    name,
    marked: marks.marked.has(id),
    onMark: () => marks.mark(id),
  });
  const watching = sources?.filter((source) => source.state?.state === 'watching').length ?? 0;
  return (
    <>
      <Page
        title="Sources"
        says={sources && `${sources.length} in force · ${watching} watched now`}
        tools={
          <>
            <Button onClick={() => select(BUFFERS)}>Buffers</Button>
            <Button onClick={() => select(NEW)}>New source</Button>
          </>
        }
      >
        {error && <Failure error={error} />}
        <div className="flex h-8 items-center gap-3 border-b border-ink/70 text-ink-2">
          <span className="w-[237px] pl-8">Source</span>
          <span className="w-56 max-[1100px]:hidden">Address</span>
          <span className="w-24">State</span>
          <span className="w-24 text-right">Values /s</span>
          <span className="min-w-0 flex-1 truncate">Coverage of the window</span>
        </div>
        {!sources && !error && <Skeleton rows={3} />}
        {sources?.length === 0 && <Empty>No source yet. “New source” walks the path to one before it is saved.</Empty>}
        <div role="listbox" aria-label="Sources" aria-multiselectable>
          {sources?.map((source) => (
            <ListRow
              key={source.id}
              selected={selected === String(source.id)}
              onSelect={() => select(String(source.id))}
              marking={markingOf(source.id, source.name)}
            >
              <span className="w-52 truncate pl-1">{source.name}</span>
              <span className="figure w-56 truncate max-[1100px]:hidden" title={whither(source)}>
                {whither(source)}
              </span>
              <span
                className={`w-24 ${source.state?.state === 'watching' ? 'text-ink-2' : 'font-semibold text-madder'}`}
              >
                {source.state?.state ?? 'unknown'}
              </span>
              <span className="figure w-24 text-right">{showNumber(source.state?.valuesPerSecond ?? 0, 1)}</span>
              <div className="min-w-0 flex-1 pr-1">
                <Strip
                  label={source.name}
                  row={coverage?.rows.find((row) => row.sourceId === source.id && row.tag === null)}
                />
              </div>
            </ListRow>
          ))}
          {fresh.map(({ id, body, life }) => (
            <ListRow
              key={draftKey(id)}
              selected={selected === draftKey(id)}
              onSelect={() => select(draftKey(id))}
              marking={markingOf(id, nameIn(body))}
            >
              <span className="w-52 truncate pl-1">{nameIn(body)}</span>
              <LifeWord life={life} />
            </ListRow>
          ))}
        </div>
        <StripLegend />
      </Page>
      {marks.marked.size > 0 ? (
        <ManyLeaf kind="source" ids={marks.marked} onClose={marks.clear} />
      ) : (
        <>
          {chosen && <SourceLeaf key={chosen.id} source={chosen} onClose={() => select(null)} />}
          {chosenDraft && (
            <DraftSourceLeaf
              key={chosenDraft.id}
              standing={chosenDraft}
              onCreated={(id) => select(draftKey(id))}
              onClose={() => select(null)}
            />
          )}
          {selected === BUFFERS && <BuffersLeaf onClose={() => select(null)} />}
          {selected === NEW && <NewSourceLeaf onClose={() => select(null)} onCreated={(id) => select(draftKey(id))} />}
        </>
      )}
    </>
  );
}
