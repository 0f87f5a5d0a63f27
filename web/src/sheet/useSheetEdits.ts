/** What is typed into the sheet on its way into the draft; what cannot stand there stays with why, until it is mended. */
import type { DraftChange } from '@wide-ledger/contract';
import { useEffect, useRef, useState } from 'react';
import { useEdit, type Standing } from '../configuration/drafting.ts';
import type { GridRow } from './Cell.tsx';
import { cellsOf, fieldsThatDiffer, troublesOf, withCells, type CellTrouble, type References } from './cells.ts';
import type { SheetColumn } from './columns.ts';
import type { SheetRow } from './rows.ts';

/** A row with what was typed and is not in the draft yet. */
export interface Pending {
  readonly texts: Readonly<Record<string, string>>;
  readonly troubles: readonly CellTrouble[];
  /** Whether the server has answered: it stands in the draft, and comes with the rows that are asked anew. */
  readonly answered: boolean;
}

interface Sheet {
  /** As they were made last. */
  readonly rows: readonly SheetRow[];
  readonly standings: ReadonlyMap<number, Standing>;
  readonly columns: readonly SheetColumn[];
  readonly references: References | undefined;
}

export interface SheetEdits {
  /** By the numbers of tags; those of new ones are below zero. */
  readonly pending: ReadonlyMap<number, Pending>;
  readonly edit: (rows: readonly GridRow[]) => void;
  /** Begins a row of a tag that is not there yet. */
  readonly begin: () => GridRow;
  readonly forget: (id: number) => void;
  readonly error: Error | null;
}

export function useSheetEdits({ rows: made, standings, columns, references }: Sheet): SheetEdits {
  const send = useEdit();
  const [pending, setPending] = useState<ReadonlyMap<number, Pending>>(new Map());
  const begun = useRef(0);
  useEffect(() => {
    setPending((before) => new Map([...before].filter(([, { answered }]) => !answered)));
  }, [made]);
  const answered = (ids: ReadonlySet<number>): void =>
    setPending(
      (before) =>
        new Map(
          [...before].map(([id, one]) => [
            id,
            ids.has(id) && one.troubles.length === 0 ? { ...one, answered: true } : one,
          ]),
        ),
    );

  const edit = (rows: readonly GridRow[]): void => {
    if (!references) return;
    const next = new Map(pending);
    const changes: DraftChange[] = [];
    for (const { id, cells } of rows) {
      const before = standings.get(id)?.body ?? {};
      const texts = columns.flatMap((column) => {
        const text = cells[column.key];
        return text === undefined ? [] : [[column, text] as const];
      });
      const { body, troubles } = withCells(before, texts, references);
      const isNew = id < 0;
      const missing = isNew && troubles.length === 0 ? troublesOf(body, references) : [];
      const all = [...troubles, ...missing];
      const kept = cellsOf(body, columns, references);
      const wrong = new Set(all.map(({ key }) => key));
      next.set(id, {
        texts: Object.fromEntries(texts.map(([{ key }, text]) => [key, wrong.has(key) || isNew ? text : kept[key]!])),
        troubles: all,
        answered: false,
      });
      if (isNew && all.length === 0) changes.push({ kind: 'tag', create: body });
      const set = fieldsThatDiffer(before, body);
      if (!isNew && Object.keys(set).length > 0) changes.push({ kind: 'tag', id, set });
    }
    setPending(next);
    const ids = new Set(rows.map(({ id }) => id));
    if (changes.length === 0) answered(ids);
    // What went wrong is told by the error that the edit has.
    else
      send.mutateAsync(changes).then(
        () => answered(ids),
        () => undefined,
      );
  };
  return {
    pending,
    edit,
    begin: () => ({ id: --begun.current, cells: {} }),
    forget: (id) => setPending((before) => new Map([...before].filter(([one]) => one !== id))),
    error: send.error,
  };
}

/** Rows with what was typed over them; those that are new come first, where they are seen. */
export function withPending(rows: readonly SheetRow[], pending: ReadonlyMap<number, Pending>): GridRow[] {
  const shown = rows.map(({ id, cells }): GridRow => {
    const typed = pending.get(id);
    return { id, cells: typed ? { ...cells, ...typed.texts } : cells };
  });
  const fresh = [...pending].filter(([id]) => id < 0).map(([id, { texts }]) => ({ id, cells: texts }));
  return [...fresh, ...shown];
}
