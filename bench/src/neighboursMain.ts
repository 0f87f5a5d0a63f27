/** The process that sets up the demo's other sites, and links all of them to the region. */
import { z } from 'zod';
import { untilAllAnswer } from './past/answering.ts';
import { joinSites } from './past/neighbours.ts';
import { ServerCalls } from './past/delivery.ts';
import { BOILER_LOG_PORT, KILNBANK_PORT, SALTQUAY_PORT } from './plant/devices.ts';
import { readSettings } from './settings.ts';

const site = z.object({ url: z.url(), key: z.string() });
const sites = z.object({ thornmere: site, kilnbank: site, saltquay: site, region: site });

try {
  const {
    WIDE_LEDGER_DEVICE_PORT: port,
    WIDE_LEDGER_RECORDER_FOLDER: folder = '',
    WIDE_LEDGER_LOGGER_PASSWORD: password,
  } = readSettings(process.env);
  const given = sites.parse(JSON.parse(process.env.WIDE_LEDGER_SITES ?? ''));
  const callsOf = ({ url, key }: z.infer<typeof site>): ServerCalls => new ServerCalls(url, key);
  await untilAllAnswer([port + KILNBANK_PORT, port + SALTQUAY_PORT, port + BOILER_LOG_PORT]);
  await joinSites(
    {
      thornmere: callsOf(given.thornmere),
      kilnbank: callsOf(given.kilnbank),
      saltquay: callsOf(given.saltquay),
      region: callsOf(given.region),
    },
    port,
    { folder, password },
  );
} catch (error) {
  console.error(`The demo's sites could not be linked: ${(error as Error).message}`);
  process.exit(1);
}
