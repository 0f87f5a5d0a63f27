import type { Burst } from '@wide-ledger/contract';
import { Status, type Columns } from '@wide-ledger/core';

/** What was read in a burst as samples: where there was no value it is Bad. */
export function burstColumns({ startedAt, times, values }: Burst): Columns {
  const begun = Date.parse(startedAt);
  return {
    times: Float64Array.from(times, (time) => (begun + time) * 1000),
    values: Float64Array.from(values, (value) => value ?? NaN),
    status: Uint32Array.from(values, (value) => (value === null ? Status.BadNoData : Status.Good)),
  };
}
