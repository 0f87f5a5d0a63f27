import type { ConfiguredTag, NewSource } from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import { connect } from 'node:net';
import { ModbusDevice, THORNMERE, archivedAt } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { ModbusDriver, NotOffered, SourceAway } from '../../src/index.ts';

/** A moment at which the device's clock stands still, so that what it holds can be computed. */
const MOMENT = 1_795_000_000;

/** A machine that is short of processor time stops for seconds: only where an answer never comes is it worth less. */
const PATIENT = 20_000;

let device: ModbusDevice;
let port: number;
beforeAll(async () => {
  port = await freePort();
  device = new ModbusDevice(THORNMERE, '127.0.0.1', port, await freePort(), () => MOMENT);
  await device.start();
});
afterAll(() => device.stop());

const source = (over: Partial<NewSource['connection']> = {}): NewSource => ({
  name: 'Thornmere',
  kind: 'modbus-tcp',
  connection: { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: PATIENT, ...over },
});

const tags: ConfiguredTag[] = THORNMERE.points.map((point, index) => ({
  id: index + 1,
  name: point.tag,
  type: point.type,
  low: point.low,
  high: point.high,
  reading: {
    address: { area: point.area, address: point.address, type: point.register, order: point.order },
    intervalMilliseconds: point.intervalMilliseconds,
    aligned: true,
    scaling: point.scaling && { ...point.scaling, places: point.scaling.places },
    deadband: { kind: 'none' },
    longestSilenceSeconds: null,
  },
}));

describe('a Modbus source', () => {
  test('is read over the wire in every type and word order', async () => {
    const driver = new ModbusDriver(source());
    await driver.connect();
    const readings = await driver.read(tags);
    driver.close();
    expect(readings).toHaveLength(THORNMERE.points.length);
    for (const reading of readings) {
      const point = THORNMERE.points[reading.tag - 1]!;
      expect([point.tag, reading.value]).toEqual([point.tag, archivedAt(point, MOMENT)]);
      expect(reading.status).toBe(Status.Good);
    }
  });

  test('loses one tag, not its neighbours, to an address that the device refuses', async () => {
    const driver = new ModbusDriver(source());
    await driver.connect();
    const wrong: ConfiguredTag = {
      ...tags[0]!,
      id: 99,
      reading: { ...tags[0]!.reading, address: { area: 'coil', address: 3, type: 'uint16', order: 'ABCD' } },
    };
    const coils = tags.filter((tag) => tag.reading.address.area === 'coil');
    const readings = await driver.read([...coils, wrong]);
    driver.close();
    const refused = readings.find((reading) => reading.tag === 99)!;
    expect(refused.status).toBe(Status.BadNodeIdUnknown);
    expect(refused.fault).toMatchObject({ code: 'MODBUS_02' });
    expect(refused.fault!.sentence).toContain('illegal data address');
    expect(readings.filter((reading) => reading.status === Status.Good)).toHaveLength(coils.length);
  });

  test('answers as the protocol has it', async () => {
    // Modbus Messaging on TCP/IP, V1.0b: MBAP header of transaction, protocol 0, length, unit; then the PDU.
    const answer = await new Promise<Buffer>((done, fail) => {
      const socket = connect(port, '127.0.0.1', () => socket.write(Buffer.from('002A00000006010300000001', 'hex')));
      socket.once('data', (data) => {
        socket.destroy();
        done(data);
      });
      socket.once('error', fail);
    });
    expect(answer.subarray(0, 9).toString('hex')).toBe('002a00000005010302');
    expect(answer).toHaveLength(11);
  });

  test('says what it cannot do', async () => {
    const driver = new ModbusDriver(source());
    await expect(driver.history(tags[0]!, 0, 1)).rejects.toThrow(NotOffered);
    await expect(driver.browse('')).rejects.toThrow('Modbus TCP offers no tree to browse.');
  });
});

describe('the path check', () => {
  const walk = async (over: Partial<NewSource['connection']>): Promise<[string[], string]> => {
    const { rungs } = await new ModbusDriver(source(over)).check();
    return [rungs.map(({ outcome }) => outcome), rungs.find(({ outcome }) => outcome === 'failed')?.sentence ?? ''];
  };
  test('climbs all rungs of a good path', async () => {
    expect(await walk({})).toEqual([['passed', 'passed', 'passed', 'passed'], '']);
  });
  test('stops at the name', async () => {
    const [outcomes, sentence] = await walk({ host: 'no-such-host.invalid' });
    expect(outcomes).toEqual(['failed', 'not reached', 'not reached', 'not reached']);
    expect(sentence).toContain('no-such-host.invalid');
  });
  test('stops at the port', async () => {
    const closed = await freePort();
    const [outcomes, sentence] = await walk({ port: closed });
    expect(outcomes).toEqual(['passed', 'failed', 'not reached', 'not reached']);
    expect(sentence).toBe(
      `Nothing answers on 127.0.0.1:${closed}. The host is up (it refused at once), so the port is wrong or the device is off.`,
    );
  });
  test('stops at the protocol when the unit is another', async () => {
    const [outcomes, sentence] = await walk({ unit: 9, timeoutMilliseconds: 3000 });
    expect(outcomes).toEqual(['passed', 'passed', 'failed', 'not reached']);
    expect(sentence).toContain('did not answer the request in time');
  });
});

test('a cut line is noticed at once and comes back', async () => {
  const driver = new ModbusDriver(source());
  await driver.connect();
  await driver.read(tags);
  await device.line.set({ kind: 'cut' });
  await expect(driver.read(tags)).rejects.toThrow(SourceAway);
  await expect(driver.connect()).rejects.toThrow('Nothing answers on');
  await device.line.set(null);
  await driver.connect();
  expect(await driver.read(tags)).toHaveLength(tags.length);
  driver.close();
});
