import { Button } from '../controls/Button.tsx';
import type { SheetColumn } from './columns.ts';
import type { SheetRow } from './rows.ts';
import { handOver, textOfRows, workbookOfRows } from './table.ts';

interface Props {
  /** Those that are shown. */
  readonly rows: readonly SheetRow[];
  /** All that there are: what is taken out comes back as it was. */
  readonly columns: readonly SheetColumn[];
}

/** The rows that are shown as a file, with every column that any of them fills. */
export function TakeOut({ rows, columns }: Props) {
  const table = () => {
    const filled = columns.filter(({ key }) => key === 'name' || rows.some(({ cells }) => (cells[key] ?? '') !== ''));
    return {
      head: filled.map(({ title }) => title),
      texts: rows.map(({ cells }) => filled.map(({ key }) => cells[key] ?? '')),
      numeric: filled.map(({ holds }) => holds === 'number'),
    };
  };
  const csv = (): void => {
    const { head, texts } = table();
    handOver('tags.csv', new Blob([textOfRows([head, ...texts])], { type: 'text/csv' }));
  };
  const workbook = async (): Promise<void> => {
    const { head, texts, numeric } = table();
    handOver('tags.xlsx', await workbookOfRows(head, texts, numeric));
  };
  return (
    <span className="flex">
      <Button className="rounded-r-none" disabled={rows.length === 0} onClick={csv}>
        CSV
      </Button>
      <Button className="rounded-l-none border-l-0" disabled={rows.length === 0} onClick={() => void workbook()}>
        XLSX
      </Button>
    </span>
  );
}
