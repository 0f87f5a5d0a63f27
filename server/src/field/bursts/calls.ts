import { burstStarted, newBurst } from '@wide-ledger/contract';
import { findTag, type Catalogue } from '../../configuration/index.ts';
import { Calls, badRequest } from '../../ground/index.ts';
import { doerOf, visitorOf, type Logbook } from '../../people/index.ts';
import { toldOf } from '../collectors/told.ts';
import type { Bursts } from './bursts.ts';

/** Reading a tag as often as can be for a short while. */
export function burstCalls(catalogue: Catalogue, bursts: Bursts, logbook: Logbook): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'post',
      path: '/bursts',
      needs: 'admin',
      says: 'Read a tag as often as can be for a short while, beside everything else: what was read is the report of the job',
      body: newBurst,
      answer: burstStarted,
    },
    async (request, response) => {
      const { tag: name, ...pace } = newBurst.parse(request.body);
      const tag = await findTag(catalogue, name);
      if (toldOf(tag) === null)
        throw badRequest(`${tag.name} is read by no collector: it has no source, or is paused.`);
      const job = await bursts.start(tag, pace, visitorOf(request).name);
      await logbook.note(doerOf(request), {
        act: 'had a tag read fast',
        kind: 'tag',
        item: tag.id,
        name: tag.name,
        sentence: `Every ${pace.everyMilliseconds} ms for ${pace.seconds} s.`,
      });
      response.json({ job });
    },
  );
  return calls;
}
