import {
  benchAnswer,
  benchClock,
  benchDevice,
  benchSignal,
  newBenchFault,
  type BenchFault,
} from '@wide-ledger/contract';
import type { Request } from 'express';
import { doerOf, type Deed, type Logbook } from '../../people/index.ts';
import { Calls, ProblemError, notFound } from '../../ground/index.ts';

/** Passes the Bench screen's calls on to the test bench, where there is one: the browser talks to one address only. */
export function benchCalls(benchUrl: string | undefined, token: string, logbook: Logbook): Calls {
  const calls = new Calls();
  const ask = async (path: string, method: string, body?: unknown): Promise<unknown> => {
    if (!benchUrl) throw notFound('This site has no test bench.');
    try {
      const answer = await fetch(new URL(path, benchUrl), {
        method,
        signal: AbortSignal.timeout(3000),
        headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
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
  calls.on(
    { method: 'get', path: '/bench', needs: 'read', says: 'Devices of the test bench', answer: benchAnswer },
    async (_request, response) => {
      response.json(await ask('/devices', 'GET'));
    },
  );
  /** Changes something at a device, and takes note of it. @param what of the bench's switches. */
  async function change(
    request: Request,
    what: 'fault' | 'signal' | 'clock' | 'forget',
    body: object,
    noted: (device: string) => Pick<Deed, 'act' | 'sentence' | 'new'>,
  ): Promise<unknown> {
    const device = String(request.params.device);
    const answer = await ask(`/devices/${encodeURIComponent(device)}/${what}`, 'PUT', body);
    await logbook.note(doerOf(request), { name: device, ...noted(device) });
    return answer;
  }
  const disturb = (request: Request, fault: BenchFault | null): Promise<unknown> =>
    change(request, 'fault', { fault }, (device) => ({
      act: fault?.kind === 'cut' ? 'cut a line' : fault ? 'disturbed a line' : 'restored a line',
      sentence: `${device} on the test bench.`,
      ...(fault ? { new: fault } : {}),
    }));
  calls.on(
    {
      method: 'put',
      path: '/bench/{device}/fault',
      needs: 'admin',
      says: 'Make something wrong with the line of a device of the test bench, or everything right',
      body: newBenchFault,
      answer: benchDevice,
    },
    async (request, response) => {
      response.json(await disturb(request, newBenchFault.parse(request.body).fault));
    },
  );
  calls.on(
    {
      method: 'put',
      path: '/bench/{device}/signal',
      needs: 'admin',
      says: 'Set a signal of the generator on the test bench',
      body: benchSignal,
      answer: benchDevice,
    },
    async (request, response) => {
      const signal = benchSignal.parse(request.body);
      const { number, shape, period } = signal;
      const answer = await change(request, 'signal', signal, (device) => ({
        act: 'set a signal',
        sentence: `Signal ${number} of ${device} on the test bench: ${shape}, ${period} s.`,
        new: signal,
      }));
      response.json(answer);
    },
  );
  calls.on(
    {
      method: 'put',
      path: '/bench/{device}/clock',
      needs: 'admin',
      says: 'Set the clock of a device of the test bench wrong, or right',
      body: benchClock,
      answer: benchDevice,
    },
    async (request, response) => {
      const given = benchClock.parse(request.body);
      const answer = await change(request, 'clock', given, (device) => ({
        act: 'set a clock',
        sentence: `${device} on the test bench: wrong by ${given.seconds} s.`,
        new: given,
      }));
      response.json(answer);
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/bench/{device}/{action}',
      needs: 'admin',
      says: 'Cut or restore the line of a device of the test bench, or have the device forget what it remembers',
      answer: null,
    },
    async (request, response) => {
      const { action } = request.params;
      if (action === 'forget') {
        const answer = await change(request, 'forget', {}, (device) => ({
          act: 'emptied a memory',
          sentence: `${device} on the test bench has an empty memory, as after a restart.`,
        }));
        response.json(answer);
        return;
      }
      if (action !== 'cut' && action !== 'restore')
        throw notFound('A device can be cut or restored, or made to forget.');
      response.json(await disturb(request, action === 'cut' ? { kind: 'cut' } : null));
    },
  );
  return calls;
}
