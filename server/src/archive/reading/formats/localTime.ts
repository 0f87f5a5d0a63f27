import { DateTime } from 'luxon';
import type { Answer, Cell, Table } from './table.ts';

/**
 * Adds a column with the time by the clock of a zone, with its offset, after the first column of times: what a person
 * reads, beside what a program does.
 */
export function withLocalTime(answer: Answer, zone: string): Answer {
  return { ...answer, tables: answer.tables.map((table) => localTable(table, zone)) };
}

function localTable(table: Table, zone: string): Table {
  const at = table.columns.findIndex(({ kind }) => kind === 'time');
  if (at < 0) return table;
  const columns = table.columns.toSpliced(at + 1, 0, { name: `${table.columns[at]!.name} (${zone})`, kind: 'text' });
  async function* batches(): AsyncGenerator<Cell[][]> {
    for await (const rows of table.batches) {
      yield rows.map((row) => row.toSpliced(at + 1, 0, localText(row[at]!, zone)));
    }
  }
  return { ...table, columns, batches: batches() };
}

/** RFC 3339 with the offset that the zone had; microseconds kept. */
function localText(micros: Cell, zone: string): string | null {
  if (typeof micros !== 'number') return null;
  const beyond = ((micros % 1000) + 1000) % 1000;
  const moment = DateTime.fromMillis(Math.floor(micros / 1000), { zone });
  const digits = beyond === 0 ? '' : String(beyond).padStart(3, '0');
  return moment.toFormat(`yyyy-MM-dd'T'HH:mm:ss.SSS'${digits}'ZZ`);
}
