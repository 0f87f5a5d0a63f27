import { ByteWriter, ParquetWriter, schemaFromColumnData, type BasicType } from 'hyparquet-writer';
import type { Answer, Cell, Chunk, Column } from './table.ts';

/** Rows of one row group: what is held in memory at a time. */
const GROUP_ROWS = 131_072;

/** Apache Parquet: times as TIMESTAMP in microseconds UTC; a table of mixed types keeps its values as text. */
export async function* writeParquet({ tables }: Answer): AsyncGenerator<Chunk> {
  const { columns } = tables[0]!;
  const writer = new ByteWriter();
  let parquet: ParquetWriter | null = null;
  let kinds: BasicType[] = [];
  let group: (readonly Cell[])[] = [];
  const write = async (): Promise<Uint8Array> => {
    parquet ??= open(writer, columns, (kinds = columns.map((column, i) => typeOf(column, group, i))));
    const columnData = columns.map(({ name }, i) => ({ name, data: columnOf(kinds[i]!, group, i), nullable: true }));
    await parquet.write({ columnData, rowGroupSize: GROUP_ROWS });
    group = [];
    return take(writer);
  };
  for (const { batches } of tables) {
    for await (const rows of batches) {
      for (const row of rows) group.push(row);
      while (group.length >= GROUP_ROWS) {
        const rest = group.splice(GROUP_ROWS);
        yield await write();
        group = rest;
      }
    }
  }
  if (group.length > 0 || parquet === null) yield await write();
  await parquet!.finish();
  yield take(writer);
}

function open(writer: ByteWriter, columns: readonly Column[], types: readonly BasicType[]): ParquetWriter {
  const schema = schemaFromColumnData({
    columnData: columns.map(({ name }, i) => ({ name, data: [], type: types[i]!, nullable: true })),
  });
  for (const element of schema) {
    if (columns.some(({ name, kind }) => kind === 'time' && name === element.name)) {
      element.converted_type = 'TIMESTAMP_MICROS';
      element.logical_type = { type: 'TIMESTAMP', isAdjustedToUTC: true, unit: 'MICROS' };
    }
  }
  return new ParquetWriter({ writer, schema, createdBy: 'Wide Ledger' });
}

/** The type of a column, by its kind and, for values, by what the first group holds. */
function typeOf({ kind }: Column, rows: readonly (readonly Cell[])[], index: number): BasicType {
  if (kind === 'time') return 'INT64';
  if (kind === 'text') return 'STRING';
  if (kind === 'number') return 'DOUBLE';
  const types = new Set(rows.map((row) => typeof row[index]).filter((type) => type !== 'object'));
  if (types.size > 1 || types.has('string')) return 'STRING';
  return types.has('boolean') ? 'BOOLEAN' : 'DOUBLE';
}

function columnOf(type: BasicType, rows: readonly (readonly Cell[])[], index: number): unknown[] {
  return rows.map((row) => {
    const cell = row[index]!;
    if (cell === null) return null;
    if (type === 'INT64') return BigInt(cell);
    return type === 'STRING' ? String(cell) : type === 'DOUBLE' ? Number(cell) : cell;
  });
}

/** What was written since the last time; the writer goes on counting its offset. */
function take(writer: ByteWriter): Uint8Array {
  const bytes = writer.getBytes().slice();
  writer.index = 0;
  return bytes;
}
