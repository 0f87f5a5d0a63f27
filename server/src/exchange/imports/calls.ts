import { Calls } from '../../ground/index.ts';
import { importPlan, importReport, importedFile } from '@wide-ledger/contract';
import { z } from 'zod';
import { doerOf, visitorOf, type Logbook } from '../../people/index.ts';
import type { Imports } from './imports.ts';

const takeQuery = z.strictObject({
  name: z.string().min(1).max(200),
  zone: z.string().max(60).default('UTC'),
  sheet: z.string().max(100).optional(),
});

/** Bringing files in: take, rehearse, run, stop. */
export function importCalls(imports: Imports, logbook: Logbook): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'post',
      path: '/imports',
      needs: 'write',
      says: 'Take a CSV, XLSX or Parquet file (the body) and say what its columns are; nothing is archived',
      query: takeQuery,
      takes: { as: 'stream' },
      answer: importedFile,
    },
    async (request, response) => {
      const { name, zone, sheet = null } = takeQuery.parse(request.query);
      response.status(201).json(await imports.take(name, request, zone, sheet, visitorOf(request).name));
    },
  );
  calls.on(
    { method: 'get', path: '/imports/{id}', needs: 'write', says: 'How far a file is', answer: importedFile },
    async (request, response) => {
      response.json(await imports.find(String(request.params.id)));
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/imports/{id}/rehearsal',
      needs: 'write',
      says: 'What would become of every value',
      body: importPlan,
      answer: importReport,
    },
    async (request, response) => {
      response.json(await imports.rehearse(String(request.params.id), importPlan.parse(request.body)));
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/imports/{id}/run',
      needs: 'write',
      says: 'Archive the file in the background',
      body: importPlan,
      answer: importedFile,
    },
    async (request, response) => {
      const started = await imports.run(String(request.params.id), importPlan.parse(request.body));
      await logbook.note(doerOf(request), { act: 'imported', sentence: `The file ${started.name} was set going.` });
      response.status(202).json(started);
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/imports/{id}/stop',
      needs: 'write',
      says: 'Stop archiving; it can be gone on with',
      answer: null,
    },
    async (request, response) => {
      await imports.stop(String(request.params.id));
      response.status(204).end();
    },
  );
  return calls;
}
