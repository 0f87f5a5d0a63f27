import { newReaderPassword } from '@wide-ledger/contract';
import { Calls } from '../../ground/index.ts';
import { doerOf, type Logbook } from '../logbook/logbook.ts';
import type { ReaderRole } from './reader.ts';

/** The password of the role for SQL tools. */
export function readerCalls(reader: ReaderRole, logbook: Logbook): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'put',
      path: '/reader/password',
      needs: 'admin',
      says: 'Give the role for SQL tools another password',
      body: newReaderPassword,
      answer: null,
    },
    async (request, response) => {
      await reader.changePassword(newReaderPassword.parse(request.body).password);
      await logbook.note(doerOf(request), {
        act: 'changed a password',
        sentence: 'The role for SQL tools has another password.',
      });
      response.status(204).end();
    },
  );
  return calls;
}
