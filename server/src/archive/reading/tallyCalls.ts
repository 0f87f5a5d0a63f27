import { talliesAnswer, talliesQuery, type TalliesAnswer } from '@wide-ledger/contract';
import { cellsIn, formatInstant } from '@wide-ledger/core';
import { findTag, type Catalogue } from '../../configuration/index.ts';
import { Calls, badRequest, forwardWindow } from '../../ground/index.ts';
import { visitorOf } from '../../people/index.ts';
import type { ReadingPool } from './pool.ts';
import { talliesOf } from './talliesOf.ts';

/** Cells in one answer: eleven years of hours. */
const MOST_CELLS = 100_000;

/** What tags hold, in sums that two stores can compare. */
export function tallyCalls(catalogue: Catalogue, pool: ReadingPool): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'get',
      path: '/tallies',
      needs: 'read',
      says: 'What a tag holds month by month, day by day or hour by hour, in sums that two stores can compare',
      query: talliesQuery,
      answer: talliesAnswer,
      example: { query: { tag: 'D1', from: 'now-1d', to: 'now', by: 'hour' } },
    },
    async (request, response) => {
      const { by, ...query } = talliesQuery.parse(request.query);
      const window = forwardWindow(query);
      if (cellsIn(window, by) > MOST_CELLS)
        throw badRequest(`The window has more than ${MOST_CELLS} ${by}s. Ask for a shorter one, or for longer cells.`);
      const tag = await findTag(catalogue, query.tag);
      const left = new AbortController();
      response.once('close', () => left.abort());
      const rows: TalliesAnswer['rows'] = [];
      try {
        for await (const { cells } of talliesOf(pool, [tag], window, by, visitorOf(request).name, left.signal))
          for (const [from, to, count, tally] of cells)
            rows.push({ from: formatInstant(from), to: formatInstant(to), count, tally });
      } catch (error) {
        if (!left.signal.aborted) throw error;
        return;
      }
      response.json({ tag: tag.name, rows } satisfies TalliesAnswer);
    },
  );
  return calls;
}
