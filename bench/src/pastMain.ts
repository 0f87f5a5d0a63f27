/** The process that writes the demo's past: apart from the devices, so that these keep their pace. */
import { constants, setPriority } from 'node:os';
import { join } from 'node:path';
import { ServerCalls } from './past/delivery.ts';
import { seedPast } from './past/seed.ts';
import { KILNBANK_PORT, THORNMERE_CONTROLLER_PORT } from './plant/devices.ts';
import { readSettings } from './settings.ts';

try {
  // The past can wait for the present.
  setPriority(constants.priority.PRIORITY_LOW);
  const settings = readSettings(process.env);
  const calls = new ServerCalls(settings.WIDE_LEDGER_SERVER, settings.WIDE_LEDGER_KEY);
  const port = settings.WIDE_LEDGER_DEVICE_PORT;
  const connection = { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: 1000 };
  await seedPast(calls, connection, join(settings.WIDE_LEDGER_DATA, 'past.json'), {
    kilnbankPort: port + KILNBANK_PORT,
    thornmerePort: port + THORNMERE_CONTROLLER_PORT,
    collector: settings.WIDE_LEDGER_COLLECTOR,
  });
} catch (error) {
  console.error(`The demo's past could not be written: ${(error as Error).message}`);
  process.exit(1);
}
