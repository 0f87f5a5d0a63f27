/** Errors as RFC 9457 problem documents, with a sentence for a person. */
import type { ErrorRequestHandler, RequestHandler, Response } from 'express';
import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import { ZodError } from 'zod';
import { ProblemError, badRequest } from './problemError.ts';
import { databaseFault, messageWithoutValues, rootOf } from './databaseFaults.ts';

const STATUS_TITLES: Readonly<Record<number, string>> = {
  408: 'The request took too long',
  413: 'Too much at once',
  414: 'The address is too long',
  415: 'Not a form that this call takes',
  417: 'Nothing is expected',
  431: 'The headers are too large',
};

/** What the libraries below say of a request that they could not take in. */
interface Unreadable {
  readonly status?: number;
  readonly type?: string;
  readonly limit?: number;
  readonly encoding?: string;
  readonly message?: string;
}

/** A request that could not be taken in, in words; null where the error is not about that. */
function unreadable(error: Unreadable): ProblemError | null {
  const { status = 0, type = '', limit = 0, message = '' } = error;
  if (status < 400 || status > 499) return null;
  const title = STATUS_TITLES[status] ?? 'This request cannot be answered';
  switch (type) {
    case 'entity.too.large':
      return new ProblemError(
        413,
        title,
        `The body is larger than ${describeBytes(limit)}, the most that this call takes. Send it in parts.`,
      );
    case 'encoding.unsupported':
      return new ProblemError(
        415,
        title,
        `The body’s encoding, ${error.encoding}, is none that is read here. Send it as it is, or with gzip, deflate or br.`,
      );
    case 'request.size.invalid':
      return badRequest('The body is not as long as its content-length says. Send it again.');
    case 'request.aborted':
      return badRequest('The request ended in the middle of its body.');
  }
  if (error instanceof URIError || message.startsWith('Failed to decode param'))
    return badRequest(
      'The path holds a % that does not begin a character of UTF-8. Write names with percent-encoding.',
    );
  return new ProblemError(status, title, `The request could not be taken in: ${message}.`);
}

const describeBytes = (bytes: number): string =>
  bytes >= 1024 * 1024 ? `${bytes / 1024 / 1024} MB` : bytes >= 1024 ? `${bytes / 1024} KB` : `${bytes} bytes`;

/** After this a request that could not be served may be made again. Seconds. */
const RETRY_AFTER = 2;

/** A request's number, by which a problem document and the log's line about it find each other. */
const numberOf = (response: Response): string => response.get('x-request-id') ?? '';

function send(response: Response, problem: ProblemError): void {
  const { status, title, message, code } = problem;
  if (status === 503 && !response.hasHeader('retry-after')) response.set('retry-after', String(RETRY_AFTER));
  response
    .status(status)
    .type('application/problem+json')
    .json({
      type: 'about:blank',
      title,
      status,
      detail: message,
      ...(code ? { code } : {}),
      ...(status >= 500 ? { request: numberOf(response) } : {}),
    });
}

/** Gives each request its number. */
export const numbering: RequestHandler = (_request, response, next) => {
  response.set('x-request-id', randomUUID().slice(0, 13));
  next();
};

type Issue = ZodError['issues'][number];

/** Says each wrong field of a request in one sentence. */
export const sentenceOf = ({ issues }: ZodError): string => issues.flatMap((issue) => sentencesOf(issue, [])).join(' ');

/** @param around where the part is that the issue is about */
function sentencesOf(issue: Issue, around: readonly PropertyKey[]): string[] {
  const path = [...around, ...issue.path];
  const where = path.join('.');
  if (issue.code === 'unrecognized_keys')
    return [issue.keys.map((name) => `${where && `${where}: `}"${name}" is not known here.`).join(' ')];
  if (issue.code === 'invalid_union') {
    const meant = likeliest(issue.errors);
    if (meant) return meant.flatMap((one) => sentencesOf(one, path));
  }
  if (issue.code === 'invalid_key') return issue.issues.flatMap((one) => sentencesOf(one, path));
  const { message } = issue;
  const text = /^[A-Z].*\.$/.test(message) ? message : `${where || 'The request'}: ${message}.`;
  return [text.replace(/\.\.$/, '.')];
}

/** Of several forms of which none fits, the one that was meant: what is wrong with it lies deepest inside. */
function likeliest(forms: readonly (readonly Issue[])[]): readonly Issue[] | undefined {
  const depth = (issues: readonly Issue[]): number => Math.min(...issues.map(({ path }) => path.length));
  const [best] = forms
    .filter((issues) => issues.length > 0)
    .toSorted((a, b) => depth(b) - depth(a) || a.length - b.length);
  return best && depth(best) > 0 ? best : undefined;
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
    const foreign = unreadable(error as Unreadable);
    if (foreign) {
      send(response, foreign);
      return;
    }
    const fault = databaseFault(error);
    if (fault) {
      log.error({ code: fault.code, title: fault.title, request: numberOf(response) }, 'the database could not do it');
      send(response, fault);
      return;
    }
    const { name, message, stack = '' } = rootOf(error);
    // The stack alone: a message may hold statements with their values.
    const trace = stack.slice(stack.indexOf('\n    at '));
    log.error(
      { name, message: messageWithoutValues(message), stack: trace, path: request.path, request: numberOf(response) },
      'unexpected error',
    );
    send(
      response,
      new ProblemError(
        500,
        'Something went wrong',
        `The server met an error it did not expect; its log has the details, at request ${numberOf(response)}.`,
      ),
    );
  };
}
