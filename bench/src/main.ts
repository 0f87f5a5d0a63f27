/** The test bench process: the simulated plant's devices and their switchboard. */
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
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
    WIDE_LEDGER_DATA: data,
  } = readSettings(process.env);
  const devices = plantDevices(devicePort, join(data, 'bench'));
  const server = await serveBench(devices, token, '127.0.0.1', port);
  // One after the other: the first are needed first, and some take seconds.
  for (const device of devices) await device.start();
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
