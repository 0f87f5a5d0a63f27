/** The interface described by the list of its calls, and by the schemas that check them. */
import { OpenApiGeneratorV31, OpenAPIRegistry, type RouteConfig } from '@asteasolutions/zod-to-openapi';
import { problem } from '@wide-ledger/contract';
import type { RequestHandler } from 'express';
import { setImmediate } from 'node:timers/promises';
import swagger from 'swagger-ui-express';
import { z } from 'zod';
import { Calls, type AnsweredCall } from '../http/calls.ts';

const json = (schema: z.ZodType) => ({ content: { 'application/json': { schema } } });

function answerOf({ answer }: AnsweredCall): RouteConfig['responses'] {
  if (answer === null) return { 204: { description: 'Done' } };
  if (answer === 'file')
    return { 200: { description: 'A file', content: { 'application/octet-stream': { schema: z.string() } } } };
  if (answer === 'events')
    return { 200: { description: 'Events as they come', content: { 'text/event-stream': { schema: z.string() } } } };
  return { 200: { description: 'The answer', ...json(answer) } };
}

function bodyOf({ body, takes, example }: AnsweredCall): Pick<NonNullable<RouteConfig['request']>, 'body'> {
  if (takes && takes.as !== 'json')
    return { body: { content: { 'application/octet-stream': { schema: z.string() } } } };
  if (!body) return {};
  const shown = example?.body === undefined ? {} : { example: example.body };
  return { body: { content: { 'application/json': { schema: body, ...shown } } } };
}

/** Parameters as the call checks them, each with the value that the example has. */
function queryOf({ query, example }: AnsweredCall): { query?: z.ZodObject } {
  if (!query) return {};
  const shown = Object.entries(query.shape as Record<string, z.ZodType>).map(([name, field]) => {
    const value = example?.query?.[name];
    return [name, value === undefined ? field : field.meta({ ...field.meta(), example: value })] as const;
  });
  return { query: z.object(Object.fromEntries(shown)) };
}

const parametersIn = (path: string): { params?: z.ZodObject } => {
  const names = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => [name!, z.string()] as const);
  return names.length === 0 ? {} : { params: z.object(Object.fromEntries(names)) };
};

const SCOPED = 'key';
const COMPONENTS = {
  securitySchemes: {
    [SCOPED]: {
      type: 'http',
      scheme: 'bearer',
      description: 'A key with the scope that the call needs; people send the cookie of their session instead',
    },
  },
};

/** One call as OpenAPI 3.1 has it: what it is at its path. */
function describeCall(call: AnsweredCall): object {
  const registry = new OpenAPIRegistry();
  const { method, path, says, needs } = call;
  registry.registerPath({
    method,
    path: `/api/v1${path}`,
    summary: says,
    security: needs === null ? [] : [{ [SCOPED]: [needs] }],
    request: { ...queryOf(call), ...parametersIn(path), ...bodyOf(call) },
    responses: {
      ...answerOf(call),
      default: {
        description: 'What is wrong and what to do (RFC 9457)',
        content: { 'application/problem+json': { schema: problem } },
      },
    },
  });
  const { paths } = new OpenApiGeneratorV31(registry.definitions).generateDocument(HEAD);
  return Object.values(paths!)[0] as object;
}

const HEAD = { openapi: '3.1.0', info: { title: 'Wide Ledger', version: '' } };

/** The HTTP interface as OpenAPI 3.1, call by call: together they take seconds, in which others have their turns. */
export async function describeInterface(version: string, calls: Calls): Promise<object> {
  const paths: Record<string, object> = {};
  for (const call of calls.all) {
    const path = `/api/v1${call.path}`;
    paths[path] = { ...paths[path], ...describeCall(call) };
    await setImmediate();
  }
  return { ...HEAD, info: { ...HEAD.info, version }, components: COMPONENTS, paths };
}

/** The description, as a call of its own, and as pages to browse. It is made when somebody asks for it first. */
export function documentOf(version: string, described: Calls): { calls: Calls; pages: RequestHandler[] } {
  const own = new Calls();
  let text: Promise<string> | null = null;
  own.on(
    {
      method: 'get',
      path: '/openapi.json',
      needs: null,
      says: 'This description',
      answer: z.looseObject({ openapi: z.string() }),
    },
    async (_request, response) => {
      text ??= describeInterface(version, calls).then((document) => JSON.stringify(document));
      response.type('json').send(await text);
    },
  );
  const calls = new Calls(described, own);
  const shown = { customSiteTitle: 'Wide Ledger · interface', swaggerUrl: '/api/v1/openapi.json' };
  return { calls, pages: [...swagger.serve, swagger.setup(undefined, shown)] };
}
