/** The test bench process: the simulated plant's devices and their switchboard. */
import { plantDevices } from './plant/devices.ts';
import { readSettings } from './settings.ts';
import { serveBench } from './switchboard/http.ts';

try {
  const { WIDE_LEDGER_BENCH_PORT: port, WIDE_LEDGER_DEVICE_PORT: devicePort } = readSettings(process.env);
  const devices = plantDevices(devicePort);
  for (const device of devices) await device.start();
  const server = await serveBench(devices, '127.0.0.1', port);
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
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
