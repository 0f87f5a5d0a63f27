/** The interface described by the schemas that check it. */
import { OpenApiGeneratorV31, OpenAPIRegistry, type RouteConfig } from '@asteasolutions/zod-to-openapi';
import * as contract from '@wide-ledger/contract';
import { Router } from 'express';
import swagger from 'swagger-ui-express';
import { z } from 'zod';

interface Call {
  readonly method: RouteConfig['method'];
  readonly path: string;
  readonly says: string;
  readonly query?: z.ZodObject;
  readonly body?: z.ZodType;
  readonly answer: z.ZodType;
}

const ok = z.object({});

const CALLS: readonly Call[] = [
  { method: 'get', path: '/health', says: 'Whether the site works; 503 when not', answer: contract.health },
  {
    method: 'post',
    path: '/session',
    says: 'Sign in: sets the session cookie',
    body: contract.signIn,
    answer: contract.session,
  },
  {
    method: 'post',
    path: '/keys',
    says: 'Make a key for a program; shown once',
    body: contract.newKey,
    answer: contract.createdKey,
  },
  {
    method: 'get',
    path: '/tags',
    says: 'Tags by search, in pages',
    query: z.object({ search: z.string().optional(), cursor: z.string().optional(), limit: z.number().optional() }),
    answer: contract.tagList,
  },
  {
    method: 'post',
    path: '/tags',
    says: 'Create one tag or many',
    body: contract.newTags,
    answer: z.object({ results: z.array(contract.tagResult) }),
  },
  {
    method: 'get',
    path: '/sources',
    says: 'Sources and their state',
    answer: z.object({ sources: z.array(contract.source) }),
  },
  {
    method: 'put',
    path: '/sources',
    says: 'Create a source or change its connection',
    body: contract.newSource,
    answer: z.object({ id: z.number() }),
  },
  {
    method: 'post',
    path: '/sources/check',
    says: 'Walk the path to a source, rung by rung',
    body: contract.newSource,
    answer: contract.pathCheck,
  },
  {
    method: 'post',
    path: '/samples',
    says: 'Archive samples; committed when it answers',
    body: contract.newSamples,
    answer: contract.samplesResult,
  },
  {
    method: 'get',
    path: '/history/raw',
    says: 'Samples as they were archived',
    query: contract.rawQuery,
    answer: contract.rawAnswer,
  },
  {
    method: 'get',
    path: '/history/processed',
    says: 'An aggregate of OPC 10000-13 per interval',
    query: contract.processedQuery,
    answer: contract.processedAnswer,
  },
  {
    method: 'get',
    path: '/history/at',
    says: 'Interpolated values at given times',
    query: contract.atQuery,
    answer: contract.atAnswer,
  },
  {
    method: 'get',
    path: '/history/table',
    says: 'Aggregates of several tags over the same intervals',
    query: contract.tableQuery,
    answer: contract.tableAnswer,
  },
  {
    method: 'get',
    path: '/history/computed',
    says: 'Counters, integrals, rates of change, state times, time on',
    query: contract.computedQuery,
    answer: contract.computedAnswer,
  },
  {
    method: 'get',
    path: '/history/modified',
    says: 'What was replaced or removed: old values with when, by whom and why',
    query: contract.modifiedQuery,
    answer: contract.modifiedAnswer,
  },
  {
    method: 'get',
    path: '/history/export',
    says: 'A file of history of any length: CSV, XLSX, Parquet or JSON',
    query: contract.exportQuery,
    answer: ok,
  },
  {
    method: 'post',
    path: '/history/corrections',
    says: 'Put new values in the place of old ones, which stay readable',
    body: contract.newCorrection,
    answer: contract.samplesResult,
  },
  {
    method: 'post',
    path: '/history/removals',
    says: 'Remove the values of a window; they stay readable as modified',
    body: contract.newRemoval,
    answer: contract.removalAnswer,
  },
  {
    method: 'get',
    path: '/annotations',
    says: 'Annotations on tags in a window',
    query: contract.annotationsQuery,
    answer: contract.annotationsAnswer,
  },
  {
    method: 'post',
    path: '/annotations',
    says: 'Annotate a tag at a time',
    body: contract.newAnnotation,
    answer: contract.annotation,
  },
  { method: 'delete', path: '/annotations/{tag}/{id}', says: 'Take an annotation away', answer: ok },
  {
    method: 'patch',
    path: '/tags/{name}',
    says: 'Change how a tag is described, held and aggregated',
    body: contract.tagChange,
    answer: contract.tag,
  },
  {
    method: 'post',
    path: '/imports',
    says: 'Take a CSV, XLSX or Parquet file (the body) and say what its columns are; nothing is archived',
    query: z.object({ name: z.string(), zone: z.string().optional() }),
    answer: contract.importedFile,
  },
  { method: 'get', path: '/imports/{id}', says: 'How far a file is', answer: contract.importedFile },
  {
    method: 'post',
    path: '/imports/{id}/rehearsal',
    says: 'What would become of every value',
    body: contract.importPlan,
    answer: contract.importReport,
  },
  {
    method: 'post',
    path: '/imports/{id}/run',
    says: 'Archive the file in the background',
    body: contract.importPlan,
    answer: contract.importedFile,
  },
  { method: 'post', path: '/imports/{id}/stop', says: 'Stop archiving; it can be gone on with', answer: ok },
  { method: 'get', path: '/stores', says: 'Stores with what they hold', answer: contract.storesAnswer },
  {
    method: 'post',
    path: '/stores',
    says: 'Add a store by its address; it is made ready',
    body: contract.newStore,
    answer: contract.store,
  },
  {
    method: 'get',
    path: '/stores/{id}/retention',
    says: 'What a retention of so many months would let go',
    query: contract.retentionQuery,
    answer: contract.retentionPreview,
  },
  {
    method: 'put',
    path: '/stores/{id}/retention',
    says: 'Keep so many months; drops what lies before',
    body: contract.retention,
    answer: contract.store,
  },
  {
    method: 'post',
    path: '/stores/moves',
    says: 'Move tags with their history to another store',
    body: contract.newMove,
    answer: contract.movesAnswer,
  },
  {
    method: 'get',
    path: '/history/envelope',
    says: 'Least and greatest per pixel column, with gaps',
    query: contract.envelopeQuery,
    answer: contract.envelopeAnswer,
  },
  {
    method: 'get',
    path: '/coverage',
    says: 'What was watched, by origin',
    query: contract.coverageQuery,
    answer: contract.coverageAnswer,
  },
  {
    method: 'get',
    path: '/gaps',
    says: 'What was not watched, and why',
    query: contract.coverageQuery,
    answer: contract.gapsAnswer,
  },
  {
    method: 'get',
    path: '/live',
    says: 'Current values as server-sent events',
    query: z.object({ tags: z.string() }),
    answer: z.array(contract.liveSample),
  },
  { method: 'get', path: '/desk', says: 'The state of the site', answer: contract.desk },
  {
    method: 'put',
    path: '/jobs',
    says: 'Long work reports its progress',
    body: contract.jobReport,
    answer: z.object({ stop: z.boolean() }),
  },
  {
    method: 'get',
    path: '/collector/configuration',
    says: 'What a collector is to do',
    answer: contract.collectorConfiguration,
  },
  {
    method: 'post',
    path: '/collector/report',
    says: 'What a collector says of itself',
    body: contract.collectorReport,
    answer: contract.collectorOrders,
  },
  { method: 'get', path: '/bench', says: 'Devices of the test bench', answer: contract.benchAnswer },
  { method: 'post', path: '/bench/{device}/{action}', says: 'Cut or restore a device of the test bench', answer: ok },
];

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
