/** The test bench process: the simulated plant's devices and their switchboard. */
import { serveBench } from './device/http.ts';
import { ModbusDevice } from './device/modbusDevice.ts';
import { THORNMERE } from './plant/thornmere.ts';
import { readSettings } from './settings.ts';

try {
  const { WIDE_LEDGER_BENCH_PORT: port, WIDE_LEDGER_DEVICE_PORT: devicePort } = readSettings(process.env);
  const device = new ModbusDevice(THORNMERE, '127.0.0.1', devicePort, devicePort + 1);
  await device.start();
  const server = await serveBench([device], '127.0.0.1', port);
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.once(signal, () => {
      server.closeAllConnections();
      server.close();
      void device.stop().then(() => process.exit(0));
    });
  }
} catch (error) {
  console.error((error as Error).message);
  process.exit(1);
}
