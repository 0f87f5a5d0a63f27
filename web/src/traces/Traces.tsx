/** Traces: several tags on two axes, live or held; below them one of the four ways of reading their history. */
import type { Annotation } from '@wide-ledger/contract';
import { useCallback, useMemo, useRef, useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { useWidth } from '../controls/useWidth.ts';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { useAnnotations, useCoverage, useEnvelopes, useTagsNamed } from '../server/queries.ts';
import { Strip } from '../strip/Strip.tsx';
import { coverageOf } from '../strip/coverageOf.ts';
import { lengthWords, stamp } from '../window/times.ts';
import { hold, showLast, useWindow, useZone } from '../window/windowStore.ts';
import { AtTimesTable } from './AtTimesTable.tsx';
import { CursorHandles, CursorReadings } from './Cursors.tsx';
import { ModifiedTable } from './ModifiedTable.tsx';
import { PointLine } from './PointLine.tsx';
import { ProcessedTable } from './ProcessedTable.tsx';
import { RawTable, type RawSample } from './RawTable.tsx';
import { AgreementTable } from './agreement/AgreementTable.tsx';
import { AddTag, TagChips } from './TagChips.tsx';
import { TakeAway } from './TakeAway.tsx';
import { TraceCanvas } from './TraceCanvas.tsx';
import { ValueLeaf } from './ValueLeaf.tsx';
import { type Trace } from './chart.ts';
import type { Hovered } from './points.ts';
import { CYCLES, MOST_TAGS, READS, drawnWith, useTraceView, type Read, type TraceView } from './useTraceView.ts';

const READ_WORDS: Record<Read, string> = {
  processed: 'Processed',
  raw: 'Raw',
  at: 'At times',
  modified: 'Modified',
};

const NO_NOTES: readonly Annotation[] = [];

/** Width of the chart in columns of points, and how far its plot stands off its edges. */
function usePlot() {
  const box = useRef<HTMLDivElement>(null);
  const [inset, setInset] = useState({ left: 0, right: 0 });
  const lineUp = useCallback(
    (left: number, right: number) =>
      setInset((now) => (now.left === left && now.right === right ? now : { left, right })),
    [],
  );
  const columns = Math.max(100, Math.round(useWidth(box, 800) / 100) * 100);
  return { box, columns, inset, lineUp };
}

/** The chosen tags with what is drawn of them. */
function useTraces(view: TraceView, columns: number) {
  const described = useTagsNamed(view.names);
  const known = useMemo(() => new Map(described.map((tag) => [tag.name, tag])), [described]);
  const envelopes = useEnvelopes(view.names, columns, view.cycle);
  const data = envelopes.map((envelope) => envelope.data);
  const firstUnit = known.get(view.names[0] ?? '')?.unit ?? '';
  const traces = useMemo<Trace[]>(
    () =>
      view.names.map((tag, index) => {
        const { unit = '', stepped = false } = known.get(tag) ?? {};
        return {
          tag,
          unit,
          stepped: view.stepped.get(tag) ?? stepped,
          right: index > 0 && unit !== firstUnit,
          envelope: data[index],
        };
      }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the list is new each time, what it holds is not
    [view.names, view.stepped, known, firstUnit, ...data],
  );
  return { known, traces, failed: envelopes.find((envelope) => envelope.error)?.error };
}

export function Traces() {
  const [view, change] = useTraceView();
  const { names } = view;
  const [focus, setFocus] = useState(names[0] ?? null);
  const [hovered, setHovered] = useState<Hovered | null>(null);
  const [picked, setPicked] = useState<RawSample | null>(null);
  const { from, to } = useWindow();
  const zone = useZone();
  const { box, columns, inset, lineUp } = usePlot();
  const { known, traces, failed } = useTraces(view, columns);
  const { data: coverage } = useCoverage([...known.values()].map(({ id }) => id));
  const notes = useAnnotations(names).data?.annotations ?? NO_NOTES;
  const focused = names.includes(focus ?? '') ? focus : (names[0] ?? null);
  const focusedTag = focused === null ? undefined : known.get(focused);
  const [first, second] = view.compared ? names.map((name) => known.get(name)) : [];
  const samples = traces.reduce((sum, { envelope }) => sum + (envelope?.samples ?? 0), 0);
  const length = to - from;
  const units = new Set(traces.map(({ unit }) => unit)).size;
  // On one axis two units would share their figures without a word.
  const lanes = units > 1 && (view.lanes ?? units > 2);
  const cursors = view.cursors;
  const toggle = (label: string, pressed: boolean, title: string, onClick: () => void) => (
    <Button
      aria-pressed={pressed}
      title={title}
      className={pressed ? 'border-verdigris font-semibold' : ''}
      onClick={onClick}
    >
      {label}
    </Button>
  );
  return (
    <>
      <Page
        title="Traces"
        says={`${names.length} ${names.length === 1 ? 'tag' : 'tags'} · ${lengthWords(length)} · drawn from ${showNumber(samples)} values`}
        tools={
          <>
            <AddTag chosen={names} onAdd={(name) => change({ tags: [...names, name].join(',') })} />
            {toggle('Cursors', cursors !== null, 'Two cursors, and the figures between them', () =>
              change({
                cursors: cursors ? null : `${Math.round(from + length / 3)},${Math.round(from + (2 * length) / 3)}`,
              }),
            )}
            {units > 1 &&
              toggle('Lanes', lanes, 'A lane for each unit, one above the other', () =>
                change({ lanes: lanes ? '0' : '1' }),
              )}
            {toggle('Log', view.logarithmic, 'Logarithmic axes', () => change({ log: view.logarithmic ? null : '1' }))}
            <Button
              title="Half the window"
              aria-label="Zoom in"
              onClick={() => hold(from + length / 4, to - length / 4)}
            >
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
            {focused && <TakeAway view={view} focused={focused} window={{ from, to }} zone={zone} />}
          </>
        }
      >
        {failed && <Failure error={failed} />}
        {names.length === 0 && <Empty>No tag chosen. “Add a tag” takes up to {MOST_TAGS}.</Empty>}
        <div ref={box} className="relative flex h-[42%] min-h-52 shrink-0 flex-col">
          <TraceCanvas
            traces={traces}
            annotations={notes}
            logarithmic={view.logarithmic}
            lanes={lanes}
            from={from}
            to={to}
            zone={zone}
            onInset={lineUp}
            onHover={setHovered}
          />
          {cursors && (
            <CursorHandles
              cursors={cursors}
              from={from}
              to={to}
              zone={zone}
              inset={inset}
              onMove={(moved) => change({ cursors: moved.join(',') })}
            />
          )}
        </div>
        <div className="py-1" style={{ paddingLeft: inset.left, paddingRight: inset.right }}>
          {focusedTag && <Strip label={focusedTag.name} row={coverageOf(coverage, focusedTag)} />}
        </div>
        <PointLine hovered={hovered} hint={notesWords(notes, zone)} />
        {cursors && <CursorReadings traces={traces} cursors={cursors} zone={zone} />}
        <div className="flex flex-wrap items-center gap-2 pb-2">
          <TagChips
            traces={traces}
            lanes={lanes}
            focused={focused}
            onFocus={setFocus}
            onStepped={(tag, stepped) => change({ drawn: drawnWith(view, tag, stepped) })}
            onTakeAway={(tag) => change({ tags: names.filter((name) => name !== tag).join(',') })}
          />
          <span className="flex-1" />
          <ReadBar view={view} onChange={change} />
        </div>
        {first && second && <AgreementTable key={`${first.name} ${second.name}`} first={first} second={second} />}
        {focusedTag && !view.compared && view.read === 'processed' && (
          <ProcessedTable tag={focusedTag} view={view} onChange={change} />
        )}
        {focusedTag && !view.compared && view.read === 'raw' && (
          <RawTable tag={focusedTag} cycle={view.cycle} selected={picked?.time ?? null} onSelect={setPicked} />
        )}
        {focusedTag && !view.compared && view.read === 'at' && (
          <AtTimesTable tag={focusedTag} view={view} onChange={change} />
        )}
        {focusedTag && !view.compared && view.read === 'modified' && <ModifiedTable tag={focusedTag} />}
      </Page>
      {focusedTag && picked && view.read === 'raw' && (
        <ValueLeaf
          key={`${focusedTag.name} ${picked.time}`}
          tag={focusedTag}
          sample={picked}
          onClose={() => setPicked(null)}
        />
      )}
    </>
  );
}

/** The annotations as the chart numbers them. */
function notesWords(notes: readonly Annotation[], zone: string): string {
  return notes
    .map(
      ({ text, tag, time, writtenBy }, i) =>
        `${i + 1} ${text} (${tag}, ${stamp(Date.parse(time), zone)}, ${writtenBy})`,
    )
    .join(' · ');
}

interface ReadBarProps {
  readonly view: TraceView;
  readonly onChange: (changes: Readonly<Record<string, string | null>>) => void;
}

/** Which of the four reads, of one tag or all, once or on a cycle. */
function ReadBar({ view, onChange }: ReadBarProps) {
  return (
    <>
      {view.read === 'processed' && view.names.length > 1 && (
        <label className="flex items-center gap-1.5 text-ink-2">
          <input
            type="checkbox"
            checked={view.together}
            onChange={(event) => onChange({ together: event.target.checked ? '1' : null })}
          />
          all tags side by side
        </label>
      )}
      {view.names.length === 2 && (
        <Button aria-pressed={view.compared} onClick={() => onChange({ compare: view.compared ? null : '1' })}>
          Do the two agree?
        </Button>
      )}
      <label className="text-ink-2">
        Read{' '}
        <select
          aria-label="How often to read again"
          value={view.cycle}
          className="h-[30px] rounded-paper border border-rule bg-raised px-1 text-ink"
          onChange={(event) => onChange({ cycle: event.target.value === '0' ? null : event.target.value })}
        >
          {CYCLES.map((seconds) => (
            <option key={seconds} value={seconds}>
              {seconds === 0 ? 'once a window' : `every ${lengthWords(seconds * 1000)}`}
            </option>
          ))}
        </select>
      </label>
      <div role="group" aria-label="Table" className="flex">
        {READS.map((read) => (
          <Button
            key={read}
            aria-pressed={view.read === read}
            className={view.read === read ? 'border-verdigris font-semibold' : ''}
            onClick={() => onChange({ below: read, compare: null })}
          >
            {READ_WORDS[read]}
          </Button>
        ))}
      </div>
    </>
  );
}
