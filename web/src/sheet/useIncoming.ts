import { useEffect, useState } from 'react';
import type { Standing } from '../configuration/drafting.ts';
import type { References } from './cells.ts';
import type { SheetColumn } from './columns.ts';
import { IncomingReader, type Incoming, type TextRow } from './incoming.ts';

/** Rows that are looked at in one go: others have their turn between. */
const SLICE = 250;

/** What rows would do; null while they are looked at. @param columns has to be the same as long as it says the same */
export function useIncoming(
  rows: readonly TextRow[],
  columns: readonly (SheetColumn | null)[],
  standings: readonly Standing[],
  references: References,
): Incoming | null {
  const [incoming, setIncoming] = useState<Incoming | null>(null);
  useEffect(() => {
    setIncoming(null);
    const reader = new IncomingReader(rows, columns, standings, references);
    let timer: ReturnType<typeof setTimeout>;
    const look = (): void => {
      if (reader.look(SLICE)) timer = setTimeout(look);
      else setIncoming(reader.result);
    };
    timer = setTimeout(look);
    return () => clearTimeout(timer);
  }, [rows, columns, standings, references]);
  return incoming;
}
