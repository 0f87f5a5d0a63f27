import { exportQuery } from '@wide-ledger/contract';
import { parseInterval } from '@wide-ledger/core';
import { Calls, echoWindow, forwardWindow, resolveWindow } from '../../ground/index.ts';
import type { AskedTags } from './askedTags.ts';
import type { ReadingPool } from './pool.ts';
import type { AskedRequest } from './requests.ts';
import { checkAggregates, cutFor, resolveTimes } from './rules.ts';
import { sendReading } from './sending.ts';

/** Files of history: of several tags, and of any length. */
export function exportCalls(asked: AskedTags, pool: ReadingPool): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'get',
      path: '/history/export',
      needs: 'read',
      says: 'A file of history of any length: CSV, XLSX, Parquet or JSON',
      query: exportQuery,
      answer: 'file',
      example: { query: { kind: 'raw', tags: 'D1', format: 'csv', from: 'now-1d', to: 'now' } },
    },
    async (request, response) => {
      const query = exportQuery.parse(request.query);
      const window = query.kind === 'raw' ? forwardWindow(query) : resolveWindow(query);
      const tags = await asked.many(query.tags, query);
      const { kind, format, layout, interval, zone } = query;
      const name = tags.length === 1 ? `${tags[0]!.name}-${kind}` : `history-${kind}`;
      const common = {
        tags,
        format,
        layout,
        named: layout === 'table',
        localZone: query.localTime ? zone : null,
        echo: { tags: query.tags, ...echoWindow(window) },
      };
      const send = (reading: AskedRequest): Promise<void> => sendReading(pool, request, response, reading, name);
      if (kind === 'processed') {
        const { aggregates = ['TimeAverage'] } = query;
        checkAggregates(tags, aggregates);
        const cut = cutFor(window, interval, zone);
        const names = query.intervalNames ? { interval: parseInterval(interval)!, zone } : null;
        await send({ ...common, kind, aggregates, cut, names, labelAtEnd: false, single: false });
      } else if (kind === 'at') {
        await send({ ...common, kind, times: resolveTimes(query.times ?? []) });
      } else if (kind === 'modified') {
        await send({ ...common, kind, ...window });
      } else {
        await send({ ...common, kind, ...window, bounds: false, newestFirst: false, limit: null });
      }
    },
  );
  return calls;
}
