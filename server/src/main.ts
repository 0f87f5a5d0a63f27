/** The server process of one site. */
import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { readSettings } from './ground/index.ts';
import { openSite } from './site.ts';

// Whatever is written is its owner's alone.
process.umask(0o077);

try {
  const settings = readSettings(process.env);
  const log = pino({ level: settings.WIDE_LEDGER_LOG, base: { process: 'server', site: settings.WIDE_LEDGER_SITE } });
  const beside = (file: string): string => fileURLToPath(new URL(file, import.meta.url));
  const programs = {
    reading: beside('readingLoader.cjs'),
    posting: beside('posting.mjs'),
    deriving: beside('deriving.mjs'),
  };
  const site = await openSite(settings, beside('..'), programs, log);
  log.info({ url: site.url }, 'listening');
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
    process.once(signal, () => {
      void site.close().then(() => process.exit(0));
    });
  }
} catch (error) {
  console.error((error as Error).message);
  process.exit(1);
}
