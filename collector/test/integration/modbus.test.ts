import { Status } from '@wide-ledger/core';
import { connect } from 'node:net';
import { ModbusDevice, THORNMERE, archivedAt } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { SourceAway, kindOf, lookUp, modbusTcp, readBurst, type SourceOf, type TagOf } from '../../src/index.ts';
import { ALONE } from '../alone.ts';

type Source = SourceOf<'modbus-tcp'>;
type Tag = TagOf<'modbus-tcp'>;

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

const source = (over: Partial<Source['connection']> = {}): Source => ({
  name: 'Thornmere',
  kind: 'modbus-tcp',
  connection: { host: '127.0.0.1', port, unit: 1, timeoutMilliseconds: PATIENT, ...over },
});

const tags: Tag[] = THORNMERE.points.map((point, index) => ({
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
    const session = await modbusTcp.open(source(), ALONE);
    const samples = await session.read(tags);
    session.close();
    expect(samples).toHaveLength(THORNMERE.points.length);
    for (const sample of samples) {
      const point = THORNMERE.points[sample.tag - 1]!;
      expect([point.tag, sample.value]).toEqual([point.tag, archivedAt(point, MOMENT)]);
      expect(sample.status).toBe(Status.Good);
    }
  });

  test('asks again what was not answered in time, as often as the connection allows, and over a connection of its own', async () => {
    const session = await modbusTcp.open(source({ timeoutMilliseconds: 150, retries: 1000 }), ALONE);
    await device.line.set({ kind: 'deaf' });
    const reading = session.read([tags[0]!]);
    // Asked so often that some requests were given up.
    const asked = session.traffic!.requests;
    while (session.traffic!.requests < asked + 3) await new Promise((done) => setTimeout(done, 20));
    await device.line.set(null);
    const [sample] = await reading;
    expect([sample!.status, sample!.value]).toEqual([Status.Good, archivedAt(THORNMERE.points[0]!, MOMENT)]);
    expect((await session.read([tags[1]!]))[0]!.value).toBe(archivedAt(THORNMERE.points[1]!, MOMENT));
    session.close();
  }, 60_000);

  test('what waits behind a request that was given up is told why, when the connection is let go for it', async () => {
    const session = await modbusTcp.open(source({ timeoutMilliseconds: 150 }), ALONE);
    await device.line.set({ kind: 'deaf' });
    const codeOf = (error: unknown): string => (error as SourceAway).code;
    const first = session.read([tags[0]!]).catch((error: unknown) => {
      session.close();
      return codeOf(error);
    });
    const behind = session.read([tags[1]!]).catch(codeOf);
    expect([await first, await behind]).toEqual(['NO_ANSWER', 'NO_ANSWER']);
    await device.line.set(null);
  });

  test('loses one tag, not its neighbours, to an address that the device refuses', async () => {
    const session = await modbusTcp.open(source(), ALONE);
    const wrong: Tag = {
      ...tags[0]!,
      id: 99,
      reading: { ...tags[0]!.reading, address: { area: 'coil', address: 3, type: 'uint16', order: 'ABCD' } },
    };
    const coils = tags.filter((tag) => tag.reading.address.area === 'coil');
    const samples = await session.read([...coils, wrong]);
    session.close();
    const refused = samples.find((sample) => sample.tag === 99)!;
    expect(refused.status).toBe(Status.BadNodeIdUnknown);
    expect(refused.fault).toMatchObject({ code: 'MODBUS_02' });
    expect(refused.fault!.sentence).toContain('illegal data address');
    expect(samples.filter((sample) => sample.status === Status.Good)).toHaveLength(coils.length);
  });

  test('says what lies at addresses that no tag has yet, and where there is nothing', async () => {
    const [point] = THORNMERE.points;
    const { area, address, register: type, order } = point!;
    const addresses = [
      { area, address, type, order },
      { area, address: 64_999, type, order },
    ];
    const { found } = await lookUp(kindOf(source())!, source(), ALONE, addresses, 'real');
    expect(found.map(({ value, trouble }) => [typeof value, trouble === null])).toEqual([
      ['number', true],
      ['object', false],
    ]);
    expect(found[1]!.trouble).toContain('illegal data address');
  });

  test('is read in a burst, one answer after the other, as often as was asked for at most', async () => {
    const [tag] = tags;
    const pace = { everyMilliseconds: 100, seconds: 1 };
    const { times, values } = await readBurst(kindOf(source())!, source(), ALONE, tag!, pace);
    expect(values.length).toBeGreaterThan(0);
    expect(values.every((value) => value === archivedAt(THORNMERE.points[0]!, MOMENT))).toBe(true);
    expect(times).toHaveLength(values.length);
    expect(times.every((time, i) => i === 0 || time > times[i - 1]!)).toBe(true);
    expect(times.length).toBeLessThanOrEqual(11);
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
});

describe('the path check', () => {
  const walk = async (over: Partial<Source['connection']>): Promise<[string[], string]> => {
    const { rungs } = await modbusTcp.check(source(over), ALONE, () => undefined);
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
      `Nothing answers on 127.0.0.1:${closed}. The host is up (it refused at once), so the port is wrong or what listens there is off.`,
    );
  });
  test('stops at the protocol when the unit is another', async () => {
    const [outcomes, sentence] = await walk({ unit: 9, timeoutMilliseconds: 3000 });
    expect(outcomes).toEqual(['passed', 'passed', 'failed', 'not reached']);
    expect(sentence).toContain('did not answer the request in time');
  });
});

test('a cut line is noticed at once and comes back', async () => {
  const session = await modbusTcp.open(source(), ALONE);
  await session.read(tags);
  await device.line.set({ kind: 'cut' });
  await expect(session.read(tags)).rejects.toThrow(SourceAway);
  session.close();
  await expect(modbusTcp.open(source(), ALONE)).rejects.toThrow('Nothing answers on');
  await device.line.set(null);
  const again = await modbusTcp.open(source(), ALONE);
  expect(await again.read(tags)).toHaveLength(tags.length);
  again.close();
});
