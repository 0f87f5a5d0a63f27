import { coverageAnswer, coverageQuery, gapsAnswer, gapsQuery } from '@wide-ledger/contract';
import type { z } from 'zod';
import { Calls, filledWindow } from '../../ground/index.ts';
import { findTag, type Catalogue } from '../../configuration/index.ts';
import type { CoverageRequest } from '../coverage/answers.ts';
import type { Coverage } from '../coverage/coverage.ts';
import type { ReadingPool } from './pool.ts';
import { sendReading } from './sending.ts';

type Asked = z.infer<typeof coverageQuery> & { readonly recovered?: boolean };

/** Strips and gaps of a window, for all tags or one. */
export function coverageCalls(catalogue: Catalogue, coverage: Coverage, pool: ReadingPool): Calls {
  const calls = new Calls();

  async function asked(
    kind: CoverageRequest['kind'],
    { tag, among, place, recovered = false, ...window }: Asked,
  ): Promise<CoverageRequest> {
    const only = tag === undefined ? null : (await findTag(catalogue, tag)).id;
    return {
      kind,
      window: filledWindow(window),
      only,
      among: among ?? null,
      place: place ?? null,
      recovered,
      ...coverage.present,
    };
  }

  calls.on(
    {
      method: 'get',
      path: '/coverage',
      needs: 'read',
      says: 'What was watched, by origin: a row for each source, and for each tag that differs from its source',
      query: coverageQuery,
      answer: coverageAnswer,
      example: { query: { from: 'now-1d', to: 'now' } },
    },
    async (request, response) => {
      await sendReading(pool, request, response, await asked('coverage', coverageQuery.parse(request.query)));
    },
  );
  calls.on(
    {
      method: 'get',
      path: '/gaps',
      needs: 'read',
      says: 'What was not watched, why, and what became of it, the latest first',
      query: gapsQuery,
      answer: gapsAnswer,
      example: { query: { from: 'now-1d', to: 'now' } },
    },
    async (request, response) => {
      await sendReading(pool, request, response, await asked('gaps', gapsQuery.parse(request.query)));
    },
  );
  return calls;
}
