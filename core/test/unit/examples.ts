/** The example data sets of OPC 10000-13, Annex A, from memory; times as mm:ss after 12:00 on 2002-01-01. */
import { seriesOf, Status, type AggregateConfiguration, type Series } from '../../src/index.ts';

const NOON = Date.UTC(2002, 0, 1, 12) * 1000;

/** `m:ss` or `ss` after 12:00:00, in microseconds. */
export function clock(text: string): number {
  const parts = text.split(':').map(Number);
  return NOON + parts.reduce((sum, part) => sum * 60 + part, 0) * 1_000_000;
}

const { Good: G, Bad: B, Uncertain: U } = Status;

function series(rows: [string, number, number][]): Series {
  return seriesOf({
    times: Float64Array.from(rows, ([time]) => clock(time)),
    values: Float64Array.from(rows, ([, value]) => value),
    status: Uint32Array.from(rows, ([, , status]) => status),
  });
}

export const HISTORIAN_1 = series([
  ['0:10', 10, G],
  ['0:20', 20, G],
  ['0:30', 30, G],
  ['0:40', 40, B],
  ['0:50', 50, G],
  ['1:00', 60, G],
  ['1:10', 70, U],
  ['1:20', 80, G],
  ['1:30', 90, G],
]);

/** The times that data set 1's three annotations are about. */
export const ANNOTATIONS_1 = Float64Array.of(clock('0:40'), clock('0:50'), clock('1:10'));

export const HISTORIAN_2 = series([
  ['0:02', 10, G],
  ['0:25', 20, G],
  ['0:28', 25, G],
  ['0:39', 30, G],
  ['0:42', NaN, B],
  ['0:48', 40, G],
  ['0:52', 50, G],
  ['1:12', 60, G],
  ['1:17', 70, U],
  ['1:23', 70, G],
  ['1:26', 80, G],
  ['1:30', 90, G],
]);

export const CONFIGURATION_1: AggregateConfiguration = {
  treatUncertainAsBad: false,
  percentDataBad: 100,
  percentDataGood: 100,
  useSlopedExtrapolation: false,
  stepped: false,
};

export const CONFIGURATION_3: AggregateConfiguration = {
  treatUncertainAsBad: true,
  percentDataBad: 50,
  percentDataGood: 50,
  useSlopedExtrapolation: false,
  stepped: true,
};
