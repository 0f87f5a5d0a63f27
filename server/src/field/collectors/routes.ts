import { collectorReport, collectorSays, configurationQuery, questionsQuery } from '@wide-ledger/contract';
import { Router } from 'express';
import type { Pool } from 'pg';
import type { Guard } from '../../people/index.ts';
import type { Catalogue, Secrets } from '../../configuration/index.ts';
import type { Questions } from '../questions/questions.ts';
import type { Collectors } from './collectors.ts';
import { changesSince, configurationOf, readSources, stampOf } from './told.ts';

/** What collectors ask and tell: configuration, reports, questions that are waiting and what they say to them. */
export function collectorRoutes(
  home: Pool,
  catalogue: Catalogue,
  opener: Secrets,
  collectors: Collectors,
  questions: Questions,
  guard: Guard,
): Router {
  const router = Router();
  router.get('/collector/configuration', guard.needs('collect'), async (request, response) => {
    const { since, stamp } = configurationQuery.parse(request.query);
    await catalogue.refresh();
    const newest = await stampOf(home, catalogue.collectorVersion);
    const secrets = await opener.openFor(readSources(catalogue).map(({ connection }) => connection));
    // A collector may run a version that this server, restored from a backup, never had.
    const knows = since !== undefined && since <= catalogue.collectorVersion && stamp === (await stampOf(home, since));
    const told = { stamp: newest, secrets };
    response.json(knows ? changesSince(catalogue, told, since) : configurationOf(catalogue, told));
  });
  router.post('/collector/report', guard.needs('collect'), async (request, response) => {
    collectors.take(collectorReport.parse(request.body));
    await catalogue.refresh();
    response.json({ version: catalogue.collectorVersion });
  });
  router.get('/collector/questions', guard.needs('collect'), async (request, response) => {
    const { wait } = questionsQuery.parse(request.query);
    const left = new Promise<void>((done) => response.once('close', done));
    response.json({ questions: await questions.next(wait, left) });
  });
  router.post('/collector/answers', guard.needs('collect'), (request, response) => {
    questions.take(collectorSays.parse(request.body));
    response.json({ ok: true });
  });
  return router;
}
