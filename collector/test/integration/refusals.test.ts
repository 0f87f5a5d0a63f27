/** A device that is busy, refuses addresses, or stands behind a gateway: what that costs, and what it does not. */
import { Status } from '@wide-ledger/core';
import { createServer, type Server, type Socket } from 'node:net';
import { freePort } from '../../../launch/ground.mjs';
import { SourceAway, modbusTcp, type PolledSession, type Value, type TagOf } from '../../src/index.ts';
import { ALONE } from '../alone.ts';

type Tag = TagOf<'modbus-tcp'>;

/** Start and length of a request for holding registers, counted since the device began. */
interface Asked {
  readonly start: number;
  readonly length: number;
  readonly number: number;
}

/** A device of holding registers, each of which holds its address; it answers as Modbus Messaging on TCP/IP V1.0b has it. */
class Device {
  requests: Asked[] = [];
  /** The exception that a request is answered with; 0: none. */
  judge: (asked: Asked) => number = () => 0;
  private readonly sockets = new Set<Socket>();
  private readonly server: Server = createServer((socket) => {
    this.sockets.add(socket);
    let rest = Buffer.alloc(0);
    socket.on('error', () => undefined);
    socket.on('data', (data) => {
      rest = Buffer.concat([rest, data]);
      for (; rest.length >= 12; rest = rest.subarray(12)) socket.write(this.answer(rest.subarray(0, 12)));
    });
  });

  private answer(request: Buffer): Buffer {
    const asked = { start: request.readUInt16BE(8), length: request.readUInt16BE(10), number: this.requests.length };
    this.requests.push(asked);
    const exception = this.judge(asked);
    const values = Buffer.alloc(2 * asked.length);
    for (let i = 0; i < asked.length; i++) values.writeUInt16BE(asked.start + i, 2 * i);
    const pdu =
      exception > 0 ? Buffer.from([0x83, exception]) : Buffer.concat([Buffer.from([3, values.length]), values]);
    const head = Buffer.from(request.subarray(0, 7));
    head.writeUInt16BE(pdu.length + 1, 4);
    return Buffer.concat([head, pdu]);
  }

  listen(port: number): Promise<void> {
    return new Promise((done) => this.server.listen(port, '127.0.0.1', done));
  }

  async close(): Promise<void> {
    for (const socket of this.sockets) socket.destroy();
    await new Promise((done) => this.server.close(done));
  }
}

let device: Device;
let session: PolledSession<'modbus-tcp'>;
beforeEach(async () => {
  const port = await freePort();
  device = new Device();
  await device.listen(port);
  session = await modbusTcp.open(
    {
      name: 'D',
      kind: 'modbus-tcp',
      connection: { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: 20_000 },
    },
    ALONE,
  );
});
afterEach(async () => {
  session.close();
  await device.close();
});

const tagAt = (address: number, over: Partial<Tag> = {}): Tag => ({
  id: address + 1,
  name: `R${address}`,
  type: 'integer',
  low: null,
  high: null,
  reading: {
    address: { area: 'holding', address, type: 'uint16', order: 'ABCD' },
    intervalMilliseconds: 1000,
    aligned: true,
    deadband: { kind: 'none' },
    longestSilenceSeconds: null,
  },
  ...over,
});
const HUNDRED = Array.from({ length: 100 }, (_, i) => tagAt(i));

/** Reads once, and how many requests it took. */
async function scan(tags: readonly Tag[]): Promise<{ good: Value[]; bad: [number, number][]; requests: number }> {
  const before = device.requests.length;
  const readings = await session.read(tags);
  return {
    good: readings.filter(({ status }) => status === Status.Good).map(({ value }) => value),
    bad: readings.filter(({ status }) => status !== Status.Good).map(({ tag, status }) => [tag - 1, status]),
    requests: device.requests.length - before,
  };
}

test.each([5, 6])('exception %s, once: asked again after a moment, and never split', async (exception) => {
  device.judge = ({ number }) => (number === 0 ? exception : 0);
  const first = await scan(HUNDRED);
  expect([first.good.length, first.requests]).toEqual([100, 2]);
  expect((await scan(HUNDRED)).requests).toBe(1);
});

test('a device that stays busy costs the values of this read, and nothing afterwards', async () => {
  device.judge = ({ number }) => (number < 4 ? 6 : 0);
  const first = await scan(HUNDRED);
  expect([first.good.length, first.bad.length, first.requests]).toEqual([0, 100, 4]);
  expect(await scan(HUNDRED)).toMatchObject({ bad: [], requests: 1 });
});

test.each([
  [10, 'gateway path unavailable'],
  [11, 'gateway target does not respond'],
])('exception %s says that the whole device is away, not one tag of it', async (exception, words) => {
  device.judge = () => exception;
  await expect(session.read(HUNDRED)).rejects.toThrow(SourceAway);
  await expect(session.read(HUNDRED)).rejects.toThrow(words);
  await expect(session.read(HUNDRED)).rejects.toThrow(/^The gateway at 127\.0\.0\.1:\d+ answered/);
});

test('one refused address among a hundred costs one tag, and the others go on in few requests', async () => {
  const refused = 37;
  device.judge = ({ start, length }) => (start <= refused && refused < start + length ? 2 : 0);
  const first = await scan(HUNDRED);
  expect(first.bad).toEqual([[refused, Status.BadNodeIdUnknown]]);
  expect(first.good).toHaveLength(99);
  // Before it, behind it, and itself, so that it is noticed when it is there after all.
  expect(await scan(HUNDRED)).toMatchObject({ bad: first.bad, requests: 3 });
  device.judge = () => 0;
  expect(await scan(HUNDRED)).toMatchObject({ bad: [], requests: 3 });
});

test('registers that nobody asked for and the device refuses are not read along', async () => {
  const tags = [tagAt(0), tagAt(1), tagAt(6), tagAt(7)];
  device.judge = ({ start, length }) => (start <= 3 && 3 < start + length ? 2 : 0);
  expect(await scan(tags)).toMatchObject({ bad: [], good: [0, 1, 6, 7] });
  expect(await scan(tags)).toMatchObject({ bad: [], requests: 2 });
});

test('a fault of the device itself is no reason to split', async () => {
  device.judge = ({ number }) => (number === 0 ? 4 : 0);
  expect((await scan(HUNDRED)).bad).toHaveLength(100);
  expect(await scan(HUNDRED)).toMatchObject({ bad: [], requests: 1 });
});

test('a tag of whole numbers that reads a register of fractions is told once as its fault', async () => {
  const [reading] = await session.read([
    tagAt(0, { reading: { ...tagAt(0).reading, scaling: { factor: 0.5, offset: 0.25 } } }),
  ]);
  expect(reading).toMatchObject({
    status: Status.BadTypeMismatch,
    fault: {
      code: 'NO_WHOLE_NUMBER',
      sentence: expect.stringContaining('The source holds 0.25, and R0 keeps whole numbers.'),
    },
  });
});
