import type { RequestHandler } from 'express';
import { badRequest } from '../http/problem.ts';
import { CALLS, type Call } from './calls.ts';

interface KnownCall {
  readonly method: string;
  readonly pattern: RegExp;
  readonly known: readonly string[];
}

const knownCall = ({ method, path, query }: Call): KnownCall => ({
  method: method.toUpperCase(),
  pattern: new RegExp(`^${path.replace(/\{\w+\}/g, '[^/]+')}/?$`),
  known: Object.keys(query?.shape ?? {}),
});

/** Calls without parameters in their path come first: /entries/position is no /entries/{id}. */
const KNOWN = [...CALLS].sort((a, b) => a.path.split('{').length - b.path.split('{').length).map(knownCall);

/**
 * Refuses a parameter that a call does not know, by its name: it was meant to mean something, and an answer that passes
 * it over is an answer to another question.
 */
export const refuseUnknownParameters: RequestHandler = (request, _response, next) => {
  const call = KNOWN.find(({ method, pattern }) => method === request.method && pattern.test(request.path));
  const unknown = call && Object.keys(request.query).find((name) => !call.known.includes(name));
  if (call && unknown !== undefined) {
    const known = call.known.length === 0 ? 'It takes none.' : `It takes ${call.known.join(', ')}.`;
    throw badRequest(`${unknown}: ${request.method} ${request.path} knows no such parameter. ${known}`);
  }
  next();
};
