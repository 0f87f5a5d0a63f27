/** The collector process. */
import { pino } from 'pino';
import { Collector } from './collector.ts';
import { Faults } from './isolation/isolation.ts';
import { writeLastEnd } from './isolation/lastEnd.ts';
import { readSettings } from './settings.ts';

// Whatever is written is its owner's alone.
process.umask(0o077);

try {
  const settings = readSettings(process.env);
  const log = pino({
    level: settings.WIDE_LEDGER_LOG,
    base: { process: 'collector', name: settings.WIDE_LEDGER_COLLECTOR },
  });
  const faults = new Faults({
    borne: (error, source) => log.error({ error: error.stack, source }, 'a fault in a library ended a session'),
    fatal: (error, source) => {
      log.fatal({ error: error.stack, source }, 'the collector ends because of a fault');
      writeLastEnd(settings.WIDE_LEDGER_COLLECTOR_DATA, {
        at: Date.now(),
        reason: error.message.slice(0, 500),
        source,
      });
      process.exit(1);
    },
  });
  process.on('uncaughtException', (error) => faults.uncaught(error));
  const collector = await Collector.start(settings, log);
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
    process.once(signal, () => {
      void collector.stop().then(() => process.exit(0));
    });
  }
} catch (error) {
  console.error((error as Error).message);
  process.exit(1);
}
