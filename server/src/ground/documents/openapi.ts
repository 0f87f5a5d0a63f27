/** The interface described by the schemas that check it. */
import { OpenApiGeneratorV31, OpenAPIRegistry } from '@asteasolutions/zod-to-openapi';
import * as contract from '@wide-ledger/contract';
import { Router } from 'express';
import swagger from 'swagger-ui-express';
import type { z } from 'zod';
import { CALLS } from './calls.ts';

/** The HTTP interface as OpenAPI 3.1, out of the same shapes that check requests. */
export function describeInterface(version: string): object {
  const registry = new OpenAPIRegistry();
  const json = (schema: z.ZodType) => ({ content: { 'application/json': { schema } } });
  for (const { method, path, says, query, body, answer } of CALLS) {
    registry.registerPath({
      method,
      path: `/api/v1${path}`,
      summary: says,
      request: { ...(query ? { query } : {}), ...(body ? { body: json(body) } : {}) },
      responses: {
        200: { description: 'The answer', ...json(answer) },
        default: {
          description: 'What is wrong and what to do (RFC 9457)',
          content: { 'application/problem+json': { schema: contract.problem } },
        },
      },
    });
  }
  return new OpenApiGeneratorV31(registry.definitions).generateDocument({
    openapi: '3.1.0',
    info: { title: 'Wide Ledger', version },
  });
}

/** Serves the description itself. */
export function documentRoutes(version: string): Router {
  const router = Router();
  const document = describeInterface(version);
  router.get('/openapi.json', (_request, response) => {
    response.json(document);
  });
  return router;
}

/** Pages to browse the description. */
export function documentPages(version: string): Router {
  const router = Router();
  router.use(swagger.serve, swagger.setup(describeInterface(version), { customSiteTitle: 'Wide Ledger · interface' }));
  return router;
}
