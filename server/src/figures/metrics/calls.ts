import type { Registry } from 'prom-client';
import { Calls } from '../../ground/index.ts';

/** Metrics: for a scraper with a key that may read. */
export function metricsCalls(register: Registry): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'get',
      path: '/metrics',
      needs: 'read',
      says: 'Figures of the server in the open text format of metrics; also at /metrics',
      answer: 'file',
      example: {},
    },
    async (_request, response) => {
      response.set('content-type', register.contentType).send(await register.metrics());
    },
  );
  return calls;
}
