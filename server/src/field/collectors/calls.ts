import { Calls, DEVICE_JSON, freeBytes, refuseUnwritable } from '../../ground/index.ts';
import { z } from 'zod';
import {
  collectorConfiguration,
  collectorOrders,
  collectorReport,
  collectorSays,
  configurationChanges,
  configurationQuery,
  questionsAnswer,
  questionsQuery,
} from '@wide-ledger/contract';
import type { Request } from 'express';
import type { Pool } from 'pg';
import type { Catalogue, Secrets } from '../../configuration/index.ts';
import { visitorOf, type Keys } from '../../people/index.ts';
import type { Questions } from '../questions/questions.ts';
import type { Collectors } from './collectors.ts';
import { Leases } from './leases.ts';
import { changesSince, configurationOf, connectionsFor, readSources, stampOf, wereHandedOver } from './told.ts';

/** What collectors ask and tell: configuration, reports, questions that are waiting and what they say to them. */
export function collectorCalls(
  home: Pool,
  catalogue: Catalogue,
  opener: Secrets,
  collectors: Collectors,
  questions: Questions,
  keys: Keys,
  dataFolder: string,
): Calls {
  const calls = new Calls();
  const leasing = new Leases(home, collectors);

  /** Which collector asks: it says so, or its key does; null where neither does. */
  async function askingCollector(request: Request, named: string | undefined): Promise<string | null> {
    const visitor = visitorOf(request);
    if (named !== undefined) await keys.speakAs(visitor, named);
    return named ?? (visitor.pass.kind === 'key' ? visitor.pass.collector : null);
  }

  calls.on(
    {
      method: 'get',
      path: '/collector/configuration',
      needs: 'collect',
      says: 'What a collector is to do: all of it, or what changed since the version that it has',
      query: configurationQuery,
      answer: z.union([configurationChanges, collectorConfiguration]),
    },
    async (request, response) => {
      const { since, stamp, collector: named } = configurationQuery.parse(request.query);
      const collector = await askingCollector(request, named);
      await catalogue.refresh();
      const newest = await stampOf(home, catalogue.collectorVersion);
      const sources = readSources(catalogue, collector);
      const secrets = await opener.openFor(sources.flatMap((source) => connectionsFor(source, collector)));
      // A collector may run a version that this server, restored from a backup, never had.
      const knows =
        since !== undefined &&
        since <= catalogue.collectorVersion &&
        stamp === (await stampOf(home, since)) &&
        !(await wereHandedOver(home, since));
      const told = { collector, stamp: newest, secrets };
      response.json(knows ? changesSince(catalogue, sources, told, since) : configurationOf(catalogue, sources, told));
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/collector/report',
      needs: 'collect',
      says: 'What a collector says of itself',
      body: collectorReport,
      takes: DEVICE_JSON,
      answer: collectorOrders,
    },
    async (request, response) => {
      const report = collectorReport.parse(request.body);
      // The key is given this name, and keeps it.
      refuseUnwritable(report.name, 'name');
      await keys.speakAs(visitorOf(request), report.name);
      collectors.take(report);
      await catalogue.refresh();
      const archiveFreeBytes = await freeBytes(dataFolder);
      const leases = await leasing.ordersFor(report);
      const links = await collectors.links();
      response.json({ version: catalogue.collectorVersion, now: Date.now(), archiveFreeBytes, leases, links });
    },
  );
  calls.on(
    {
      method: 'get',
      path: '/collector/questions',
      needs: 'collect',
      says: 'What somebody is waiting to hear from a collector; answered as soon as there is something',
      query: questionsQuery,
      answer: questionsAnswer,
    },
    async (request, response) => {
      const { wait, collector: named } = questionsQuery.parse(request.query);
      const collector = await askingCollector(request, named);
      const left = new Promise<void>((done) => response.once('close', done));
      response.json({ questions: await questions.next(wait, left, collector) });
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/collector/answers',
      needs: 'collect',
      says: 'What a collector says to a question',
      body: collectorSays,
      takes: DEVICE_JSON,
      answer: null,
    },
    (request, response) => {
      questions.take(collectorSays.parse(request.body));
      response.json({ ok: true });
    },
  );
  return calls;
}
