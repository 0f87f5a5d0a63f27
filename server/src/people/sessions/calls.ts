import { session, sessionList, signIn, type Session } from '@wide-ledger/contract';
import { eq } from 'drizzle-orm';
import { Calls, ProblemError, account, notFound, type Database } from '../../ground/index.ts';
import { hashPassword, verifyPassword } from '../accounts/passwords.ts';
import { visitorOf } from '../visitors/visitor.ts';
import { doerOf, type Logbook } from '../logbook/logbook.ts';
import { slowingDown } from './attempts.ts';
import type { SessionCookie } from './cookie.ts';
import type { Sessions } from './sessions.ts';

/** Signing in and out, and who is signed in. */
export function sessionCalls({ tables }: Database, sessions: Sessions, cookie: SessionCookie, logbook: Logbook): Calls {
  const calls = new Calls();
  const slowDown = slowingDown();
  const options = { httpOnly: true, sameSite: 'strict', path: '/' } as const;
  // Hashing something even for an unknown name: the time of an answer does not tell which names exist.
  const decoy = hashPassword('decoy');

  calls.on(
    {
      method: 'post',
      path: '/session',
      needs: null,
      says: 'Sign in: sets the session cookie',
      body: signIn,
      answer: session,
    },
    async (request, response) => {
      const { name, password } = signIn.parse(request.body);
      await slowDown(request, response, name);
      const [known] = await tables.select().from(account).where(eq(account.name, name));
      const right = await verifyPassword(known?.passwordHash ?? (await decoy), password);
      // Whatever stands in place of an unknown name may be a password.
      const whence = request.ip ?? '';
      const doer = { who: known ? name : 'an unknown name', whence };
      if (!known || !right) {
        await logbook.note(doer, { act: 'was refused', sentence: 'Name or password was wrong.' });
        throw new ProblemError(401, 'Not signed in', 'Name or password is wrong.');
      }
      await logbook.note(doer, { act: 'signed in', sentence: `${name} signed in.` });
      const { id, ends } = await sessions.open(known.id, whence, request.headers['user-agent'] ?? '');
      response.cookie(cookie.name, await cookie.sign(id, ends), { ...options, expires: ends, secure: request.secure });
      response.json({ name, scopes: known.scopes } satisfies Session);
    },
  );

  calls.on(
    { method: 'get', path: '/session', needs: 'read', says: 'Who is signed in', answer: session },
    (request, response) => {
      const { name, scopes } = visitorOf(request);
      response.json({ name, scopes } satisfies Session);
    },
  );

  calls.on(
    { method: 'delete', path: '/session', needs: 'read', says: 'Sign out: ends your session', answer: null },
    async (request, response) => {
      const { name, pass } = visitorOf(request);
      if (pass.kind === 'session') await sessions.end(pass.id);
      await logbook.note(doerOf(request), { act: 'signed out', sentence: `${name} signed out.` });
      response.clearCookie(cookie.name, options).status(204).end();
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/sessions',
      needs: 'admin',
      says: 'Who is signed in, since when, from where',
      answer: sessionList,
    },
    async (request, response) => {
      const { pass } = visitorOf(request);
      response.json({ sessions: await sessions.list(pass.kind === 'session' ? pass.id : null) });
    },
  );

  calls.on(
    { method: 'delete', path: '/sessions/{id}', needs: 'admin', says: 'End somebody’s session at once', answer: null },
    async (request, response) => {
      const name = await sessions.end(String(request.params.id));
      if (name === null) throw notFound('There is no such session. It may have ended.');
      await logbook.note(doerOf(request), {
        act: 'ended a session',
        name,
        sentence: `A session of ${name} was ended.`,
      });
      response.status(204).end();
    },
  );
  return calls;
}
