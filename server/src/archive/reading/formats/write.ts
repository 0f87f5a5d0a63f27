/** An answer in the format that was asked for. */
import type { Format } from '@wide-ledger/contract';
import { writeCsv } from './csv.ts';
import { writeJson } from './json.ts';
import { writeParquet } from './parquet.ts';
import type { Answer, Chunk } from './table.ts';
import { writeXlsx } from './xlsx.ts';

const WRITERS: Record<Format, (answer: Answer) => AsyncGenerator<Chunk>> = {
  json: writeJson,
  csv: writeCsv,
  xlsx: writeXlsx,
  parquet: writeParquet,
};

/** An answer in a file format, as a stream of bytes or texts that holds little in memory. */
export const writeAnswer = (answer: Answer, format: Format): AsyncGenerator<Chunk> => WRITERS[format](answer);

export const MEDIA_TYPES: Record<Format | 'pdf', string> = {
  json: 'application/json',
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  parquet: 'application/vnd.apache.parquet',
  pdf: 'application/pdf',
};
