/** One site: a server with its own database, put together in the order of the wings. Several can live on one machine. */
import express from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import type { Server } from 'node:http';
import { join, resolve } from 'node:path';
import type { Logger } from 'pino';
import { openArchive, type PostingThread } from './archive/index.ts';
import { openConfiguration } from './configuration/index.ts';
import { openExchange } from './exchange/index.ts';
import { openCollectors, openField } from './field/index.ts';
import { openFigures } from './figures/index.ts';
import {
  Calls,
  documentOf,
  httpServer,
  notFound,
  numbering,
  jobCalls,
  openDoor,
  openGround,
  problemHandler,
  type Database,
  type Settings,
  type ThreadPrograms,
} from './ground/index.ts';
import { doerOf, openPeople } from './people/index.ts';

export const VERSION = '0.2.0';

export interface Site {
  readonly url: string;
  readonly database: Database;
  readonly posting: PostingThread;
  close(): Promise<void>;
}

/**
 * Opens the database, brings it up to date, and listens.
 * @param schemaFolder holds the database's `migrations` and `functions`.
 * @throws Error with a sentence when the port is taken.
 */
export async function openSite(
  settings: Settings,
  schemaFolder: string,
  programs: ThreadPrograms,
  log: Logger,
): Promise<Site> {
  const ground = await openGround(settings, schemaFolder, log);
  const people = await openPeople(ground);
  const configuration = await openConfiguration(ground, people);
  const collectors = openCollectors();
  const archive = await openArchive(ground, people, configuration, programs, () => collectors.arriving);
  const field = openField(ground, people, configuration, archive, collectors);
  const exchange = await openExchange(ground, people, configuration, archive, VERSION);
  collectors.links = () => exchange.accounts();
  const figures = openFigures(ground, configuration, archive, field, exchange, VERSION);

  const app = express();
  app.disable('x-powered-by');
  app.use(numbering);
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: { 'style-src': ["'self'", "'unsafe-inline'"], 'upgrade-insecure-requests': null },
      },
    }),
  );
  const { calls, pages } = documentOf(
    VERSION,
    new Calls(
      jobCalls(ground.jobs, (request, act, title) =>
        people.logbook.note(doerOf(request), { act, sentence: `${title}.` }),
      ),
      people.calls,
      configuration.calls,
      archive.calls,
      field.calls,
      exchange.calls,
      figures.calls,
    ),
  );
  const door = openDoor(calls, people.guard.admit);
  app.use('/api/v1', door);
  // Where whoever collects metrics looks for them.
  app.get('/metrics', door);
  app.use('/api/docs', ...pages);
  serveInterface(app, settings.WIDE_LEDGER_WEB);
  app.use((request) => {
    throw notFound(`There is nothing at ${request.originalUrl}. The calls for programs begin with /api/v1.`);
  });
  app.use(problemHandler(log));

  const { database, jobs } = ground;
  const server = httpServer(app);
  let port: number;
  try {
    port = await listen(server, settings);
    await jobs.open();
  } catch (error) {
    server.close();
    people.close();
    await archive.close();
    await database.pool.end();
    throw error;
  }
  archive.start();
  exchange.start(figures.account);
  return {
    url: `http://${settings.WIDE_LEDGER_HOST}:${port}`,
    database,
    posting: archive.posting,
    async close() {
      server.closeAllConnections();
      await new Promise((done) => server.close(done));
      people.close();
      await exchange.close();
      await jobs.close();
      await archive.close();
      await database.pool.end();
    },
  };
}

/** The built interface; every path that is no file is the application's own and gets its page. */
function serveInterface(app: express.Express, folder: string | undefined): void {
  if (!folder || !existsSync(folder)) return;
  app.use('/assets', express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y' }));
  app.use(express.static(folder, { index: false }));
  app.get('/{*path}', (_request, response) => {
    response.set('cache-control', 'no-cache').sendFile(resolve(folder, 'index.html'));
  });
}

function listen(server: Server, settings: Settings): Promise<number> {
  const { WIDE_LEDGER_PORT: port, WIDE_LEDGER_HOST: host } = settings;
  return new Promise((done, fail) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      fail(
        error.code === 'EADDRINUSE'
          ? new Error(
              `Port ${port} on ${host} is taken by another program. Set WIDE_LEDGER_PORT to a free one. (EADDRINUSE)`,
            )
          : error,
      );
    });
    server.listen(port, host, () => {
      const address = server.address();
      done(typeof address === 'object' && address ? address.port : port);
    });
  });
}
