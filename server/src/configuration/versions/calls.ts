import { comparison, versionList } from '@wide-ledger/contract';
import type { Pool } from 'pg';
import { z } from 'zod';
import { Calls, notFound, rowNumber } from '../../ground/index.ts';
import { compareVersions, hasVersion, listVersions, versionBefore } from './versions.ts';

const listQuery = z.object({
  cursor: rowNumber.optional(),
  limit: z.coerce.number().int().min(1).max(500).default(100),
});
const compareQuery = z.object({ from: rowNumber.optional(), to: rowNumber });

/** The versions that there were, and any two of them compared; without `from`, with the one before. */
export function versionCalls(home: Pool): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'get',
      path: '/versions',
      needs: 'read',
      says: 'Versions of the configuration, newest first',
      query: listQuery,
      answer: versionList,
    },
    async (request, response) => {
      const { cursor, limit } = listQuery.parse(request.query);
      response.json(await listVersions(home, limit, cursor));
    },
  );
  calls.on(
    {
      method: 'get',
      path: '/versions/compare',
      needs: 'read',
      says: 'What differs between two versions',
      query: compareQuery,
      answer: comparison,
    },
    async (request, response) => {
      const { from, to } = compareQuery.parse(request.query);
      for (const number of [from ?? to, to]) {
        if (!(await hasVersion(home, number))) throw notFound(`There is no version ${number}.`);
      }
      response.json(await compareVersions(home, from ?? (await versionBefore(home, to)) ?? 0, to));
    },
  );
  return calls;
}
