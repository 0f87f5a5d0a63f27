/** A cell of the sheet: its text, and an input in its place while it is edited. */
import { useLayoutEffect, useRef, useState } from 'react';
import type { CellProps } from 'react-datasheet-grid';
import type { SheetColumn } from './columns.ts';

/** A row as the grid holds it: texts by keys, and whose they are. */
export interface GridRow {
  readonly id: number;
  readonly cells: Readonly<Record<string, string>>;
}

export interface CellData {
  readonly column: SheetColumn;
  /** What may stand there, for who picks it. */
  readonly offered: string | undefined;
}

export const withText = (row: GridRow, key: string, text: string): GridRow =>
  row.cells[key] === text ? row : { ...row, cells: { ...row.cells, [key]: text } };

export function Cell({ rowData, focus, columnData, setRowData }: CellProps<GridRow, CellData>) {
  const { column, offered } = columnData;
  const text = rowData.cells[column.key] ?? '';
  const numeric = column.holds === 'number';
  if (!focus)
    return (
      <span className={`figure w-full truncate px-2 ${numeric ? 'text-right' : ''}`} title={text}>
        {text}
      </span>
    );
  return (
    <CellInput
      label={`${column.title} of ${rowData.cells.name ?? 'a new tag'}`}
      text={text}
      numeric={numeric}
      offered={offered}
      onText={(next) => setRowData(withText(rowData, column.key, next))}
    />
  );
}

interface InputProps {
  readonly label: string;
  readonly text: string;
  readonly numeric: boolean;
  readonly offered: string | undefined;
  readonly onText: (text: string) => void;
}

/** What scrolls, and takes keys while a cell is chosen: they are the sheet's own, not those of the screens. */
export const SCROLLED = '.dsg-container';

/** Ends with what was typed, however it ends; Escape takes it back. */
function CellInput({ label, text, numeric, offered, onText }: InputProps) {
  const [typed, setTyped] = useState(text);
  const input = useRef<HTMLInputElement>(null);
  const now = useRef({ typed, onText, left: false });
  now.current = { ...now.current, typed, onText };
  useLayoutEffect(() => {
    const state = now;
    const around = input.current?.closest<HTMLElement>(SCROLLED);
    input.current?.focus();
    input.current?.select();
    return () => {
      around?.focus({ preventScroll: true });
      const { typed: last, onText: end, left } = state.current;
      if (!left && last !== text) end(last);
    };
  }, [text]);
  return (
    <input
      ref={input}
      aria-label={label}
      list={offered}
      inputMode={numeric ? 'decimal' : undefined}
      className={`figure h-full w-full bg-paper px-2 outline-none ${numeric ? 'text-right' : ''}`}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Escape') now.current.left = true;
      }}
    />
  );
}
