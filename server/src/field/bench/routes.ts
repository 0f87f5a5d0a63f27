import { benchSignal, newBenchFault, type BenchFault } from '@wide-ledger/contract';
import { Router, type Request } from 'express';
import { doerOf, type Guard, type Logbook } from '../../people/index.ts';
import { ProblemError, notFound } from '../../ground/index.ts';

/** Passes the Bench screen's calls on to the test bench, where there is one: the browser talks to one address only. */
export function benchRoutes(benchUrl: string | undefined, logbook: Logbook, guard: Guard): Router {
  const router = Router();
  const ask = async (path: string, method: string, body?: unknown): Promise<unknown> => {
    if (!benchUrl) throw notFound('This site has no test bench.');
    try {
      const answer = await fetch(new URL(path, benchUrl), {
        method,
        signal: AbortSignal.timeout(3000),
        ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
      });
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
  async function disturb(request: Request, fault: BenchFault | null): Promise<unknown> {
    const device = String(request.params.device);
    const answer = await ask(`/devices/${encodeURIComponent(device)}/fault`, 'PUT', { fault });
    await logbook.note(doerOf(request), {
      act: fault?.kind === 'cut' ? 'cut a line' : fault ? 'disturbed a line' : 'restored a line',
      name: device,
      sentence: `${device} on the test bench.`,
      ...(fault ? { new: fault } : {}),
    });
    return answer;
  }
  router.put('/bench/:device/fault', guard.needs('admin'), async (request, response) => {
    response.json(await disturb(request, newBenchFault.parse(request.body).fault));
  });
  router.put('/bench/:device/signal', guard.needs('admin'), async (request, response) => {
    const signal = benchSignal.parse(request.body);
    const device = String(request.params.device);
    const answer = await ask(`/devices/${encodeURIComponent(device)}/signal`, 'PUT', signal);
    const { number, shape, period } = signal;
    const sentence = `Signal ${number} of ${device} on the test bench: ${shape}, ${period} s.`;
    await logbook.note(doerOf(request), { act: 'set a signal', name: device, sentence, new: signal });
    response.json(answer);
  });
  router.post('/bench/:device/:action', guard.needs('admin'), async (request, response) => {
    const { action } = request.params;
    if (action !== 'cut' && action !== 'restore') throw notFound('A device can be cut or restored.');
    response.json(await disturb(request, action === 'cut' ? { kind: 'cut' } : null));
  });
  return router;
}
