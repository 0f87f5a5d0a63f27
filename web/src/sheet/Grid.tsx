/** The grid itself: editing by keyboard, filling down, copying out and pasting in; only what is seen is drawn. */
import { useLayoutEffect, useMemo, useRef } from 'react';
import { DynamicDataSheetGrid, type Column, type DataSheetGridRef } from 'react-datasheet-grid';
import 'react-datasheet-grid/dist/style.css';
import { Cell, SCROLLED, withText, type CellData, type GridRow } from './Cell.tsx';
import type { SheetColumn } from './columns.ts';

interface Props {
  readonly rows: readonly GridRow[];
  readonly columns: readonly SheetColumn[];
  /** Ids of lists of what may stand in a column. */
  readonly offered: (column: SheetColumn) => string | undefined;
  /** How a cell looks that is different from others. */
  readonly look: (id: number, key: string) => string | undefined;
  readonly height: number;
  readonly onRows: (changed: readonly GridRow[]) => void;
  readonly onActive: (at: { readonly id: number; readonly key: string } | null) => void;
  readonly onNew: () => GridRow;
}

const scrolledIn = (around: HTMLElement | null): HTMLElement | null =>
  around?.querySelector<HTMLElement>(SCROLLED) ?? null;

const ROW = 30;
const WIDTHS: Readonly<Record<string, number>> = { name: 170, description: 240, place: 230, source: 170 };

export function Grid({ rows, columns, offered, look, height, onRows, onActive, onNew }: Props) {
  const grid = useRef<DataSheetGridRef>(null);
  const around = useRef<HTMLDivElement>(null);
  const drawn = useMemo(
    () =>
      columns.map((column): Partial<Column<GridRow, CellData, string>> => ({
        id: column.key,
        title: <span title={column.title}>{column.title}</span>,
        basis: WIDTHS[column.key] ?? 130,
        grow: 0,
        shrink: 0,
        minWidth: 80,
        component: Cell,
        columnData: { column, offered: offered(column) },
        copyValue: ({ rowData }) => rowData.cells[column.key] ?? '',
        pasteValue: ({ rowData, value }) => withText(rowData, column.key, value.trim()),
        deleteValue: ({ rowData }) => withText(rowData, column.key, ''),
        isCellEmpty: ({ rowData }) => (rowData.cells[column.key] ?? '') === '',
      })),
    [columns, offered],
  );
  // The library leaves it to the page who may come to its cells, and by what name.
  useLayoutEffect(() => {
    const scrolled = scrolledIn(around.current);
    if (!scrolled) return;
    scrolled.tabIndex = 0;
    scrolled.setAttribute('role', 'group');
    scrolled.setAttribute('aria-label', 'Cells');
  }, []);
  const fillDown = (): void => {
    const selection = grid.current?.selection;
    if (!selection) return;
    const { min, max } = selection;
    const first = rows[min.row];
    if (!first || max.row === min.row) return;
    const filled = rows
      .slice(min.row + 1, max.row + 1)
      .map((row) =>
        columns.slice(min.col, max.col + 1).reduce((next, { key }) => withText(next, key, first.cells[key] ?? ''), row),
      );
    onRows(filled);
  };
  return (
    <div
      ref={around}
      data-own-keys
      className="tag-sheet min-h-0 flex-1"
      // Whoever comes by Tab begins at the first cell.
      onFocus={({ target, currentTarget }) => {
        if (target === scrolledIn(currentTarget) && !grid.current?.activeCell && rows.length > 0)
          grid.current?.setActiveCell({ col: 0, row: 0 });
      }}
      onKeyDownCapture={(event) => {
        if (event.key !== 'd' || !(event.ctrlKey || event.metaKey)) return;
        event.preventDefault();
        // To the library it means another row.
        event.stopPropagation();
        fillDown();
      }}
    >
      <DynamicDataSheetGrid<GridRow>
        ref={grid}
        value={rows as GridRow[]}
        columns={drawn}
        height={height}
        rowHeight={ROW}
        headerRowHeight={ROW}
        rowKey={({ rowData }) => String(rowData.id)}
        createRow={onNew}
        addRowsComponent={false}
        disableContextMenu
        cellClassName={({ rowData, columnId }) => look((rowData as GridRow).id, columnId ?? '')}
        onActiveCellChange={({ cell }) => {
          if (cell && !around.current?.contains(document.activeElement))
            scrolledIn(around.current)?.focus({ preventScroll: true });
          onActive(cell && rows[cell.row] ? { id: rows[cell.row]!.id, key: columns[cell.col]?.key ?? '' } : null);
        }}
        onChange={(next, operations) => {
          const changed = operations.flatMap(({ type, fromRowIndex, toRowIndex }) =>
            // A tag is retired at its leaf, where it is seen what that means.
            type === 'DELETE'
              ? []
              : next.slice(fromRowIndex, toRowIndex).filter((row, i) => row !== rows[fromRowIndex + i]),
          );
          if (changed.length > 0) onRows(changed);
        }}
      />
    </div>
  );
}
