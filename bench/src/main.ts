/** The test bench process: the simulated plant's devices and their switchboard. */
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { SiteLine } from './devices/siteLine.ts';
import { plantDevices } from './plant/devices.ts';
import { readSettings } from './settings.ts';
import { serveBench } from './switchboard/http.ts';

// Whatever is written is its owner's alone.
process.umask(0o077);

try {
  const {
    WIDE_LEDGER_BENCH_PORT: port,
    WIDE_LEDGER_BENCH_TOKEN: token = randomBytes(32).toString('hex'),
    WIDE_LEDGER_DEVICE_PORT: devicePort,
    WIDE_LEDGER_REGION_PORT: regionPort,
    WIDE_LEDGER_DATA: data,
    WIDE_LEDGER_RECORDER_FOLDER: folder,
    WIDE_LEDGER_LOGGER_URL: url,
    WIDE_LEDGER_LOGGER_PASSWORD: password,
  } = readSettings(process.env);
  const records = folder === undefined || url === undefined ? undefined : { folder, database: { url, password } };
  const devices = plantDevices(devicePort, join(data, 'bench'), regionPort, records);
  const server = await serveBench(devices, token, '127.0.0.1', port);
  // One after the other: the first are needed first, and some take seconds; a line alone takes nothing.
  const lines = devices.filter((device) => device instanceof SiteLine);
  await Promise.all(lines.map((line) => line.start()));
  for (const device of devices) if (!(device instanceof SiteLine)) await device.start();
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
    process.once(signal, () => {
      server.closeAllConnections();
      server.close();
      void Promise.all(devices.map((device) => device.stop())).then(() => process.exit(0));
    });
  }
} catch (error) {
  console.error((error as Error).message);
  process.exit(1);
}
