import { signIn, type Session } from '@wide-ledger/contract';
import { eq } from 'drizzle-orm';
import { Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import { ProblemError, account, type Database } from '../../ground/index.ts';
import { visitorOf, type Guard } from '../guard/guard.ts';
import { hashPassword, verifyPassword } from '../accounts/passwords.ts';
import { doerOf, type Logbook } from '../logbook/logbook.ts';

/** Signing in and out. */
export function sessionRoutes({ tables }: Database, guard: Guard, logbook: Logbook): Router {
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
    // Whatever stands in place of an unknown name may be a password.
    const doer = { who: known ? name : 'an unknown name', whence: request.ip ?? '' };
    if (!known || !right) {
      await logbook.note(doer, { act: 'was refused', sentence: 'Name or password was wrong.' });
      throw new ProblemError(401, 'Not signed in', 'Name or password is wrong.');
    }
    await logbook.note(doer, { act: 'signed in', sentence: `${name} signed in.` });
    const session: Session = { name, scopes: known.scopes };
    response.cookie(guard.cookie, await guard.sign(session), {
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
  router.delete('/session', guard.needs('read'), async (request, response) => {
    await logbook.note(doerOf(request), { act: 'signed out', sentence: `${visitorOf(request).name} signed out.` });
    response.clearCookie(guard.cookie, { httpOnly: true, sameSite: 'strict', path: '/' }).status(204).end();
  });
  return router;
}
