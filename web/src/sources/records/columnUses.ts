/** What each column of a record is taken for. Pure. */
import type { RowsAnswer } from '@wide-ledger/contract';

interface Terms {
  readonly time: string;
  readonly series: string;
  readonly value: string;
  readonly status: string;
  /** Of a table: by which column its rows are read on. */
  readonly progress?: string;
}

export interface ColumnUse {
  readonly name: string;
  readonly type: string;
  readonly use: string;
  readonly isUsed: boolean;
}

/** @param takers the tags that take a series, by its name. */
export function columnUses(
  columns: RowsAnswer['columns'],
  { time, series, value, status, progress = '' }: Terms,
  takers: ReadonlyMap<string, readonly string[]>,
): ColumnUse[] {
  const roles = new Map([
    [progress, 'progress'],
    [status, 'status'],
    ...(series === ''
      ? []
      : ([
          [series, 'name'],
          [value, 'value'],
        ] as const)),
    [time, 'time'],
  ]);
  roles.delete('');
  return columns.map(({ name, type }) => {
    const role = roles.get(name);
    const taken = series === '' ? takers.get(name) : undefined;
    const use = role ?? taken?.join(', ') ?? 'ignored';
    return { name, type, use, isUsed: role !== undefined || taken !== undefined };
  });
}
