import { coverageQuery, type CoverageAnswer, type GapsAnswer } from '@wide-ledger/contract';
import { Router, type Request } from 'express';
import type { Pool } from 'pg';
import type { Guard } from '../../people/index.ts';
import { badRequest, echoWindow, resolveWindow } from '../../ground/index.ts';
import { findTag, type Catalogue } from '../../configuration/index.ts';
import type { Coverage } from './coverage.ts';
import { pausesIn } from './pauses.ts';

/** Strips and gaps of a window, for all tags or one. */
export function coverageRoutes(home: Pool, catalogue: Catalogue, coverage: Coverage, guard: Guard): Router {
  const router = Router();

  async function answer(request: Request): Promise<CoverageAnswer & { pauses: () => Promise<GapsAnswer['gaps']> }> {
    const query = coverageQuery.parse(request.query);
    await catalogue.refresh();
    const window = resolveWindow(query);
    if (window.to <= window.from) throw badRequest('The window is empty or upside down: from has to lie before to.');
    const tag = query.tag === undefined ? undefined : await findTag(catalogue, query.tag);
    return {
      ...echoWindow(window),
      rows: await coverage.rows(window, tag),
      pauses: () => pausesIn(home, catalogue, window, tag),
    };
  }

  router.get('/coverage', guard.needs('read'), async (request, response) => {
    const { pauses: _pauses, ...covered } = await answer(request);
    response.json(covered);
  });
  router.get('/gaps', guard.needs('read'), async (request, response) => {
    const { from, to, rows, pauses } = await answer(request);
    // A tag's row repeats its source's gaps; in the list of all they are named once, at the source.
    const wanted = rows.flatMap((row) =>
      row.tag === null || request.query.tag !== undefined
        ? row.gaps
        : row.gaps.filter(
            (gap) =>
              !rows.some(
                (other) => other.tag === null && other.gaps.some((one) => one.from === gap.from && one.to === gap.to),
              ),
          ),
    );
    const gaps: GapsAnswer['gaps'] = [...wanted, ...(await pauses())].sort((a, b) => (a.from < b.from ? 1 : -1));
    response.json({ from, to, gaps });
  });
  return router;
}
