/** The test bench's own switchboard: what devices there are, and what is wrong with their lines. */
import express from 'express';
import { createHash, timingSafeEqual } from 'node:crypto';
import type { Server } from 'node:http';
import { z } from 'zod';
import type { Device } from '../devices/device.ts';
import { SHAPES } from '../plant/signals.ts';

const digest = (text: string): Buffer => createHash('sha256').update(text).digest();

const fault = z
  .discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('cut') }),
    z.strictObject({ kind: z.literal('stalled') }),
    z.strictObject({ kind: z.literal('slow'), milliseconds: z.number().int().min(1).max(60_000) }),
    z.strictObject({ kind: z.literal('narrow'), bytesPerSecond: z.number().int().min(1).max(1_000_000_000) }),
    z.strictObject({ kind: z.literal('deaf') }),
    z.strictObject({ kind: z.literal('doubled') }),
    z.strictObject({ kind: z.literal('lossy'), percent: z.number().min(0).max(90) }),
    z.strictObject({
      kind: z.literal('flapping'),
      wholeMilliseconds: z.number().int().min(100).max(600_000),
      cutMilliseconds: z.number().int().min(100).max(600_000),
    }),
  ])
  .nullable();
const signal = z.strictObject({
  number: z.number().int().min(1).max(100),
  shape: z.enum(SHAPES),
  period: z.number().min(0.02).max(86_400),
  amplitude: z.number().min(0).max(1e9),
  offset: z.number().min(-1e9).max(1e9),
  renewMilliseconds: z.number().int().min(1).max(3_600_000),
});
/** By how much a device's clock is to be wrong. */
const clock = z.strictObject({
  seconds: z
    .number()
    .min(-86_400 * 400)
    .max(86_400 * 400),
});
const script = z.array(z.strictObject({ after: z.number().int().min(0).max(86_400_000), fault })).max(1000);

/**
 * The bench's own controls over HTTP: each device's state, a fault of its line, or a script of faults.
 * @param token that whoever asks has to show: a page in a browser on this machine could ask, too.
 */
export function serveBench(devices: readonly Device[], token: string, host: string, port: number): Promise<Server> {
  const app = express();
  const expected = digest(`Bearer ${token}`);
  app.use((request, response, next) => {
    const shown = digest(request.headers.authorization ?? '');
    if (request.headers.origin === undefined && timingSafeEqual(shown, expected)) next();
    else response.status(401).json({ detail: 'The test bench is asked through Wide Ledger.' });
  });
  app.use(express.json());
  app.get('/devices', (_request, response) => {
    response.json({ devices: devices.map((device) => device.state) });
  });
  app.put('/devices/:name/signal', (request, response) => {
    const device = devices.find((one) => one.state.name === request.params.name);
    const given = signal.safeParse(request.body);
    if (!given.success) {
      response.status(400).json({ detail: z.prettifyError(given.error) });
      return;
    }
    const { number, ...set } = given.data;
    if (!device?.setSignal?.(number, set)) response.status(404).json({ detail: 'No such signal.' });
    else response.json(device.state);
  });
  app.put('/devices/:name/clock', (request, response) => {
    const device = devices.find((one) => one.state.name === request.params.name);
    const given = clock.safeParse(request.body);
    if (!given.success) {
      response.status(400).json({ detail: z.prettifyError(given.error) });
      return;
    }
    if (!device?.setClock) {
      response.status(404).json({ detail: 'No such device, or it has no clock.' });
      return;
    }
    device.setClock(given.data.seconds);
    response.json(device.state);
  });
  app.put('/devices/:name/forget', (request, response) => {
    const device = devices.find((one) => one.state.name === request.params.name);
    if (!device?.forget) {
      response.status(404).json({ detail: 'No such device, or it remembers nothing.' });
      return;
    }
    device.forget();
    response.json(device.state);
  });
  app.put('/devices/:name/:what', async (request, response) => {
    const device = devices.find((one) => one.state.name === request.params.name);
    const { what } = request.params;
    if (!device || (what !== 'fault' && what !== 'script')) {
      response.status(404).json({ detail: 'No such device.' });
      return;
    }
    const given =
      what === 'fault'
        ? z.strictObject({ fault }).safeParse(request.body)
        : z.strictObject({ script }).safeParse(request.body);
    if (!given.success) {
      response.status(400).json({ detail: z.prettifyError(given.error) });
      return;
    }
    if ('script' in given.data) device.line.play(given.data.script);
    else await device.line.set(given.data.fault);
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
