/** What PostgreSQL, or the way to it, says when it cannot: as an answer to whoever asked (SQLSTATE, PostgreSQL's appendix A). */
import { ProblemError, badRequest } from './problemError.ts';

interface Fault extends Error {
  readonly code?: string;
  readonly cause?: unknown;
}

/** The error below those that were wrapped around it. */
export function rootOf(error: unknown): Fault {
  let at = error;
  while (at instanceof Error && at.cause instanceof Error) at = at.cause;
  return at instanceof Error ? at : new Error(String(at));
}

/** Connection faults: the answer is "later", not "never". One lost while nothing was asked is told of at the next statement. */
const AWAY =
  /^(ECONN|EPIPE|ETIMEDOUT|57P|08)|Connection terminated|timeout exceeded when trying to connect|is not queryable|timeout expired/;

/** A message as it may stand in a log: what is quoted in it may be anybody's. */
export const messageWithoutValues = (message: string): string =>
  message
    .split('\nparams:')[0]!
    .replace(/\([^()]*\)=\([^()]*\)/g, '(…)=(…)')
    .slice(0, 500);

/** A fault of the database as a problem; null where the error is none, or one that nobody foresaw. */
export function databaseFault(error: unknown): ProblemError | null {
  const { code = '', message } = rootOf(error);
  const later = (title: string, detail: string): ProblemError =>
    new ProblemError(503, title, detail, code || undefined);
  if (code.startsWith('53300') || code === '53400')
    return later(
      'No connection is free',
      'The database has no connection left just now. Nothing was lost; try again in a moment.',
    );
  // What was sent fits no column: a border let it through, and the answer is the same.
  if (code.startsWith('22'))
    return badRequest(
      'A number or a text in this request is larger than what can be kept, or is none. Look at its members.',
      code,
    );
  if (code === '53100' || code === 'ENOSPC')
    return new ProblemError(
      507,
      'The disk is full',
      'The disk of the server is full, and nothing more can be kept until there is room. What was acknowledged is safe. Make room, then try again.',
      code,
    );
  if (code.startsWith('53') || code === '57014')
    return later(
      'That takes too much',
      'The database ran out of memory or time for this. Ask for less at once, or try again in a moment.',
    );
  if (code === '40001' || code === '40P01' || code === '55P03')
    return later(
      'Somebody else was first',
      'Others changed the same at this moment. Nothing was changed by this request; try again.',
    );
  if (AWAY.test(code) || AWAY.test(message))
    return later(
      'The database does not answer',
      'The database does not answer just now. Nothing was lost; try again in a moment.',
    );
  return null;
}
