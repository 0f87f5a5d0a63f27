import {
  completenessAnswer,
  completenessQuery,
  coverageAnswer,
  coverageQuery,
  gapsAnswer,
  gapsQuery,
} from '@wide-ledger/contract';
import { cutIntoBuckets, intervalName, type Span } from '@wide-ledger/core';
import type { z } from 'zod';
import { Calls, badRequest, filledWindow, type Settings } from '../../ground/index.ts';
import { findTag, type Catalogue } from '../../configuration/index.ts';
import type { CoverageRequest } from '../coverage/answers.ts';
import type { Coverage } from '../coverage/coverage.ts';
import type { ReadingPool } from './pool.ts';
import { cutFor } from './rules.ts';
import { sendReading } from './sending.ts';

/** More cells are not looked at in one answer: a month by hours is 744. */
const MOST_CELLS = 800;

type Asked = z.infer<typeof coverageQuery> & { readonly recovered?: boolean };

/** Strips and gaps of a window, for all tags or one. */
export function coverageCalls(
  catalogue: Catalogue,
  coverage: Coverage,
  pool: ReadingPool,
  { WIDE_LEDGER_SITE: site, WIDE_LEDGER_ZONE: siteZone }: Settings,
): Calls {
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
  calls.on(
    {
      method: 'get',
      path: '/completeness',
      needs: 'read',
      says: 'How complete the record is, by place or tag and by the calendar; as XLSX and PDF a report',
      query: completenessQuery,
      answer: completenessAnswer,
      example: { query: { from: 'now-7d', to: 'now' } },
    },
    async (request, response) => {
      const { by, rows, place = null, zone = siteZone, format, ...given } = completenessQuery.parse(request.query);
      const window = filledWindow(given);
      const { interval } = cutFor(window, by, zone);
      const cells = cutIntoBuckets(window.from, window.to, interval, zone).map(({ begin, finish }) => ({
        from: begin,
        to: finish,
      }));
      if (cells.length > MOST_CELLS)
        throw badRequest(
          `by: ${cells.length} cells are too many to look at; ${MOST_CELLS} are the most. Choose longer ones.`,
        );
      const asked = {
        kind: 'completeness',
        window,
        cells,
        by,
        rows,
        place,
        zone,
        site,
        format,
        ...coverage.present,
      } as const;
      await sendReading(
        pool,
        request,
        response,
        asked,
        format === 'json' ? undefined : `completeness-${cellName(window, zone)}`,
      );
    },
  );
  return calls;
}

const cellName = ({ from }: Span, zone: string): string =>
  intervalName(from, { kind: 'calendar', unit: 'day', count: 1 }, zone);
