/** The tag sheet: every field of many tags, edited in place. All of it goes into the draft; what is in force stays until then. */
import { useDraftSteps, useOwnDraft, useStandings } from '../configuration/drafting.ts';
import { useDeferredValue, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { Button } from '../controls/Button.tsx';
import { FilterField } from '../controls/FilterField.tsx';
import { Page } from '../controls/Page.tsx';
import { Failure, Skeleton } from '../controls/States.tsx';
import { useHeight } from '../controls/useWidth.ts';
import { showNumber } from '../controls/values.ts';
import { Arrange } from './Arrange.tsx';
import { BringIn } from './BringIn.tsx';
import { FIRST, sheetColumns, titleIn, type SheetColumn } from './columns.ts';
import { FamiliesLeaf } from './FamiliesLeaf.tsx';
import { Grid } from './Grid.tsx';
import { isHead, type TextRow } from './incoming.ts';
import { arranged, isThere, type Arrangement, type SheetRow } from './rows.ts';
import { NamesLeaf } from './NamesLeaf.tsx';
import { TakeOut } from './TakeOut.tsx';
import { tableIn } from './table.ts';
import { useReferences, type KnownReferences } from './useReferences.ts';
import { useRows } from './useRows.ts';
import { useSheetEdits, withPending } from './useSheetEdits.ts';

const USUAL: Arrangement = { columns: FIRST, words: '', sort: null };
const NO_ROWS: readonly SheetRow[] = [];
const NO_COLUMNS: readonly SheetColumn[] = [];

export function Sheet() {
  const { standings: tags, error } = useStandings('tag');
  const references = useReferences(tags);
  const draft = useOwnDraft();
  const { undo, redo } = useDraftSteps(draft);
  const [arrangement, setArrangement] = useState(USUAL);
  const words = useDeferredValue(arrangement.words);
  const [beside, setBeside] = useState<'families' | 'names' | null>(null);
  const [incoming, setIncoming] = useState<readonly TextRow[] | null>(null);
  const [active, setActive] = useState<{ readonly id: number; readonly key: string } | null>(null);
  const columns = useMemo(() => (references ? sheetColumns(references.sourceKinds) : NO_COLUMNS), [references]);
  const there = useMemo(() => tags.filter(isThere), [tags]);
  const standings = useMemo(() => new Map(there.map((standing) => [standing.id, standing])), [there]);
  const made = useRows(there, columns, references);
  const rows = made ?? NO_ROWS;
  const found = useMemo(() => arranged(rows, { ...arrangement, words }), [rows, arrangement, words]);
  const edits = useSheetEdits({ rows, standings, columns, references });
  const shown = useMemo(() => withPending(found, edits.pending), [found, edits.pending]);
  const chosen = useMemo(
    () => arrangement.columns.flatMap((key) => columns.find((column) => column.key === key) ?? []),
    [arrangement.columns, columns],
  );
  const byId = useMemo(() => new Map(rows.map((row) => [row.id, row])), [rows]);
  const box = useRef<HTMLDivElement>(null);
  const height = useHeight(box, 400);
  const troubles = [...edits.pending].flatMap(([id, pending]) =>
    pending.troubles.map((trouble) => ({ id, name: pending.texts.name ?? byId.get(id)?.cells.name ?? '', ...trouble })),
  );
  const look = (id: number, key: string): string | undefined => {
    if (edits.pending.get(id)?.troubles.some((trouble) => trouble.key === key)) return 'sheet-wrong';
    const row = byId.get(id);
    // A row that is new is marked at its number.
    if (row?.life === 'new in draft') return key === '' ? 'sheet-drafted' : undefined;
    return row?.inForce && row.inForce[key] !== row.cells[key] ? 'sheet-drafted' : undefined;
  };
  const titleOf = (key: string): string => titleIn(columns, key);
  return (
    <>
      <Page
        title="Tag sheet"
        says={
          made !== null && `${showNumber(found.length)} of ${showNumber(rows.length)} tags. Changes go into your draft.`
        }
        tools={
          <>
            <FilterField
              label="Filter by any field"
              hint="any field…"
              width="w-40"
              words={arrangement.words}
              onWords={(next) => setArrangement({ ...arrangement, words: next })}
            />
            <Arrange columns={columns} arrangement={arrangement} onArrangement={setArrangement} />
            <TakeOut rows={found} columns={columns} />
            <Button onClick={() => setIncoming([])}>Bring in rows</Button>
            <Button onClick={() => setBeside('families')}>Families</Button>
            <Button onClick={() => setBeside('names')}>Names</Button>
            <Button onClick={() => edits.edit([edits.begin()])}>New row</Button>
          </>
        }
      >
        {(error ?? edits.error) && <Failure error={(error ?? edits.error)!} />}
        {!made && !error && <Skeleton rows={16} />}
        <div
          ref={box}
          role="region"
          aria-label="Tag sheet"
          className="min-h-0 flex-1 overflow-hidden"
          onPasteCapture={(event) => {
            const pasted = tableIn(event.clipboardData.getData('text/plain')) ?? [];
            // What has no head belongs where it is pasted.
            if (pasted.length < 2 || !isHead(pasted[0]!, columns)) return;
            event.preventDefault();
            event.stopPropagation();
            setIncoming(pasted);
          }}
          onKeyDownCapture={(event) => {
            const step = stepFor(event);
            if (!step || event.target instanceof HTMLInputElement) return;
            event.preventDefault();
            if (step === 'redo') redo.mutate();
            else if (draft) undo.mutate();
          }}
        >
          {made && (
            <Grid
              rows={shown}
              columns={chosen}
              offered={offeredIn}
              look={look}
              height={height}
              onRows={edits.edit}
              onActive={setActive}
              onNew={edits.begin}
            />
          )}
        </div>
        {references && <Offers columns={columns} references={references} />}
        {troubles.length > 0 && (
          <ul
            aria-label="What cannot stand in its cell"
            className="max-h-24 shrink-0 overflow-y-auto border-t border-madder"
          >
            {troubles.map(({ id, name, key, sentence }) => (
              <li key={`${id} ${key} ${sentence}`} className="flex gap-2 py-0.5">
                <span className="figure">{name || 'a new row'}</span>
                <span className="text-ink-2">{titleOf(key)}</span>
                <span className="min-w-0 flex-1 truncate text-madder">{sentence}</span>
                <button className="px-1 text-ink-2 underline hover:text-ink" onClick={() => edits.forget(id)}>
                  forget
                </button>
              </li>
            ))}
          </ul>
        )}
        <p role="status" className="h-7 shrink-0 truncate pt-1 text-ink-2">
          {active ? <CellWords at={active} title={titleOf(active.key)} row={byId.get(active.id)} /> : KEYS}
        </p>
      </Page>
      {beside === 'families' && !incoming && references && (
        <FamiliesLeaf standings={there} columns={columns} references={references} onClose={() => setBeside(null)} />
      )}
      {beside === 'names' && !incoming && <NamesLeaf standings={there} onClose={() => setBeside(null)} />}
      {incoming && references && (
        <BringIn
          rows={incoming}
          columns={columns}
          standings={there}
          references={references}
          onRows={setIncoming}
          onClose={() => setIncoming(null)}
        />
      )}
    </>
  );
}

const KEYS =
  'Enter edits, Ctrl+D fills down, Ctrl+C and Ctrl+V copy and paste, Ctrl+Z takes the last edit back, Ctrl+Y makes it again.';

/** Which way through the draft's edits keys lead, as they do everywhere. */
function stepFor({ key, ctrlKey, metaKey, shiftKey }: KeyboardEvent): 'undo' | 'redo' | null {
  if (!ctrlKey && !metaKey) return null;
  const letter = key.toLowerCase();
  if (letter === 'y' || (letter === 'z' && shiftKey)) return 'redo';
  return letter === 'z' ? 'undo' : null;
}

interface CellWordsProps {
  readonly at: { readonly key: string };
  readonly title: string;
  readonly row: SheetRow | undefined;
}

/** The cell that is looked at, in words, with what is in force where that is something else. */
function CellWords({ at, title, row }: CellWordsProps) {
  if (!row) return <>a new row: {title}</>;
  const [now, was] = [row.cells[at.key] ?? '', row.inForce?.[at.key]];
  return (
    <>
      <span className="figure">{row.cells.name}</span>, {title}: <span className="figure">{now || 'none'}</span>
      {was !== undefined && was !== now && (
        <span className="text-ochre"> in the draft; in force: {was === '' ? 'none' : was}</span>
      )}
      {row.life === 'new in draft' && <span className="text-ochre"> new in the draft</span>}
    </>
  );
}

const offeredIn = ({ key, holds }: SheetColumn): string | undefined =>
  holds === 'reference' || holds === 'choice' || holds === 'yes or no'
    ? `offered ${key}`.replaceAll(' ', '-')
    : undefined;

/** What may stand in columns that do not take everything. */
function Offers({
  columns,
  references,
}: {
  readonly columns: readonly SheetColumn[];
  readonly references: KnownReferences;
}) {
  return columns.map((column) => {
    const id = offeredIn(column);
    if (!id) return null;
    const texts =
      column.holds === 'reference'
        ? references.namesOf(column.refersTo!)
        : column.holds === 'choice'
          ? column.choices
          : ['yes', 'no'];
    return (
      <datalist key={id} id={id}>
        {texts.map((text) => (
          <option key={text} value={text} />
        ))}
      </datalist>
    );
  });
}
