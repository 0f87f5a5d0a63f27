import { ByteWriter, ParquetWriter, schemaFromColumnData, type BasicType } from 'hyparquet-writer';
import type { Answer, Cell, Chunk, Column } from './table.ts';

/** Rows of one row group: what is held in memory at a time. */
const GROUP_ROWS = 131_072;

/**
 * Apache Parquet: times as TIMESTAMP in microseconds UTC; values by the types of their tags, whatever the first rows
 * hold; a table of tags of several types keeps its values as text.
 */
export async function* writeParquet({ tables }: Answer): AsyncGenerator<Chunk> {
  const { columns } = tables[0]!;
  const writer = new ByteWriter();
  let parquet: ParquetWriter | null = null;
  const kinds = columns.map(typeOf);
  let group: (readonly Cell[])[] = [];
  const write = async (): Promise<Uint8Array> => {
    parquet ??= open(writer, columns, kinds);
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

const TYPES = { real: 'DOUBLE', integer: 'INT64', boolean: 'BOOLEAN', text: 'STRING', state: 'STRING' } as const;

/** The type of a column, by its kind and, for values, by the types of its tags. */
function typeOf({ kind, types = [] }: Column): BasicType {
  if (kind === 'time' || kind === 'status') return 'INT64';
  if (kind === 'text' || kind === 'json') return 'STRING';
  if (kind === 'number') return 'DOUBLE';
  const [type, ...others] = new Set(types.map((one) => TYPES[one]));
  return type !== undefined && others.length === 0 ? type : 'STRING';
}

function columnOf(type: BasicType, rows: readonly (readonly Cell[])[], index: number): unknown[] {
  return rows.map((row) => {
    const cell = row[index]!;
    if (cell === null) return null;
    switch (type) {
      case 'INT64':
        return wholeCell(cell);
      case 'DOUBLE':
        return Number(cell);
      case 'STRING':
        return Object.is(cell, -0) ? '-0' : String(cell);
      default:
        return cell;
    }
  });
}

/** @throws RangeError for a fraction, which an earlier version let into tags of whole numbers. */
function wholeCell(cell: Exclude<Cell, null>): bigint {
  if (typeof cell === 'number' && !Number.isInteger(cell)) {
    throw new RangeError(
      `A tag of whole numbers holds ${cell}, which Parquet's INT64 cannot. Correct it, or take CSV.`,
    );
  }
  return BigInt(cell);
}

/** What was written since the last time; the writer goes on counting its offset. */
function take(writer: ByteWriter): Uint8Array {
  const bytes = writer.getBytes().slice();
  writer.index = 0;
  return bytes;
}
