import { Router } from 'express';
import type { Pool } from 'pg';
import { z } from 'zod';
import { notFound } from '../../ground/index.ts';
import type { Guard } from '../../people/index.ts';
import { compareVersions, hasVersion, listVersions, versionBefore } from './versions.ts';

const listQuery = z.object({
  cursor: z.coerce.number().int().positive().optional(),
  limit: z.coerce.number().int().min(1).max(500).default(100),
});
const compareQuery = z.object({ from: z.coerce.number().int().optional(), to: z.coerce.number().int() });

/** The versions that there were, and any two of them compared; without `from`, with the one before. */
export function versionRoutes(home: Pool, guard: Guard): Router {
  const router = Router();
  router.get('/versions', guard.needs('read'), async (request, response) => {
    const { cursor, limit } = listQuery.parse(request.query);
    response.json(await listVersions(home, limit, cursor));
  });
  router.get('/versions/compare', guard.needs('read'), async (request, response) => {
    const { from, to } = compareQuery.parse(request.query);
    for (const number of [from ?? to, to]) {
      if (!(await hasVersion(home, number))) throw notFound(`There is no version ${number}.`);
    }
    response.json(await compareVersions(home, from ?? (await versionBefore(home, to)) ?? 0, to));
  });
  return router;
}
