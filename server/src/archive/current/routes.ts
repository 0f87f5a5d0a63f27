import { Router } from 'express';
import { z } from 'zod';
import type { Guard } from '../../people/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import type { CurrentValues } from './currentValues.ts';

const KEEP_ALIVE_MILLISECONDS = 15_000;

/** Current values as server-sent events: first what is known of the tags asked for, then what changes. */
export function liveRoutes(catalogue: Catalogue, current: CurrentValues, guard: Guard): Router {
  const router = Router();
  router.get('/live', guard.needs('read'), async (request, response) => {
    const wanted = new Set(z.string().default('').parse(request.query.tags).split(',').filter(Boolean).map(Number));
    const rows = [...wanted].map(catalogue.tagById).filter((row) => row !== undefined);
    await current.recall(rows);
    response.writeHead(200, {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store',
      'x-accel-buffering': 'no',
    });
    const send = (samples: unknown[]): void => {
      if (samples.length > 0) response.write(`data: ${JSON.stringify(samples)}\n\n`);
    };
    response.write('retry: 1000\n\n');
    send(rows.map((row) => current.toLive(row)).filter((sample) => sample !== null));
    const stop = current.listen((changed) => {
      const mine = [...changed.keys()].filter((tag) => wanted.has(tag)).map(catalogue.tagById);
      send(mine.map((row) => row && current.toLive(row)).filter(Boolean));
    });
    const alive = setInterval(() => response.write(': still here\n\n'), KEEP_ALIVE_MILLISECONDS);
    request.on('close', () => {
      stop();
      clearInterval(alive);
    });
  });
  return router;
}
