import { Calls } from '../../ground/index.ts';
import { keptSecret, newSecret } from '@wide-ledger/contract';
import { doerOf, type Logbook } from '../../people/index.ts';
import type { Secrets } from './secrets.ts';

/** Taking secrets in. There is no way to read one. */
export function secretCalls(secrets: Secrets, logbook: Logbook): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'post',
      path: '/secrets',
      needs: 'admin',
      says: 'Take a secret in, to be referred to by its number; it is never shown again',
      body: newSecret,
      answer: keptSecret,
    },
    async (request, response) => {
      const by = doerOf(request);
      const id = await secrets.keep(newSecret.parse(request.body).value, by.who);
      await logbook.note(by, { act: 'kept a secret', sentence: `Secret ${id} was taken in.` });
      response.status(201).json({ id });
    },
  );
  return calls;
}
