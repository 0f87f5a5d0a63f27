/** Traces: several tags on two axes, live or held, with the table of values or of an aggregate below. */
import type { Tag } from '@wide-ledger/contract';
import { X } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { useCoverage, useEnvelopes, useTags } from '../server/queries.ts';
import { Strip } from '../strip/Strip.tsx';
import { coverageOf } from '../strip/coverageOf.ts';
import { lengthWords } from '../window/times.ts';
import { hold, showLast, useWindow, useZone } from '../window/windowStore.ts';
import { ProcessedTable } from './ProcessedTable.tsx';
import { RawTable } from './RawTable.tsx';
import { TraceCanvas } from './TraceCanvas.tsx';
import { penOf, type Trace } from './chart.ts';

/** What is shown where nobody has chosen: the wave that shows sampling best. */
const FIRST_TAG = 'TW-PT-110';
const MOST_TAGS = 8;
type Below = 'processed' | 'raw';

export function Traces() {
  const [search, setSearch] = useSearchParams();
  const names = useMemo(
    () => (search.get('tags') ?? FIRST_TAG).split(',').filter(Boolean).slice(0, MOST_TAGS),
    [search],
  );
  const below: Below = search.get('below') === 'raw' ? 'raw' : 'processed';
  const [focus, setFocus] = useState(names[0] ?? null);
  const { from, to } = useWindow();
  const zone = useZone();
  const box = useRef<HTMLDivElement>(null);
  const [columns, setColumns] = useState(800);
  const [inset, setInset] = useState({ left: 0, right: 0 });
  const lineUp = useCallback(
    (left: number, right: number) =>
      setInset((now) => (now.left === left && now.right === right ? now : { left, right })),
    [],
  );
  useEffect(() => {
    const observer = new ResizeObserver(
      ([entry]) => entry && setColumns(Math.max(100, Math.round(entry.contentRect.width / 100) * 100)),
    );
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  const all = useTags('');
  const known = useMemo(
    () => new Map(all.data?.pages.flatMap((page) => page.tags).map((tag) => [tag.name, tag])),
    [all.data],
  );
  const envelopes = useEnvelopes(names, columns);
  const failed = envelopes.find((envelope) => envelope.error)?.error;
  const data = envelopes.map((envelope) => envelope.data);
  const firstUnit = known.get(names[0] ?? '')?.unit;
  const traces = useMemo<Trace[]>(
    () =>
      names.map((tag, index) => {
        const described = known.get(tag);
        return {
          tag,
          unit: described?.unit ?? '',
          stepped: described?.stepped ?? false,
          right: index > 0 && described?.unit !== firstUnit,
          envelope: data[index],
        };
      }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the list is new each time, what it holds is not
    [names, known, firstUnit, ...data],
  );
  const { data: coverage } = useCoverage();
  const focused = names.includes(focus ?? '') ? focus : (names[0] ?? null);
  const focusedTag = focused === null ? undefined : known.get(focused);
  const change = (name: string, value: string): void => {
    setSearch(
      (current) => {
        current.set(name, value);
        return current;
      },
      { replace: true },
    );
  };
  const samples = data.reduce((sum, envelope) => sum + (envelope?.samples ?? 0), 0);
  const length = to - from;
  return (
    <Page
      title="Traces"
      says={`${names.length} ${names.length === 1 ? 'tag' : 'tags'} · ${lengthWords(length)} · drawn from ${showNumber(samples)} values`}
      tools={
        <>
          <AddTag
            known={[...known.values()]}
            chosen={names}
            onAdd={(name) => change('tags', [...names, name].join(','))}
          />
          <Button title="Half the window" aria-label="Zoom in" onClick={() => hold(from + length / 4, to - length / 4)}>
            +
          </Button>
          <Button
            title="Twice the window"
            aria-label="Zoom out"
            onClick={() => hold(from - length / 2, Math.min(to + length / 2, Date.now()))}
          >
            −
          </Button>
          <Button title="The last six hours, moving along" onClick={() => showLast(6 * 3_600_000)}>
            Fit
          </Button>
        </>
      }
    >
      {failed && <Failure error={failed} />}
      {names.length === 0 && <Empty>No tag chosen. “Add a tag” takes up to {MOST_TAGS}.</Empty>}
      <div ref={box} className="flex h-[46%] min-h-56 shrink-0 flex-col">
        <TraceCanvas traces={traces} from={from} to={to} zone={zone} onInset={lineUp} />
      </div>
      <div className="py-1.5" style={{ paddingLeft: inset.left, paddingRight: inset.right }}>
        {focusedTag && (
          <Strip
            label={focusedTag.name}
            row={coverageOf(coverage, focusedTag)}
            expectedFrom={Date.parse(focusedTag.inForceSince)}
          />
        )}
      </div>
      <div className="flex flex-wrap items-center gap-2 pb-2">
        {traces.map((trace, index) => (
          <span
            key={trace.tag}
            className={`flex items-center rounded-paper border ${trace.tag === focused ? 'border-verdigris bg-raised' : 'border-rule'}`}
          >
            <button
              className="flex items-center gap-1.5 py-1 pl-2"
              aria-pressed={trace.tag === focused}
              onClick={() => setFocus(trace.tag)}
              title="Shows this tag in the table"
            >
              <svg width="22" height="6" aria-hidden>
                <line
                  x1="0"
                  y1="3"
                  x2="22"
                  y2="3"
                  stroke={`var(${penOf(index).colour})`}
                  strokeWidth="2.2"
                  strokeDasharray={penOf(index).dash.join(' ')}
                />
              </svg>
              <span className="figure">{trace.tag}</span>
              <span className="text-ink-2">
                {trace.unit}
                {trace.right ? ', right' : ', left'}
              </span>
            </button>
            <button
              aria-label={`Take ${trace.tag} away`}
              className="px-1.5 py-1 text-ink-2 hover:text-ink"
              onClick={() => change('tags', names.filter((name) => name !== trace.tag).join(','))}
            >
              <X size={13} aria-hidden />
            </button>
          </span>
        ))}
        <span className="flex-1" />
        <div role="group" aria-label="Table" className="flex">
          {(['processed', 'raw'] as const).map((kind) => (
            <Button
              key={kind}
              aria-pressed={below === kind}
              className={below === kind ? 'border-verdigris font-semibold' : ''}
              onClick={() => change('below', kind)}
            >
              {kind === 'processed' ? 'Processed' : 'Raw values'}
            </Button>
          ))}
        </div>
      </div>
      {focusedTag && (below === 'raw' ? <RawTable tag={focusedTag} /> : <ProcessedTable tag={focusedTag} />)}
    </Page>
  );
}

interface AddProps {
  readonly known: readonly Tag[];
  readonly chosen: readonly string[];
  readonly onAdd: (name: string) => void;
}

function AddTag({ known, chosen, onAdd }: AddProps) {
  const [words, setWords] = useState('');
  const add = (given: string): void => {
    setWords(given);
    const name = given.split(' ')[0]!;
    if (!known.some((tag) => tag.name === name) || chosen.includes(name)) return;
    onAdd(name);
    setWords('');
  };
  return (
    <>
      <input
        data-filter
        list="known-tags"
        aria-label="Add a tag"
        placeholder="/  add a tag…"
        disabled={chosen.length >= MOST_TAGS}
        className="h-[30px] w-44 rounded-paper border border-edge bg-raised px-2.5"
        value={words}
        onChange={(event) => add(event.target.value)}
      />
      <datalist id="known-tags">
        {known
          .filter((tag) => !chosen.includes(tag.name))
          .map((tag) => (
            <option key={tag.id} value={tag.name}>
              {tag.description}
            </option>
          ))}
      </datalist>
    </>
  );
}
