import { SCOPES, newKey, signIn, type Session } from '@wide-ledger/contract';
import { eq } from 'drizzle-orm';
import { Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import type { Database } from '../database/connect.ts';
import { accessKey, account } from '../database/schema.ts';
import { ProblemError } from '../http/problem.ts';
import { COOKIE, visitorOf, type Guard } from './guard.ts';
import { hashKey, hashPassword, makeKey, verifyPassword } from './passwords.ts';

/** Creates the administrator, or gives an existing one the password that the settings name. */
export async function prepareAdministrator({ tables }: Database, password: string): Promise<void> {
  const [known] = await tables.select().from(account).where(eq(account.name, 'admin'));
  if (!known) {
    await tables
      .insert(account)
      .values({ name: 'admin', passwordHash: await hashPassword(password), scopes: [...SCOPES] });
  } else if (!(await verifyPassword(known.passwordHash, password))) {
    await tables
      .update(account)
      .set({ passwordHash: await hashPassword(password) })
      .where(eq(account.id, known.id));
  }
}

/** Signing in and out, and keys for programs. */
export function accessRoutes({ tables }: Database, guard: Guard): Router {
  const router = Router();
  const slowDown = rateLimit({
    windowMs: 60_000,
    limit: 10,
    skipSuccessfulRequests: true,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    handler: (_request, _response, next) =>
      next(
        new ProblemError(429, 'Too many attempts', 'Ten wrong sign-ins within a minute. Wait a minute and try again.'),
      ),
  });
  // Hashing something even for an unknown name: the time of an answer does not tell which names exist.
  const decoy = hashPassword('decoy');

  router.post('/session', slowDown, async (request, response) => {
    const { name, password } = signIn.parse(request.body);
    const [known] = await tables.select().from(account).where(eq(account.name, name));
    const right = await verifyPassword(known?.passwordHash ?? (await decoy), password);
    if (!known || !right) throw new ProblemError(401, 'Not signed in', 'Name or password is wrong.');
    const session: Session = { name, scopes: known.scopes };
    response.cookie(COOKIE, await guard.sign(session), {
      httpOnly: true,
      sameSite: 'strict',
      path: '/',
      secure: request.secure,
    });
    response.json(session);
  });
  router.get('/session', guard.needs('read'), (request, response) => {
    response.json(visitorOf(request));
  });
  router.delete('/session', (_request, response) => {
    response.clearCookie(COOKIE, { httpOnly: true, sameSite: 'strict', path: '/' }).status(204).end();
  });

  router.post('/keys', guard.needs('admin'), async (request, response) => {
    const { name, scopes } = newKey.parse(request.body);
    const key = makeKey();
    const [row] = await tables
      .insert(accessKey)
      .values({ name, scopes, keyHash: hashKey(key), createdBy: visitorOf(request).name })
      .returning({ id: accessKey.id });
    response.status(201).json({ id: row!.id, key });
  });
  return router;
}
