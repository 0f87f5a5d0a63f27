/** The collector process. */
import { pino } from 'pino';
import { Collector } from './collector.ts';
import { readSettings } from './settings.ts';

// Whatever is written is its owner's alone.
process.umask(0o077);

try {
  const settings = readSettings(process.env);
  const log = pino({
    level: settings.WIDE_LEDGER_LOG,
    base: { process: 'collector', name: settings.WIDE_LEDGER_COLLECTOR },
  });
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
