import type { CellTrouble } from './cells.ts';
import { titleIn, type SheetColumn } from './columns.ts';

interface Props {
  readonly troubles: readonly CellTrouble[];
  readonly columns: readonly SheetColumn[];
}

/** What cannot stand in which cell of a row. */
export const Troubles = ({ troubles, columns }: Props) =>
  troubles.map(({ key, sentence }) => (
    <span key={key + sentence} className="block text-madder">
      {titleIn(columns, key)}: {sentence}
    </span>
  ));
