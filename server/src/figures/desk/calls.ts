import { desk, type Desk } from '@wide-ledger/contract';
import { Calls, type Shared } from '../../ground/index.ts';

export function deskCalls(shown: Shared<Desk>): Calls {
  const calls = new Calls();
  calls.on(
    { method: 'get', path: '/desk', needs: 'read', says: 'The state of the site', answer: desk, example: {} },
    async (_request, response) => {
      response.json(await shown.get());
    },
  );
  return calls;
}
