import { Router } from 'express';
import { doerOf, type Guard, type Logbook } from '../../people/index.ts';
import { ProblemError, notFound } from '../../ground/index.ts';

/** Passes the Bench screen's calls on to the test bench, where there is one: the browser talks to one address only. */
export function benchRoutes(benchUrl: string | undefined, logbook: Logbook, guard: Guard): Router {
  const router = Router();
  const ask = async (path: string, method: string): Promise<unknown> => {
    if (!benchUrl) throw notFound('This site has no test bench.');
    try {
      const answer = await fetch(new URL(path, benchUrl), { method, signal: AbortSignal.timeout(3000) });
      if (answer.status === 404) throw notFound('The test bench has no such device.');
      return await answer.json();
    } catch (error) {
      if (error instanceof ProblemError) throw error;
      throw new ProblemError(
        503,
        'The test bench is away',
        `Nothing answers at ${benchUrl}. Is the test bench running?`,
      );
    }
  };
  router.get('/bench', guard.needs('read'), async (_request, response) => {
    response.json(await ask('/devices', 'GET'));
  });
  router.post('/bench/:device/:action', guard.needs('admin'), async (request, response) => {
    const { device, action } = request.params;
    if (action !== 'cut' && action !== 'restore') throw notFound('A device can be cut or restored.');
    const answer = await ask(`/devices/${encodeURIComponent(String(device))}/${action}`, 'POST');
    const act = action === 'cut' ? 'cut a line' : 'restored a line';
    await logbook.note(doerOf(request), {
      act,
      name: String(device),
      sentence: `${String(device)} on the test bench.`,
    });
    response.json(answer);
  });
  return router;
}
