import { newKey } from '@wide-ledger/contract';
import { Router } from 'express';
import { accessKey, type Database } from '../../ground/index.ts';
import { hashKey, makeKey } from '../accounts/passwords.ts';
import { visitorOf, type Guard } from '../guard/guard.ts';
import { doerOf, type Logbook } from '../logbook/logbook.ts';

/** Keys for programs: shown once, kept as their hash. */
export function keyRoutes({ tables }: Database, guard: Guard, logbook: Logbook): Router {
  const router = Router();
  router.post('/keys', guard.needs('admin'), async (request, response) => {
    const { name, scopes } = newKey.parse(request.body);
    const key = makeKey();
    const [row] = await tables
      .insert(accessKey)
      .values({ name, scopes, keyHash: hashKey(key), createdBy: visitorOf(request).name })
      .returning({ id: accessKey.id });
    await logbook.note(doerOf(request), {
      act: 'made a key',
      name,
      sentence: `The key ${name}, which may ${scopes.join(', ')}.`,
      new: { id: row!.id, scopes },
    });
    response.status(201).json({ id: row!.id, key });
  });
  return router;
}
