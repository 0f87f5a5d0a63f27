/** One site: a server with its own database, put together. Several can live in one process or on one machine. */
import express from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { join, resolve } from 'node:path';
import type { Logger } from 'pino';
import { Guard } from './access/guard.ts';
import { accessRoutes, prepareAdministrator } from './access/routes.ts';
import { keyFile, Seal } from './access/seal.ts';
import { annotationRoutes } from './annotations/routes.ts';
import { benchRoutes } from './bench/routes.ts';
import { Collectors } from './collectors/collectors.ts';
import { collectorRoutes } from './collectors/routes.ts';
import { Coverage } from './coverage/coverage.ts';
import { coverageRoutes } from './coverage/routes.ts';
import { openDatabase, prepareReader, type Database } from './database/connect.ts';
import { healthRoutes } from './desk/health.ts';
import { deskRoutes } from './desk/routes.ts';
import { documentPages, documentRoutes } from './documents/openapi.ts';
import { ProblemError, problemHandler } from './http/problem.ts';
import { correctionRoutes } from './journal/corrections.ts';
import { Imports } from './imports/imports.ts';
import { importRoutes } from './imports/routes.ts';
import { Journal } from './journal/journal.ts';
import { JournalRotation } from './journal/rotation.ts';
import { journalRoutes } from './journal/routes.ts';
import { jobRoutes } from './jobs/routes.ts';
import { PostingThread } from './ledger/postingThread.ts';
import { Present } from './live/present.ts';
import { liveRoutes } from './live/routes.ts';
import { ReadingPool } from './reading/pool.ts';
import { readingRoutes } from './reading/routes.ts';
import type { Settings } from './settings.ts';
import { sourceRoutes } from './sources/routes.ts';
import { StoreKeeper } from './stores/keeper.ts';
import { storeRoutes } from './stores/routes.ts';
import { Stores } from './stores/stores.ts';
import { Catalogue } from './tags/store.ts';
import type { ThreadPrograms } from './threads.ts';
import { tagRoutes } from './tags/routes.ts';

export const VERSION = '0.1.0';

export interface Site {
  readonly url: string;
  readonly database: Database;
  readonly posting: PostingThread;
  close(): Promise<void>;
}

/** Opens the database, brings it up to date, and listens. @throws Error with a sentence when the port is taken. */
export async function openSite(
  settings: Settings,
  migrationsFolder: string,
  programs: ThreadPrograms,
  log: Logger,
): Promise<Site> {
  const database = await openDatabase(settings.DATABASE_URL, migrationsFolder, log);
  if (settings.WIDE_LEDGER_ADMIN_PASSWORD) await prepareAdministrator(database, settings.WIDE_LEDGER_ADMIN_PASSWORD);
  if (settings.WIDE_LEDGER_READER_PASSWORD) await prepareReader(database, settings.WIDE_LEDGER_READER_PASSWORD, log);

  const guard = new Guard(database, keyFile(settings.WIDE_LEDGER_DATA, 'session.key'));
  const catalogue = new Catalogue(database);
  const present = new Present(database);
  const collectors = new Collectors();
  const coverage = new Coverage(database, catalogue, (source) => collectors.isArriving(source));
  const journal = new Journal(database);
  await Promise.all([catalogue.refresh(), journal.prepareDays()]);
  const sealKey = keyFile(settings.WIDE_LEDGER_DATA, 'seal.key');
  const seal = new Seal(sealKey);
  const stores = new Stores(database.pool, seal, log);
  const threadSettings = { databaseUrl: settings.DATABASE_URL, sealKey, logLevel: settings.WIDE_LEDGER_LOG };
  const reading = new ReadingPool(programs.reading, threadSettings);
  const keeper = new StoreKeeper(database, stores, catalogue, log);
  const rotation = new JournalRotation(stores, settings.WIDE_LEDGER_JOURNAL_DAYS, log);

  const imports = new Imports(settings.WIDE_LEDGER_DATA, catalogue, stores, journal);
  const posting = new PostingThread(programs.posting, threadSettings);

  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: { 'style-src': ["'self'", "'unsafe-inline'"], 'upgrade-insecure-requests': null },
      },
    }),
  );
  const api = express.Router();
  // Entries are binary and read by their own route; everything else is JSON.
  api.use('/samples', express.json({ limit: '64mb' }));
  api.use('/tags', express.json({ limit: '64mb' }));
  api.use(express.json({ type: 'application/json', limit: '2mb' }));
  api.use(
    healthRoutes(database, posting, VERSION),
    accessRoutes(database, guard),
    documentRoutes(VERSION),
    journalRoutes(catalogue, journal, present, guard),
    liveRoutes(catalogue, present, guard),
    tagRoutes(catalogue, present, guard),
    sourceRoutes(catalogue, collectors, guard),
    collectorRoutes(catalogue, collectors, guard),
    readingRoutes(catalogue, coverage, reading, guard),
    correctionRoutes(catalogue, stores, journal, present, guard),
    annotationRoutes(catalogue, stores, guard),
    importRoutes(imports, guard),
    storeRoutes(keeper, stores, catalogue, seal, migrationsFolder, database, log, guard),
    coverageRoutes(catalogue, coverage, guard),
    jobRoutes(database, guard),
    deskRoutes(settings, database, catalogue, collectors, posting, guard),
    benchRoutes(settings.WIDE_LEDGER_BENCH_URL, guard),
  );
  api.use((request) => {
    throw new ProblemError(
      404,
      'Not found',
      `There is no call ${request.method} ${request.originalUrl}. /api/docs lists them.`,
    );
  });
  app.use('/api/v1', api);
  app.use('/api/docs', documentPages(VERSION));
  serveInterface(app, settings.WIDE_LEDGER_WEB);
  app.use(problemHandler(log));

  const server = createServer(app);
  const port = await listen(server, settings);
  keeper.start();
  rotation.start();
  imports.resume();
  return {
    url: `http://${settings.WIDE_LEDGER_HOST}:${port}`,
    database,
    posting,
    async close() {
      server.closeAllConnections();
      await new Promise((done) => server.close(done));
      await Promise.all([keeper.stop(), rotation.stop(), imports.close()]);
      await Promise.all([posting.stop(), reading.close()]);
      await stores.close();
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
