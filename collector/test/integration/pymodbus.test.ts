/** A device of another make: pymodbus 3.0.0 (Debian's python3-pymodbus), values encoded by its own payload builder. */
import { Status, WORD_ORDERS, isWhole64, type RegisterType } from '@wide-ledger/core';
import { spawn, type ChildProcess } from 'node:child_process';
import { connect } from 'node:net';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { freePort } from '../../../launch/ground.mjs';
import { modbusTcp, type PolledSession, type TagOf } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { tagAt } from '../tags.ts';

type Tag = TagOf<'modbus-tcp'>;

let device: ChildProcess;
let port: number;
let session: PolledSession<'modbus-tcp'>;

const listens = (): Promise<boolean> =>
  new Promise((done) => {
    const socket = connect(port, '127.0.0.1', () => done(true));
    socket.once('error', () => done(false));
    socket.once('connect', () => socket.destroy());
  });

beforeAll(async () => {
  port = await freePort();
  device = spawn('/usr/bin/python3', [join(import.meta.dirname, 'pymodbusDevice.py'), String(port)], {
    stdio: 'ignore',
  });
  while (!(await listens())) {
    if (device.exitCode !== null) throw new Error('The device of pymodbus ended: is python3-pymodbus installed?');
    await wait(50);
  }
  const connection = { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: 20_000 };
  session = await modbusTcp.open({ name: 'P', kind: 'modbus-tcp', connection }, ALONE);
}, 60_000);
afterAll(() => {
  session?.close();
  device?.kill('SIGKILL');
});

/** What is read of it: an integer of more than 64 bits with a sign is no value, and the fault says so. */
const readAs = (value: number | bigint): number | bigint | null =>
  typeof value === 'bigint' && !isWhole64(value) ? null : value;

const tagOf = (id: number, address: Tag['reading']['address'], type = 'real'): Tag => tagAt(id, address, { type });

/** What the device holds from the beginning of each stretch of 100 registers on. */
const HELD: readonly (readonly [RegisterType, number, number | bigint])[] = [
  ['int16', 0, -1234],
  ['uint16', 1, 54321],
  ['int32', 2, -123456789],
  ['uint32', 4, 3123456789],
  ['int64', 6, -1234567890123456789n],
  ['uint64', 10, 12345678901234567890n],
  ['float32', 14, Math.fround(22.34)],
  ['float64', 16, -123.45],
];

test.each(WORD_ORDERS.map((order, i) => [order, 100 * i] as const))(
  'every type is read in the order %s',
  async (order, start) => {
    const tags = HELD.map(([type, at], i) =>
      tagOf(
        i,
        { area: 'holding', address: start + at, type, order },
        type.endsWith('64') && type !== 'float64' ? 'integer' : 'real',
      ),
    );
    const samples = await session.read(tags);
    expect(samples.map(({ value }) => value)).toEqual(HELD.map(([, , value]) => readAs(value)));
    expect(samples.map(({ status, fault }) => [status, fault?.code])).toEqual(
      HELD.map(([, , value]) =>
        readAs(value) === null ? [Status.BadTypeMismatch, 'TOO_LARGE'] : [Status.Good, undefined],
      ),
    );
  },
);

test('texts, input registers, coils and discrete inputs; a bit of a register', async () => {
  const bit = (value: number, at: number): number => (value >> at) & 1;
  const samples = await session.read([
    tagOf(1, { area: 'holding', address: 400, type: 'text', order: 'ABCD', length: 5 }, 'text'),
    tagOf(2, { area: 'input', address: 3, type: 'uint16', order: 'ABCD' }),
    tagOf(3, { area: 'coil', address: 2, type: 'uint16', order: 'ABCD' }, 'boolean'),
    tagOf(4, { area: 'discrete', address: 0, type: 'uint16', order: 'ABCD' }, 'boolean'),
    ...[0, 4, 5].map((at) =>
      tagOf(10 + at, { area: 'holding', address: 1, type: 'bit', order: 'ABCD', bit: at }, 'boolean'),
    ),
  ]);
  const values = Object.fromEntries(samples.map(({ tag, value }) => [tag, value]));
  expect(values).toEqual({ 1: 'Kilnbank', 2: 7, 3: 1, 4: 0, 10: bit(54321, 0), 14: bit(54321, 4), 15: bit(54321, 5) });
});

test('what it refuses costs the one tag, and its path is climbed', async () => {
  const samples = await session.read([
    tagOf(1, { area: 'holding', address: 0, type: 'int16', order: 'ABCD' }),
    tagOf(2, { area: 'holding', address: 60, type: 'int16', order: 'ABCD' }),
  ]);
  expect(samples.find(({ tag }) => tag === 1)!.value).toBe(-1234);
  expect(samples.find(({ tag }) => tag === 2)!.fault).toMatchObject({ code: 'MODBUS_02' });
  const connection = { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: 20_000 };
  const check = await modbusTcp.check({ name: 'P', kind: 'modbus-tcp', connection }, ALONE, () => undefined);
  expect(check.passed).toBe(true);
});

test('a device is not blamed where the collector itself stood still: what it answered meanwhile is read', async () => {
  const connection = { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: 300 };
  const hurried = await modbusTcp.open({ name: 'P', kind: 'modbus-tcp', connection }, ALONE);
  const register = tagOf(1, { area: 'holding', address: 1, type: 'uint16', order: 'ABCD' }, 'integer');
  const reading = hurried.read([register]);
  // The request is on its way before the process stops: it is written within these turns.
  for (let turn = 0; turn < 50; turn++) await Promise.resolve();
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 1500);
  expect(await reading).toMatchObject([{ value: 54321, status: Status.Good }]);
  // One that answers nothing is given up in its time, as ever.
  device.kill('SIGSTOP');
  await expect(hurried.read([register])).rejects.toMatchObject({ code: 'NO_ANSWER' });
  device.kill('SIGCONT');
  hurried.close();
});

describe('what is written', () => {
  const registers = async (start: number, length: number): Promise<string> => {
    const connection = { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: 20_000 };
    const block = { area: 'holding', start, length } as const;
    return (await modbusTcp.registers!({ name: 'P', kind: 'modbus-tcp', connection }, block)).data!;
  };

  test.each(WORD_ORDERS.map((order, i) => [order, 100 * i] as const))(
    'in the order %s stands in the registers as the payload builder of the other make put it there',
    async (order, start) => {
      const asBuilt = await registers(start, 20);
      for (const [type, at, value] of HELD) {
        const tag = tagOf(
          1,
          { area: 'holding', address: start + at, type, order },
          type.endsWith('64') && type !== 'float64' ? 'integer' : 'real',
        );
        await session.write!(tag, 77);
        expect(Number((await session.readNow!(tag)).value)).toBe(77);
        await session.write!(tag, value);
        expect((await session.readNow!(tag)).value).toBe(readAs(value));
      }
      expect(await registers(start, 20)).toBe(asBuilt);
    },
  );

  test('a single bit of a register is set by the device itself, the others stay', async () => {
    const before = parseInt(await registers(1, 1), 16);
    const bit = tagOf(1, { area: 'holding', address: 1, type: 'bit', order: 'ABCD', bit: 3 }, 'boolean');
    await session.write!(bit, 1);
    expect(parseInt(await registers(1, 1), 16)).toBe(before | 8);
    await session.write!(bit, 0);
    expect(parseInt(await registers(1, 1), 16)).toBe(before & ~8);
  });

  test('coils and registers are written by the functions for several where the device wants that', async () => {
    const connection = { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: 20_000, writesSeveral: true };
    const several = await modbusTcp.open({ name: 'P', kind: 'modbus-tcp', connection }, ALONE);
    const coil = tagOf(1, { area: 'coil', address: 1, type: 'uint16', order: 'ABCD' }, 'boolean');
    const word = tagOf(2, { area: 'holding', address: 1, type: 'uint16', order: 'ABCD' });
    for (const [one, tag, values] of [
      [session, coil, [1, 0]],
      [several, coil, [1, 0]],
      [several, word, [7, 54321]],
    ] as const)
      for (const value of values) {
        await one.write!(tag, value);
        expect((await session.readNow!(tag)).value).toBe(readAs(value));
      }
    several.close();
  });

  test.each([
    [{ area: 'input', address: 3, type: 'uint16', order: 'ABCD' }, 7, 'READ_ONLY_AREA'],
    [{ area: 'discrete', address: 0, type: 'uint16', order: 'ABCD' }, 1, 'READ_ONLY_AREA'],
    [{ area: 'holding', address: 1, type: 'uint16', order: 'ABCD' }, 65_536, 'DOES_NOT_FIT'],
    [{ area: 'coil', address: 0, type: 'uint16', order: 'ABCD' }, 2, 'NO_BIT'],
    [{ area: 'holding', address: 900, type: 'uint16', order: 'ABCD' }, 1, 'MODBUS_02'],
    [{ area: 'holding', address: 900, type: 'bit', order: 'ABCD', bit: 1 }, 1, 'MODBUS_02'],
  ] as const)('into %j the value %d is refused: %s', async (address, value, code) => {
    await expect(session.write!(tagOf(1, address), value)).rejects.toMatchObject({ name: 'WriteRefused', code });
  });
});
