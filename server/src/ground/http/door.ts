/** The door of the interface: who may ask is looked at first, then what is asked, then the body; then the call is answered. */
import type { Scope } from '@wide-ledger/contract';
import { Router, raw, type Request, type RequestHandler, type Response } from 'express';
import { readJson } from '../json/read.ts';
import { CrowdedJson } from '../json/shape.ts';
import { SMALL_JSON, type AnsweredCall, type Calls, type Taking } from './calls.ts';
import { ProblemError, badRequest } from './problemError.ts';
import { refuseUnwritable } from './wellFormed.ts';

/** Lets a request pass whose maker has a scope. @throws ProblemError 401 or 403. */
export type Admit = (request: Request, scope: Scope) => Promise<void>;

/** The routes of all calls. What none of them answers is a 404, or a 405 where another method is answered there. */
export function openDoor(calls: Calls, admit: Admit): Router {
  const router = Router({ strict: false });
  // Paths without parameters come first: /entries/position is no /entries/{id}.
  const inOrder = [...calls.all].sort((a, b) => a.path.split('{').length - b.path.split('{').length);
  for (const call of inOrder) {
    const path = call.path.replace(/\{(\w+)\}/g, ':$1');
    router[call.method](path, guarding(call, admit), reading(call), answering(call));
  }
  router.use((request, response) => refuseUnknownCall(inOrder, request, response));
  return router;
}

const guarding =
  (call: AnsweredCall, admit: Admit): RequestHandler =>
  async (request, _response, next) => {
    if (call.needs !== null) await admit(request, call.needs);
    refuseUnknownParameters(call, request);
    refuseUnwritable(request.params, 'The path');
    refuseUnwritable(request.query, 'The query');
    next();
  };

/**
 * Refuses a parameter that a call does not know, by its name: it was meant to mean something, and an answer that passes
 * it over is an answer to another question.
 */
function refuseUnknownParameters({ query }: AnsweredCall, request: Request): void {
  const known = Object.keys(query?.shape ?? {});
  const unknown = Object.keys(request.query).find((name) => !known.includes(name));
  if (unknown === undefined) return;
  const takes = known.length === 0 ? 'It takes none.' : `It takes ${known.join(', ')}.`;
  throw badRequest(`${unknown}: ${request.method} ${request.path} knows no such parameter. ${takes}`);
}

/** Takes the body in; what is larger than the call takes is refused before it is read where its length is said. */
function reading({ body, takes }: AnsweredCall): RequestHandler {
  const taking: Taking = takes ?? SMALL_JSON;
  if (taking.as === 'stream') return (_request, _response, next) => next();
  if (taking.as === 'bytes') return raw({ type: () => true, limit: taking.most });
  const gather = raw({ type: () => true, limit: taking.most });
  // A call that takes no body passes over one that is there.
  const look = body && !taking.anyText ? refuseUnwritable : undefined;
  return async (request, response, next) => {
    if (!hasBody(request)) return next();
    if (!request.is('application/json')) {
      throw new ProblemError(
        415,
        'Not JSON',
        `The body is ${request.headers['content-type'] ?? 'of no stated type'}; this call takes application/json.`,
      );
    }
    refuseOtherCharacters(request);
    await new Promise<void>((done, fail) => {
      gather(request, response, (error?: Error) => (error ? fail(error) : done()));
    });
    request.body = await readJson(request.body as Buffer, { parts: taking.parts, exact: taking.exact, look }).catch(
      refuseUnreadable,
    );
    next();
  };
}

/** JSON is UTF-8 (RFC 8259, 8.1); no parameter of its media type says otherwise. @throws ProblemError 415 */
function refuseOtherCharacters({ headers }: Request): void {
  const charset = /;\s*charset\s*=\s*"?([^";\s]+)/i.exec(headers['content-type'] ?? '')?.[1];
  if (charset === undefined || /^(utf-?8|us-ascii)$/i.test(charset)) return;
  throw new ProblemError(
    415,
    'Not a form that this call takes',
    `The body’s character set, ${charset}, is none that is read here. Send UTF-8.`,
  );
}

function refuseUnreadable(error: unknown): never {
  if (error instanceof CrowdedJson) throw badRequest(`The body ${error.message}`);
  if (error instanceof SyntaxError) throw badRequest(`The body is not JSON: ${error.message}.`);
  throw error;
}

const hasBody = ({ headers }: Request): boolean =>
  headers['transfer-encoding'] !== undefined || Number(headers['content-length'] ?? 0) > 0;

const answering =
  ({ answered }: AnsweredCall): RequestHandler =>
  async (request, response) => {
    await answered(request, response);
  };

function refuseUnknownCall(calls: readonly AnsweredCall[], request: Request, response: Response): never {
  const fits = ({ path }: AnsweredCall): boolean =>
    new RegExp(`^${path.replace(/\{\w+\}/g, '[^/]+')}/?$`).test(request.path);
  const methods = calls.filter(fits).map(({ method }) => method.toUpperCase());
  if (methods.length === 0)
    throw new ProblemError(
      404,
      'Not found',
      `There is no call ${request.method} ${request.originalUrl}. /api/docs lists them.`,
    );
  response.setHeader('allow', [...new Set(methods)].join(', '));
  throw new ProblemError(
    405,
    'No such method',
    `${request.originalUrl} takes ${[...new Set(methods)].join(', ')}, not ${request.method}. /api/docs lists all calls.`,
  );
}
