/**
 * OPC UA over real sockets, against the bench's controller. Both ends are of one make (node-opcua): there is no server of
 * another make in the registries that are at hand, so what both understand wrongly alike is not found here.
 * @jest-environment ./collector/test/oneRealm.mjs
 */
import { OPC_UA_FAULTS, Status } from '@wide-ledger/core';
import { X509Certificate } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { OPCUACertificateManager, StatusCodes } from 'node-opcua';
import { KILNBANK, OpcUaDevice, nodeIdOf, type OpcUaOptions } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import {
  SourceAway,
  kindOf,
  lookUp,
  opcUa,
  type SourceOf,
  type SubscribedSession,
  type TagOf,
} from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { Told } from '../told.ts';
import { opcUaTo, tagAt } from '../tags.ts';

type Connection = SourceOf<'opc-ua'>['connection'];
type Tag = TagOf<'opc-ua'>;

const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-opcua-'));
/** Passwords by the numbers by which connections refer to them. */
const users: Record<string, string> = { operator: 'kiln' };
const secrets: Record<number, string> = { 1: 'kiln', 2: 'wrong' };
const around = {
  ...ALONE,
  folder: join(folder, 'collector'),
  secret: (id: number | null) => (id === null ? null : (secrets[id] ?? null)),
};

let device: OpcUaDevice;
let port: number;
let innerPort: number;
const start = async (options: OpcUaOptions = {}): Promise<void> => {
  device = new OpcUaDevice(KILNBANK, '127.0.0.1', port, innerPort, {
    folder: join(folder, 'controller'),
    users,
    ...options,
  });
  await device.start();
};
beforeAll(async () => {
  [port, innerPort] = [await freePort(), await freePort()];
  await start();
}, 60_000);
afterAll(async () => {
  await device.stop();
  rmSync(folder, { recursive: true, force: true });
}, 60_000);

const source = (over: Partial<Connection> = {}): SourceOf<'opc-ua'> => ({
  name: 'Kilnbank',
  kind: 'opc-ua',
  connection: opcUaTo(port, over),
});

const tag = (id: number, node: string, over: Partial<Omit<Tag, 'reading'>> = {}, element = ''): Tag =>
  tagAt(id, { node, element }, { ...over, reading: { intervalMilliseconds: 100, aligned: false } });

const subscribe = async (over: Partial<Connection> = {}): Promise<SubscribedSession<'opc-ua'>> => {
  const session = await opcUa.open(source(over), around);
  if (session.acquires !== 'subscription') throw new Error('no subscription');
  return session;
};

const walk = async (over: Partial<Connection>) => {
  const { rungs } = await opcUa.check(source(over), around, () => undefined);
  const failed = rungs.find(({ outcome }) => outcome === 'failed');
  return { outcomes: rungs.map(({ outcome }) => outcome[0]).join(''), failed, rungs };
};

/** The fingerprint of the controller's certificate, as a path check tells it. */
const fingerprint = async (): Promise<string> =>
  /NOT_TRUSTED (\w+)/.exec((await walk({ policy: 'Basic256Sha256', mode: 'Sign' })).failed!.code!)![1]!;

describe('the path check', () => {
  test('climbs all rungs of a good path, telling each as it goes', async () => {
    const told: string[] = [];
    const check = await opcUa.check(source(), around, ({ rung }) => told.push(rung));
    expect(check.passed).toBe(true);
    expect(told).toEqual(['name', 'port', 'answer', 'channel', 'sign-in', 'browse', 'value', 'clock']);
    const sentences = check.rungs.map(({ sentence }) => sentence).join('\n');
    for (const words of [
      'Aes256_Sha256_RsaPss SignAndEncrypt',
      'without security',
      'anonymously',
      'Network',
      'm³/h, Good',
    ])
      expect(sentences).toContain(words);
  });
  test('tells a closed port from a name that does not resolve', async () => {
    const closed = await freePort();
    expect((await walk({ endpoint: `opc.tcp://127.0.0.1:${closed}` })).failed).toMatchObject({
      rung: 'port',
      code: 'ECONNREFUSED',
    });
    expect((await walk({ endpoint: 'opc.tcp://no-such-host.invalid:4840' })).failed).toMatchObject({ rung: 'name' });
  });
  test.each(['Basic256Sha256', 'Aes128_Sha256_RsaOaep', 'Aes256_Sha256_RsaPss'] as const)(
    'stops at a certificate that is not trusted, and passes once it is: %s',
    async (policy) => {
      const { failed, outcomes } = await walk({ policy, mode: 'SignAndEncrypt' });
      expect([outcomes, failed!.rung]).toEqual(['pppfnnnn', 'channel']);
      expect(failed!.sentence).toContain('Compare the fingerprint with the one that the server shows');
      for (const mode of ['Sign', 'SignAndEncrypt'] as const)
        expect((await walk({ policy, mode, trusted: [await fingerprint()] })).outcomes).toBe('pppppppp');
    },
  );
  test('stops at the sign-in: a wrong password, an unknown user, no password kept', async () => {
    const by = { signIn: 'user', user: 'operator' } as const;
    expect((await walk({ ...by, password: 1 })).outcomes).toBe('pppppppp');
    for (const over of [
      { ...by, password: 2 },
      { ...by, user: 'nobody', password: 1 },
      { ...by, password: 9 },
    ]) {
      const { failed } = await walk(over);
      expect(failed!.rung).toBe('sign-in');
      expect(failed!.sentence).toMatch(/user|password/);
    }
    expect(
      (await walk({ signIn: 'certificate', policy: 'Basic256Sha256', mode: 'Sign', trusted: [await fingerprint()] }))
        .outcomes,
    ).toBe('pppppppp');
  });
});

test('what it offers is told before anybody signs in: endpoints with security and sign-ins, and servers', async () => {
  const { servers, endpoints } = await opcUa.offers!(source());
  expect(servers.map(({ name }) => name)).toContain(KILNBANK.name);
  expect(endpoints).toHaveLength(7);
  expect(endpoints.map(({ policy, mode }) => `${policy} ${mode}`)).toEqual(
    expect.arrayContaining(['None None', 'Aes256_Sha256_RsaPss SignAndEncrypt', 'Basic256Sha256 Sign']),
  );
  for (const { signIns } of endpoints) expect([...signIns].sort()).toEqual(['anonymous', 'certificate', 'user']);
  expect(endpoints[0]!.fingerprint.replaceAll(' ', '')).toBe(await fingerprint());
});

test('the catalogue’s codes are the standard’s, as the library has them out of its table (StatusCode.csv)', () => {
  const known = new Set(
    Object.values(StatusCodes as unknown as Record<string, { value: number }>).map(({ value }) => value),
  );
  for (const code of Object.keys(OPC_UA_FAULTS).map(Number))
    expect([code.toString(16), known.has(code * 65_536)]).toEqual([code.toString(16), true]);
  const named = StatusCodes as unknown as Record<string, { value: number } | undefined>;
  for (const [name, code] of Object.entries(Status)) expect([name, named[name]?.value ?? null]).toEqual([name, code]);
});

test('the tree is opened folder by folder, with types, units, ranges, states and elements', async () => {
  const { nodes } = await opcUa.browse!(source(), null, around);
  expect(nodes.map(({ name }) => name)).toEqual(
    expect.arrayContaining(['Network', 'Pumps', 'Exchangers', 'Electrical']),
  );
  const pump = new Map(
    (await opcUa.browse!(source(), 'ns=1;s=Pumps.Pump1', around)).nodes.map((node) => [node.name, node]),
  );
  expect(pump.get('Pressure')).toMatchObject({
    type: 'real',
    unit: 'bar',
    low: 0,
    high: 16,
    quality: 'Good',
    hasBelow: false,
  });
  expect(pump.get('State')).toMatchObject({
    type: 'state',
    states: { 0: 'stopped', 1: 'starting', 2: 'running', 3: 'tripped' },
  });
  expect(pump.get('Vibration')).toMatchObject({ type: null, elements: ['[0]', '[1]', '[2]'] });
  expect(pump.get('Message')).toMatchObject({ type: 'text' });
  let variables = 0;
  const waiting: string[] = nodes.filter(({ name }) => name !== 'Server').map(({ node }) => node);
  for (let at = waiting.shift(); at; at = waiting.shift()) {
    for (const { node, hasBelow, typeWords } of (await opcUa.browse!(source(), at, around)).nodes) {
      if (typeWords !== '') variables++;
      if (hasBelow) waiting.push(node);
    }
  }
  expect(variables).toBe(KILNBANK.variables.length);
  expect(variables).toBeGreaterThan(200);
  await expect(opcUa.browse!(source({ signIn: 'user', user: 'operator', password: 2 }), null, around)).rejects.toThrow(
    SourceAway,
  );
});

describe('a subscription', () => {
  test('tells every type with the source’s time, and what is wrong with one node alone', async () => {
    const session = await subscribe();
    const told = new Told();
    await session.follow(
      [
        tag(1, 'ns=1;s=Pumps.Pump1.Pressure'),
        tag(2, 'ns=1;s=Nowhere'),
        tag(3, 'ns=1;s=Exchangers.Exchanger1.Energy', { type: 'integer' }),
        tag(4, 'ns=1;s=Pumps.Pump1.Vibration', {}, '[1]'),
        tag(5, 'ns=1;s=Pumps.Pump1.Message', { type: 'text' }),
        tag(6, 'ns=1;s=Pumps.Pump1.State', { type: 'state' }),
        tag(7, 'ns=1;s=Pumps.Pump1.Vibration', {}, '[9]'),
        tag(8, 'ns=1;s=Pumps.Pump1.Vibration'),
        tag(9, 'ns=1;s=Pumps.Pump1.Running', { type: 'boolean' }),
        tag(10, 'ns=1;s=Pumps.Pump1.BearingTemperature', { low: 0, high: 1 }),
      ],
      told,
    );
    await told.until(() => [1, 2, 3, 4, 5, 6, 7, 8, 9, 10].every((id) => told.of(id).length > 0));
    session.close();
    const variable = (name: string) =>
      KILNBANK.variables.find(({ path, name: own }) => `${path.at(-1)}.${own}` === name)!;
    for (const sample of told.of(1))
      expect(sample.value).toBe(variable('Pump 1.Pressure').at(sample.sourceTime! / 1e6));
    for (const sample of told.of(3))
      expect(sample.value).toBe(variable('Exchanger 1.Energy').at(sample.sourceTime! / 1e6));
    for (const sample of told.of(4))
      expect(sample.value).toBe((variable('Pump 1.Vibration').at(sample.sourceTime! / 1e6) as number[])[1]);
    expect(told.of(5)[0]!.value).toMatch(/running|standing/);
    expect([0, 1, 2]).toContain(told.of(6)[0]!.value);
    expect([0, 1]).toContain(told.of(9)[0]!.value);
    expect(told.of(10)[0]!.status).toBe(Status.UncertainEngineeringUnitsExceeded);
    expect(told.of(2)[0]!.fault).toMatchObject({
      code: 'BadNodeIdUnknown',
      sentence: expect.stringContaining('no such node') as unknown,
    });
    expect(told.of(7)[0]!.fault!.sentence).toContain('no such element');
    expect(told.of(8)[0]!.fault!.sentence).toContain('name the element');
    const times = told.of(1).map(({ sourceTime }) => sourceTime!);
    expect(new Set(times).size).toBe(times.length);
  });

  test('takes tags in and leaves them out without disturbing the others', async () => {
    const session = await subscribe();
    const told = new Told();
    const [first, second, third] = [
      tag(1, 'ns=1;s=Network.Flow'),
      tag(2, 'ns=1;s=Network.Supply'),
      tag(3, 'ns=1;s=Network.Heat'),
    ];
    await session.follow([first, second], told);
    await told.until(() => told.of(1).length > 2 && told.of(2).length > 2);
    await session.follow([first, third], told);
    const gone = told.of(2).length;
    const kept = told.of(1).length;
    await told.until(() => told.of(1).length > kept + 5 && told.of(3).length > 2);
    session.close();
    expect(told.of(2).length).toBe(gone);
    const times = told.of(1).map(({ sourceTime }) => sourceTime!);
    expect(new Set(times).size).toBe(times.length);
  });

  test('says when the server dropped values that its queue did not hold', async () => {
    const session = await subscribe({ queueSize: 2, publishingMilliseconds: 2000 });
    const told = new Told();
    await session.follow([tag(1, 'ns=1;s=Network.Flow')], told);
    await told.until(() => told.overflows.some(({ lost }) => lost !== null));
    session.close();
    // Between the last value that came before it and the one that bears the bit: of 2 s sampled each 100 ms two are held.
    const times = told.of(1).map(({ sourceTime }) => sourceTime!);
    for (const { tag: id, lost } of told.overflows) {
      expect(id).toBe(1);
      // Before the very first value nothing tells.
      if (lost === null) continue;
      expect(times).toContain(lost.from);
      expect(lost.to - lost.from).toBeGreaterThan(1_000_000);
      expect(times.some((at) => at > lost.from && at < lost.to)).toBe(false);
    }
    // The bit itself is not kept: it would be taken for another one of a historian's answer.
    expect(told.of(1).every(({ status }) => status === Status.Good)).toBe(true);
  });

  test('a deadband is kept by the server where it is asked to and can: what stays within it is not sent', async () => {
    const session = await subscribe({ serverDeadband: true });
    const told = new Told();
    const wide = { reading: { deadband: { kind: 'absolute', width: 1e9 } } } as const;
    // A percentage is of the tag’s own range, and comes to the source in its unit: 50 % of 0 to 1e9, a thousandth each.
    const percent = {
      low: 0,
      high: 1e9,
      reading: { deadband: { kind: 'percent', percent: 50 }, scaling: { factor: 0.001, offset: 0 } },
    } as const;
    await session.follow(
      [
        tagAt(1, { node: 'ns=1;s=Network.Flow', element: '' }, { reading: { intervalMilliseconds: 100 } }),
        tagAt(2, { node: 'ns=1;s=Network.Flow', element: '' }, wide),
        tagAt(3, { node: 'ns=1;s=Network.Flow', element: '' }, percent),
        // No number: the server refuses the filter, and it is followed without one.
        tagAt(4, { node: 'ns=1;s=Building.Roof.Door', element: '' }, { ...wide, type: 'real' }),
        tagAt(5, { node: 'ns=1;s=Nowhere', element: '' }, wide),
      ],
      told,
    );
    await told.until(() => told.of(1).length > 5 && told.of(4).length > 0);
    session.close();
    expect([told.of(2).length, told.of(3).length]).toEqual([1, 1]);
    expect(told.of(4)[0]).toMatchObject({ status: Status.Good });
    expect(told.of(5)[0]!.fault).toMatchObject({ code: 'BadNodeIdUnknown' });
  });

  test('ends at once when the line is cut, and after a while when the server falls silent', async () => {
    for (const fault of [{ kind: 'cut' }, { kind: 'stalled' }] as const) {
      const session = await subscribe();
      const told = new Told();
      await session.follow([tag(1, 'ns=1;s=Network.Flow')], told);
      await told.until(() => told.of(1).length > 0);
      await device.line.set(fault);
      await told.until(() => told.error !== null);
      expect(told.error!.code).toBe(fault.kind === 'cut' ? 'CLOSED' : 'SILENT');
      session.close();
      await device.line.set(null);
    }
  }, 60_000);
});

test('where a server has no subscriptions it is read, from its cache or from the device', async () => {
  for (const acquire of ['read', 'read from device'] as const) {
    const session = await opcUa.open(source({ acquire }), around);
    if (session.acquires !== 'poll') throw new Error('no reading');
    const samples = await session.read([tag(1, 'ns=1;s=Network.Flow'), tag(2, 'ns=1;s=Nowhere')]);
    expect(samples[0]).toMatchObject({ tag: 1, status: Status.Good, fault: null });
    expect(samples[1]!.fault).toMatchObject({ code: 'BadNodeIdUnknown' });
    expect(session.facts).toEqual(expect.arrayContaining([['Server', KILNBANK.name]]));
    session.close();
  }
});

test('nodes that no tag has yet are asked one by one: what they hold, or that there is none', async () => {
  const addresses = [
    { node: 'ns=1;s=Network.Flow', element: '' },
    { node: 'ns=1;s=Nowhere', element: '' },
  ];
  const { found } = await lookUp(kindOf(source())!, source(), around, addresses, 'real');
  expect(found[0]).toEqual({ value: expect.any(Number) as unknown, trouble: null });
  expect(found[1]).toEqual({ value: null, trouble: expect.stringContaining('no such node') as unknown });
});

test('a server of a redundant set says so, and where the others are', async () => {
  const alone = await subscribe();
  await device.stop();
  const own = `opc.tcp://127.0.0.1:${port}`;
  await start({ set: [{ uri: 'urn:wide-ledger:bench' }, { uri: 'urn:kilnbank:other' }] });
  const session = await subscribe();
  const told = async (name: string): Promise<string> => {
    for (;;) {
      const fact = session.facts?.find(([what]) => what === name);
      if (fact) return fact[1];
      await wait(20);
    }
  };
  expect([await told('Redundancy'), await told('Other servers')]).toEqual(['hot', 'urn:kilnbank:other']);
  expect(session.facts).toContainEqual(['Endpoint', own]);
  expect(alone.facts!.map(([what]) => what)).not.toContain('Redundancy');
  alone.close();
  session.close();
  await device.stop();
  await start();
}, 60_000);

describe('the collector’s own certificate', () => {
  const own = join(around.folder, 'certificates', 'own.pem');
  const parsed = (): X509Certificate => new X509Certificate(readFileSync(own));
  const secured = async (): Promise<Partial<Connection>> => ({
    policy: 'Basic256Sha256',
    mode: 'SignAndEncrypt',
    trusted: [await fingerprint()],
  });

  test('is shown by its fingerprint, and replaced before it ends', async () => {
    const session = await subscribe(await secured());
    const before = parsed().fingerprint;
    expect(session.facts).toContainEqual(['Our fingerprint', before.replaceAll(':', ' ')]);
    session.close();
    const manager = new OPCUACertificateManager({ rootFolder: join(around.folder, 'certificates') });
    await manager.initialize();
    const endsIn = async (days: number): Promise<string> => {
      rmSync(own);
      await manager.createSelfSignedCertificate({
        applicationUri: 'urn:wide-ledger:collector',
        dns: ['localhost'],
        outputFile: own,
        startDate: new Date(),
        subject: '/CN=Wide Ledger collector',
        validity: days,
      });
      return parsed().fingerprint;
    };
    // Two months before its end it goes on; later than that it is another one.
    const lasting = await endsIn(62);
    (await subscribe(await secured())).close();
    expect(parsed().fingerprint).toBe(lasting);
    const ending = await endsIn(58);
    const renewed = await subscribe(await secured());
    renewed.close();
    expect(parsed().fingerprint).not.toBe(ending);
    expect(Date.parse(parsed().validTo) - Date.now()).toBeGreaterThan(1000 * 86_400_000);
    expect(renewed.facts).toContainEqual(['Our fingerprint', parsed().fingerprint.replaceAll(':', ' ')]);
  }, 60_000);

  test('is refused by a server that does not know it, which says which one to trust; then trusted', async () => {
    await device.stop();
    await start({ takesStrangers: false, folder: join(folder, 'reserved') });
    const { failed } = await walk(await secured());
    expect(failed!.rung).toBe('channel');
    expect(failed!.sentence).toContain(`fingerprint ${parsed().fingerprint.replaceAll(':', ' ')}`);
    expect(['BadSecurityChecksFailed', 'BadCertificateUntrusted']).toContain(failed!.code);
    await device.trust(parsed().raw);
    const { outcomes } = await walk(await secured());
    expect(outcomes).toBe('pppppppp');
    await device.stop();
    await start();
  }, 60_000);
});

test('security is raised and a password changed while it is connected: each is a sentence, and it comes back', async () => {
  const trusted = [await fingerprint()];
  const signed = {
    policy: 'Basic256Sha256',
    mode: 'SignAndEncrypt',
    trusted,
    signIn: 'user',
    user: 'operator',
  } as const;
  const session = await subscribe();
  const told = new Told();
  await session.follow([tag(1, nodeIdOf(KILNBANK.variables[0]!))], told);
  await told.until(() => told.of(1).length > 0);
  await device.stop();
  users.operator = 'changed';
  await start({ allowAnonymous: false, allowNone: false });
  await told.until(() => told.error !== null);
  session.close();
  await expect(subscribe()).rejects.toThrow(
    'does not offer a connection without security. It offers Basic256Sha256 Sign',
  );
  await expect(subscribe({ ...signed, password: 1 })).rejects.toThrow(/user/i);
  secrets[1] = 'changed';
  const again = await subscribe({ ...signed, password: 1 });
  const after = new Told();
  await again.follow([tag(1, nodeIdOf(KILNBANK.variables[0]!))], after);
  await after.until(() => after.of(1).length > 0);
  again.close();
}, 60_000);

test('a clock that is an hour ahead is said, and measured', async () => {
  await device.stop();
  await start({ clockError: 3600 });
  const session = await subscribe({});
  // Known as soon as it stands: it may be gone the next moment, and what is then said in its name is stamped by it.
  expect(Math.abs((session.clockSkew ?? 0) - 3_600_000)).toBeLessThan(10_000);
  const told = new Told();
  await session.follow([tag(1, 'ns=1;s=Network.Flow')], told);
  await told.until(() => told.of(1).length > 0);
  session.close();
  expect(told.of(1)[0]!.sourceTime! / 1000 - Date.now()).toBeGreaterThan(3_590_000);
}, 60_000);
