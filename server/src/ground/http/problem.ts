/** Errors as RFC 9457 problem documents, with a sentence for a person. */
import type { ErrorRequestHandler, Response } from 'express';
import type { Logger } from 'pino';
import { ZodError } from 'zod';

/** An error meant for the one who asked: what is wrong, where, what to do. */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly code?: string,
  ) {
    super(detail);
    this.name = 'ProblemError';
  }
}

/** 400 with a sentence that says what, where, and what to do. @param code short and stable, for programs. */
export const badRequest = (detail: string, code?: string): ProblemError =>
  new ProblemError(400, 'This request cannot be answered', detail, code);
/** 404 with a sentence. */
export const notFound = (detail: string): ProblemError => new ProblemError(404, 'Not found', detail);

/** Connection faults of PostgreSQL and of the socket below it: the answer is "later", not "never". */
const UNREACHABLE = /^(ECONN|EPIPE|ETIMEDOUT|57P|08)|Connection terminated|timeout exceeded when trying to connect/;

function send(response: Response, problem: ProblemError): void {
  const { status, title, message, code } = problem;
  response
    .status(status)
    .type('application/problem+json')
    .json({ type: 'about:blank', title, status, detail: message, ...(code ? { code } : {}) });
}

/** Says each wrong field of a request in one sentence. */
export function sentenceOf(error: ZodError): string {
  return error.issues
    .map((issue) => {
      const { path, message } = issue;
      if (issue.code === 'unrecognized_keys') {
        const where = path.length > 0 ? `${path.join('.')}: ` : '';
        return issue.keys.map((name) => `${where}"${name}" is not known here.`).join(' ');
      }
      const text = /^[A-Z].*\.$/.test(message) ? message : `${path.join('.') || 'The request'}: ${message}.`;
      return text.replace(/\.\.$/, '.');
    })
    .join(' ');
}

/** Answers every error as a problem document; what nobody foresaw is logged and told as a 500 without its inside. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    if (error instanceof ProblemError) {
      send(response, error);
      return;
    }
    if (error instanceof ZodError) {
      send(response, badRequest(sentenceOf(error)));
      return;
    }
    const {
      code = '',
      message = String(error),
      status,
      type,
    } = error as { code?: string; message?: string; status?: number; type?: string };
    if (type === 'entity.too.large') {
      send(response, new ProblemError(413, 'Too much at once', 'The body is larger than 64 MB. Send it in parts.'));
    } else if (status === 400) {
      send(response, badRequest(`The body is not JSON: ${message}.`));
    } else if (UNREACHABLE.test(code) || UNREACHABLE.test(message)) {
      log.error({ code, message }, 'the database does not answer');
      send(
        response,
        new ProblemError(
          503,
          'The database does not answer',
          'The database does not answer just now. Nothing was lost; try again in a moment.',
          code || undefined,
        ),
      );
    } else {
      log.error({ error: message, stack: (error as Error).stack, path: request.path }, 'unexpected error');
      send(
        response,
        new ProblemError(
          500,
          'Something went wrong',
          'The server met an error it did not expect; its log has the details.',
        ),
      );
    }
  };
}
