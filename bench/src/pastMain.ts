/** The process that writes the demo's past: apart from the devices, so that these keep their pace. */
import { constants, setPriority } from 'node:os';
import { join } from 'node:path';
import { ServerCalls } from './past/delivery.ts';
import { seedPast } from './past/seed.ts';
import { KILNBANK_PORT } from './plant/devices.ts';
import { readSettings } from './settings.ts';

try {
  // The past can wait for the present.
  setPriority(constants.priority.PRIORITY_LOW);
  const settings = readSettings(process.env);
  const calls = new ServerCalls(settings.WIDE_LEDGER_SERVER, settings.WIDE_LEDGER_KEY);
  const connection = { host: '127.0.0.1', port: settings.WIDE_LEDGER_DEVICE_PORT, unit: 1, timeoutMilliseconds: 1000 };
  await seedPast(
    calls,
    connection,
    join(settings.WIDE_LEDGER_DATA, 'past.json'),
    settings.WIDE_LEDGER_DEVICE_PORT + KILNBANK_PORT,
  );
} catch (error) {
  console.error(`The demo's past could not be written: ${(error as Error).message}`);
  process.exit(1);
}
