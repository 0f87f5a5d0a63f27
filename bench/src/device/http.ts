/** The test bench's own switchboard: what devices there are, and cutting and restoring them. */
import express from 'express';
import type { Server } from 'node:http';
import type { ModbusDevice } from './modbusDevice.ts';

/** The bench's own controls over HTTP: cut, restore, and the state of each device. */
export function serveBench(devices: readonly ModbusDevice[], host: string, port: number): Promise<Server> {
  const app = express();
  app.get('/devices', (_request, response) => {
    response.json({ devices: devices.map((device) => device.state) });
  });
  app.post('/devices/:name/:action', async (request, response) => {
    const device = devices.find((one) => one.state.name === request.params.name);
    if (!device || !['cut', 'restore'].includes(request.params.action)) {
      response.status(404).json({ detail: 'No such device or action.' });
      return;
    }
    await (request.params.action === 'cut' ? device.cut() : device.restore());
    response.json(device.state);
  });
  return new Promise((done, fail) => {
    const server = app.listen(port, host, (error?: Error) => {
      if (error)
        fail(
          new Error(
            `Port ${port} of the test bench is taken. Set WIDE_LEDGER_BENCH_PORT to a free one. (${error.message})`,
          ),
        );
      else done(server);
    });
  });
}
