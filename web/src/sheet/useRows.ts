import { useEffect, useMemo, useState } from 'react';
import type { Standing } from '../configuration/drafting.ts';
import type { References } from './cells.ts';
import type { SheetColumn } from './columns.ts';
import { rowOf, type SheetRow } from './rows.ts';

/** Rows that are made in one go: others have their turn between. */
const SLICE = 500;

/** Tags as rows; those that did not change are not made again. @returns null until all are made for the first time */
export function useRows(
  standings: readonly Standing[],
  columns: readonly SheetColumn[],
  references: References | undefined,
): readonly SheetRow[] | null {
  // Another set of columns, or names that changed, are other rows.
  const made = useMemo(() => {
    void columns;
    void references;
    return new WeakMap<Standing, SheetRow>();
  }, [columns, references]);
  const [turn, setTurn] = useState(0);
  const missing = useMemo(() => {
    void turn;
    return standings.filter((standing) => !made.has(standing)).length;
  }, [standings, made, turn]);
  useEffect(() => {
    if (missing === 0 || !references) return;
    const timer = setTimeout(() => {
      let left = SLICE;
      for (const standing of standings) {
        if (left === 0) break;
        if (made.has(standing)) continue;
        made.set(standing, rowOf(standing, columns, references));
        left--;
      }
      setTurn((before) => before + 1);
    });
    return () => clearTimeout(timer);
  }, [missing, standings, columns, references, made, turn]);
  const whole = missing === 0 && references !== undefined;
  const rows = useMemo(
    () => (whole ? standings.map((standing) => made.get(standing)!) : null),
    [whole, standings, made],
  );
  const [last, setLast] = useState<readonly SheetRow[] | null>(null);
  useEffect(() => {
    if (rows) setLast(rows);
  }, [rows]);
  return rows ?? last;
}
