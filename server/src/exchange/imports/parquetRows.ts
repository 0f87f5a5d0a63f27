import { formatInstant, type FileCell } from '@wide-ledger/core';
import { asyncBufferFromFile, parquetMetadataAsync, parquetReadObjects } from 'hyparquet';
import { compressors } from 'hyparquet-compressors';

const ROWS_AT_ONCE = 20_000;

/** Times as whole microseconds, so that none is lost on the way; what is finer is cut off. */
const PARSERS = {
  timestampFromMilliseconds: (millis: bigint) => new Micros(millis * 1000n),
  timestampFromMicroseconds: (micros: bigint) => new Micros(micros),
  timestampFromNanoseconds: (nanos: bigint) => new Micros(nanos / 1000n),
  dateFromDays: (days: number) => new Micros(BigInt(days) * 86_400_000_000n),
};

/** A time as the file holds it: whether it is an instant or a clock's, its column says. */
class Micros {
  readonly text: string;
  constructor(micros: bigint) {
    this.text = formatInstant(Number(micros));
  }
}

/** Rows of a Parquet file. An instant is a time with its offset; a time that is no instant is a clock's, without one. */
export async function* parquetRows(path: string): AsyncGenerator<FileCell[]> {
  const file = await asyncBufferFromFile(path);
  const metadata = await parquetMetadataAsync(file);
  const leaves = metadata.schema.filter(({ num_children }) => !num_children);
  const names = leaves.map(({ name }) => name);
  yield names;
  const local = leaves.map(({ logical_type: type }) => type?.type === 'TIMESTAMP' && !type.isAdjustedToUTC);
  const cellOf = (value: unknown, i: number): FileCell => {
    if (!(value instanceof Micros)) return (value ?? null) as FileCell;
    return local[i] ? value.text.replace('Z', '') : value.text;
  };
  const count = Number(metadata.num_rows);
  for (let rowStart = 0; rowStart < count; rowStart += ROWS_AT_ONCE) {
    const rowEnd = Math.min(count, rowStart + ROWS_AT_ONCE);
    const rows = await parquetReadObjects({
      file,
      metadata,
      compressors,
      rowStart,
      rowEnd,
      parsers: PARSERS,
    });
    for (const row of rows) yield names.map((name, i) => cellOf(row[name], i));
  }
}
