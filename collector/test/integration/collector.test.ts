/** A collector whole, beside a server that is only what the test makes of it: kept configuration, a full disk. */
import { jest } from '@jest/globals';
import { isBundle, unpackBundle, unpackEntry } from '@wide-ledger/core';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { ModbusDevice, THORNMERE } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { Collector, Spool, readSettings } from '../../src/index.ts';

const silent = pino({ level: 'silent' });
let folder: string;
let device: ModbusDevice;
let port: number;
let server: Server;
let url: string;
let reports: {
  trouble: string | null;
  spooledSamples: number;
  sources: { source: number; state: string; code: string | null; sentence: string }[];
}[] = [];
let further: object[] = [];
let samples = 0;
let refuse = false;
/** The last value of each tag that was delivered, and what the server tells of itself. */
let last = new Map<number, number>();
let told: object = {};

beforeAll(async () => {
  port = await freePort();
  device = new ModbusDevice(THORNMERE, '127.0.0.1', port, await freePort());
  await device.start();
  const serverPort = await freePort();
  url = `http://127.0.0.1:${serverPort}`;
  server = createServer((request, response) => {
    const parts: Buffer[] = [];
    request.on('data', (part: Buffer) => parts.push(part));
    request.on('end', () => {
      const body = Buffer.concat(parts);
      const answer = (status: number, value: unknown): void => {
        response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(value));
      };
      if (request.url!.includes('/collector/configuration')) answer(200, configuration());
      // Nobody asks anything: the call for questions waits.
      else if (request.url!.includes('/collector/questions')) return;
      else if (request.url!.endsWith('/collector/report')) {
        reports.push(JSON.parse(body.toString()) as (typeof reports)[number]);
        answer(200, { version: 7, ...told });
      } else if (refuse) answer(503, { detail: 'away' });
      else {
        for (const packed of isBundle(body) ? unpackBundle(body) : [body]) {
          const { frame } = unpackEntry(packed);
          samples += frame?.times.length ?? 0;
          frame?.tags?.forEach((tag, i) => last.set(tag, frame.values[i]!));
        }
        answer(200, { entry: 1, accepted: 0, setAside: 0, repeated: false });
      }
    });
  });
  await new Promise<void>((done) => server.listen(serverPort, '127.0.0.1', done));
});
afterAll(async () => {
  await device.stop();
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
});
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'wide-ledger-collector-'));
  reports = [];
  samples = 0;
  refuse = false;
  further = [];
  last = new Map();
  told = {};
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const [point] = THORNMERE.points;
const configuration = (): object => ({
  version: 7,
  sources: [
    {
      id: 1,
      name: 'S',
      kind: 'modbus-tcp',
      connection: { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: 20_000 },
      tags: [
        {
          id: 1,
          name: point!.tag,
          type: 'real',
          low: null,
          high: null,
          reading: {
            address: { area: point!.area, address: point!.address, type: point!.register, order: point!.order },
            intervalMilliseconds: 100,
            aligned: true,
            deadband: { kind: 'none' },
            longestSilenceSeconds: null,
          },
        },
      ],
    },
    ...further,
  ],
});

const start = (): Promise<Collector> =>
  Collector.start(
    readSettings({ WIDE_LEDGER_SERVER: url, WIDE_LEDGER_KEY: 'k', WIDE_LEDGER_COLLECTOR_DATA: folder }),
    silent,
  );

async function until(check: () => boolean): Promise<void> {
  while (!check()) await new Promise((done) => setTimeout(done, 20));
}

test.each(['', '{"version": 7', '[]'])('a kept configuration of "%s" does not prevent the start', async (text) => {
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'configuration.json'), text);
  const collector = await start();
  await until(() => samples > 3);
  await collector.stop();
});

test('while the spool cannot be written values are held, it is said, and they are delivered when there is room', async () => {
  const collector = await start();
  await until(() => samples > 3);
  // What a full disk does to every write.
  const full = jest.spyOn(Spool.prototype, 'add').mockRejectedValue(new Error('No space left on device'));
  try {
    await until(() => reports.some(({ trouble }) => trouble !== null));
    const before = samples;
    await until(() => (reports.at(-1)?.spooledSamples ?? 0) > 15);
    expect(reports.at(-1)!.trouble).toBe(
      'The spool of the collector cannot be written: No space left on device. Make room on its disk.',
    );
    expect(samples).toBe(before);
    full.mockRestore();
    await until(() => samples > before + 15);
    await until(() => reports.at(-1)!.trouble === null);
  } finally {
    full.mockRestore();
    await collector.stop();
  }
});

test('while the server is away the collector starts from what it kept, and delivers later', async () => {
  const first = await start();
  await until(() => samples > 3);
  await first.stop();
  refuse = true;
  const second = await start();
  await until(() => (reports.at(-1)?.spooledSamples ?? 0) > 10);
  samples = 0;
  refuse = false;
  await until(() => samples > 10);
  await second.stop();
});

test('a source of a kind that it does not know is refused for itself, with the reason; the others are read', async () => {
  further = [
    { id: 2, name: 'Tomorrow', kind: 'carrier-pigeon', connection: { loft: 7 }, tags: [] },
    { id: 3, name: 'Odd', kind: 'modbus-tcp', connection: { host: 5 }, tags: [] },
  ];
  const collector = await start();
  await until(() => samples > 3);
  await until(() => reports.at(-1)!.sources[0]?.state === 'watching');
  const said = reports.at(-1)!.sources.map(({ source, state, code, sentence }) => [source, state, code, sentence]);
  expect(said).toEqual([
    [1, 'watching', null, ''],
    [2, 'away', 'UNKNOWN_KIND', expect.stringContaining('does not know sources of the kind "carrier-pigeon"')],
    [3, 'away', 'NOT_UNDERSTOOD', expect.stringContaining('how Odd is configured')],
  ]);
  await collector.stop();
});

test('what it says about itself is archived as tags: how its sources are, what waits, how the server stands', async () => {
  const figures = ['state', 'away', 'waiting', 'server-clock', 'archive-free', 'memory', 'contact'] as const;
  const reading = { intervalMilliseconds: 100, aligned: true, deadband: { kind: 'none' }, longestSilenceSeconds: null };
  const tagOf = (id: number, address: object): object => ({
    id,
    name: `T${id}`,
    type: 'real',
    low: null,
    high: null,
    reading: { ...reading, address },
  });
  further = [
    {
      id: 2,
      name: 'Itself',
      kind: 'collector',
      connection: {},
      tags: [
        ...figures.map((figure, i) => tagOf(10 + i, { figure })),
        tagOf(20, { figure: 'state', source: 1 }),
        tagOf(21, { figure: 'values', source: 1 }),
        tagOf(22, { figure: 'values', source: 77 }),
      ],
    },
  ];
  const of = (figure: (typeof figures)[number]): number => last.get(10 + figures.indexOf(figure)) ?? NaN;
  // A server whose clock is an hour ahead.
  told = { archiveFreeBytes: 12.5e9 };
  Object.defineProperty(told, 'now', { enumerable: true, get: () => Date.now() + 3_600_000 });
  const collector = await start();
  try {
    await until(() => of('state') === 2 && last.get(20) === 1 && last.get(21)! > 0);
    await until(() => Math.abs(of('server-clock') - 3_600_000) < 5000);
    expect(of('archive-free')).toBe(12.5);
    expect(of('memory')).toBeGreaterThan(10);
    // A source that it does not read has no figures, and the others do not suffer.
    expect(last.get(22)).toBeNaN();
    expect(reports.at(-1)!.sources.map(({ source, state }) => [source, state])).toEqual([
      [1, 'watching'],
      [2, 'watching'],
    ]);
    await device.line.set({ kind: 'cut' });
    await until(() => of('state') === 1 && of('away') === 1 && last.get(20) === 2);
    await device.line.set(null);
    await until(() => of('state') === 2);
    // What waits while the server refuses is among what is delivered after.
    refuse = true;
    await until(() => (reports.at(-1)?.spooledSamples ?? 0) > 30);
    const waited = last;
    last = new Map();
    refuse = false;
    const waiting = 10 + figures.indexOf('waiting');
    await until(() => (last.get(waiting) ?? 0) > (waited.get(waiting) ?? 0));
  } finally {
    await device.line.set(null);
    await collector.stop();
  }
});
