/** A controller of the plant that speaks OPC UA: a tree of variables with units and ranges, users, every security policy. */
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { AddressSpace, DataValue, OPCUAServer, StatusCode, UAObject, UAVariable, Variant } from 'node-opcua';
import { Ring, type RingSettings } from '../../plant/ring.ts';
import type { Controller, Variable } from '../../plant/variables.ts';
import { Relay } from '../../relay/relay.ts';
import type { Device, DeviceState } from '../device.ts';
import { ringHistorian } from './historian.ts';
import { opcUaLibrary, type OpcUa } from './library.ts';
import { findSet, tellSet, type SetMember } from './redundantSet.ts';

/** Who may sign in beside anybody: made up, as everything here. */
export const BENCH_USERS: Readonly<Record<string, string>> = { operator: 'kiln', archivist: 'ledger' };

/** How a controller is to be found different from what it was. */
export interface OpcUaOptions {
  readonly allowAnonymous?: boolean;
  /** Policies that are offered beside none; all by default. */
  readonly policies?: readonly string[];
  readonly allowNone?: boolean;
  /** Seconds by which its clock is wrong. */
  readonly clockError?: number;
  /** Users and their passwords, looked up at each sign-in. */
  readonly users?: Readonly<Record<string, string>>;
  /** Where its certificate is kept; without it a new one is made at each start. */
  readonly folder?: string;
  /** Whether clients are taken whose certificate it does not know. */
  readonly takesStrangers?: boolean;
  /** Variables are renewed this often. Milliseconds. */
  readonly renewMilliseconds?: number;
  /** Its own memory of the variables that the demo keeps; without it there is none. */
  readonly ring?: RingSettings;
  /** Its own name among servers. */
  readonly uri?: string;
  /** The servers of its redundant set, all of which run; without any it stands alone. */
  readonly set?: readonly SetMember[];
}

const POLICIES = ['Basic256Sha256', 'Aes128_Sha256_RsaOaep', 'Aes256_Sha256_RsaPss'];
/** Server_ServerStatus: OPC 10000-6, annex A. */
const SERVER_STATUS = 'i=2256';
const NAMESPACE = 'urn:wide-ledger:bench';

/** The address of a variable in its controller's tree. */
export const nodeIdOf = ({ path, name }: Pick<Variable, 'path' | 'name'>): string =>
  `ns=1;s=${[...path, name].map((part) => part.replaceAll(' ', '')).join('.')}`;

export class OpcUaDevice implements Device {
  readonly line: Relay;
  private server: OPCUAServer | null = null;
  private requests = 0;
  private clockError: number;
  private readonly ring: Ring<Variable> | null;
  private feeding: NodeJS.Timeout | null = null;
  private readonly written = new Map<Variable, ReturnType<Variable['at']>>();

  constructor(
    private readonly controller: Controller,
    private readonly host: string,
    private readonly port: number,
    private readonly innerPort: number,
    private readonly options: OpcUaOptions = {},
  ) {
    this.line = new Relay(controller.name, host, port, innerPort);
    this.ring = options.ring ? new Ring(options.ring) : null;
    this.clockError = options.clockError ?? 0;
  }

  async start(): Promise<void> {
    const library = opcUaLibrary();
    const { OPCUACertificateManager, OPCUAServer, SecurityPolicy, MessageSecurityMode } = library;
    const rootFolder = this.options.folder ?? mkdtempSync(join(tmpdir(), 'wide-ledger-controller-'));
    const managing = (folder: string, takesUnknown: boolean) =>
      new OPCUACertificateManager({
        rootFolder: join(rootFolder, folder),
        automaticallyAcceptUnknownCertificate: takesUnknown,
      });
    const secured = this.options.policies ?? POLICIES;
    const users = this.options.users ?? BENCH_USERS;
    const allowNone = this.options.allowNone ?? true;
    this.server = new OPCUAServer({
      host: '127.0.0.1',
      hostname: this.host,
      port: this.innerPort,
      resourcePath: '',
      serverInfo: {
        applicationUri: this.options.uri ?? NAMESPACE,
        applicationName: { text: this.controller.name, locale: 'en' },
      },
      serverCertificateManager: managing('server', this.options.takesStrangers ?? true),
      userCertificateManager: managing('users', true),
      allowAnonymous: this.options.allowAnonymous ?? true,
      userManager: { isValidUser: (name: string, password: string) => users[name] === password },
      securityPolicies: [
        ...(allowNone ? [SecurityPolicy.None] : []),
        ...secured.map((name) => SecurityPolicy[name as keyof typeof SecurityPolicy]),
      ],
      securityModes: [
        ...(allowNone ? [MessageSecurityMode.None] : []),
        MessageSecurityMode.Sign,
        MessageSecurityMode.SignAndEncrypt,
      ],
      maxConnectionsPerEndpoint: 200,
      serverCapabilities: { maxSessions: 200, maxSubscriptions: 200 },
      advertisedEndpoints: [`opc.tcp://${this.host}:${this.port}`],
    });
    await this.server.initialize();
    this.addVariables(library, this.server.engine.addressSpace!);
    this.tellClock(this.server.engine.addressSpace!);
    if (this.options.set) {
      tellSet(library, this.server.engine.addressSpace!, this.options.set);
      findSet(library, this.server, this.options.set);
    }
    this.server.on('request', () => this.requests++);
    await this.server.start();
    this.feed();
    await this.line.open();
  }

  /** Writes into the ring on the beats of its feeding, whether or not anybody is connected. */
  private feed(): void {
    const { ring } = this;
    if (!ring) return;
    const { milliseconds } = ring.settings.feeding;
    const variables = this.controller.variables.filter(remembered);
    const now = (): number => this.seconds() * 1000;
    let beat = Math.ceil(now() / milliseconds) * milliseconds;
    // A controller keeps its beats however busy this machine is: those that were missed are written after.
    const look = (): void => {
      for (; beat <= now(); beat += milliseconds)
        for (const variable of variables) ring.offer(variable, beat, this.at(variable, beat / 1000));
      this.feeding = setTimeout(look, Math.max(0, beat - now()));
    };
    look();
  }

  /** Its clock is wrong by so many seconds from now on; beats of its memory that it jumps over are not written. */
  setClock(seconds: number): void {
    this.clockError = seconds;
    if (this.feeding) clearTimeout(this.feeding);
    this.feed();
  }

  /** Loses its memory, as a controller does that was restarted. */
  forget(): void {
    this.ring?.clear();
  }

  async stop(): Promise<void> {
    if (this.feeding) clearTimeout(this.feeding);
    await this.line.stop();
    await this.server?.shutdown(0);
  }

  get state(): DeviceState {
    const now = this.seconds();
    return {
      name: this.controller.name,
      place: this.controller.place,
      protocol: 'OPC UA',
      ...this.line.state,
      requests: this.requests,
      memory: this.ring && {
        holds: this.ring.size,
        capacity: this.ring.settings.capacity,
        since: this.ring.since === null ? null : new Date(this.ring.since).toISOString(),
      },
      clockError: this.clockError,
      points: this.controller.variables.map((variable) => ({
        name: [...variable.path, variable.name].join(' / '),
        address: nodeIdOf(variable),
        raw: variable.type,
        value: shown(this.at(variable, now)),
      })),
    };
  }

  /** Takes a client's certificate from now on. @param certificate in DER. */
  async trust(certificate: Uint8Array): Promise<void> {
    await this.server!.serverCertificateManager.trustCertificate(Buffer.from(certificate));
  }

  private seconds(): number {
    return Date.now() / 1000 + this.clockError;
  }

  /** A controller whose clock is wrong says so where it is asked for the time, too. */
  private tellClock(addressSpace: AddressSpace): void {
    const status = addressSpace.findNode(SERVER_STATUS) as unknown as { $extensionObject: object };
    status.$extensionObject = new Proxy(status.$extensionObject, {
      get: (told, name) =>
        name === 'currentTime' ? new Date(this.seconds() * 1000) : (Reflect.get(told, name) as unknown),
    });
  }

  private addVariables(library: OpcUa, addressSpace: AddressSpace): void {
    const own = addressSpace.getOwnNamespace();
    const folders = new Map<string, UAObject>();
    const root = addressSpace.rootFolder.objects;
    const folderOf = (path: readonly string[]): UAObject => {
      if (path.length === 0) return root;
      const key = path.join('/');
      const known = folders.get(key);
      if (known) return known;
      const made = own.addFolder(folderOf(path.slice(0, -1)), {
        browseName: path.at(-1)!,
        nodeId: `s=${path.map((part) => part.replaceAll(' ', '')).join('.')}`,
      });
      folders.set(key, made);
      return made;
    };
    for (const variable of this.controller.variables) {
      const { path, name, description, unit, low, high, states } = variable;
      const common = {
        componentOf: folderOf(path),
        browseName: name,
        description,
        nodeId: nodeIdOf(variable).replace('ns=1;', ''),
        minimumSamplingInterval: this.options.renewMilliseconds ?? 100,
        value: {
          timestamped_get: () => this.valueOf(library, variable),
          ...(variable.writable ? { timestamped_set: (given: DataValue) => this.take(library, variable, given) } : {}),
        },
      };
      if (states) {
        const node = own.addMultiStateDiscrete({ ...common, enumStrings: [...states], value: 0 });
        (node as unknown as { bindVariable(get: object, over: boolean): void }).bindVariable(common.value, true);
      } else if (low !== null && high !== null) {
        own.addAnalogDataItem({
          ...common,
          dataType: variable.type === 'DoubleArray' ? 'Double' : variable.type,
          valueRank: variable.type === 'DoubleArray' ? 1 : -1,
          engineeringUnitsRange: { low, high },
          ...(unit === '' ? {} : { engineeringUnits: library.makeEUInformation(unit, unit, unit) }),
        });
      } else {
        own.addVariable({ ...common, dataType: variable.type });
      }
      this.remember(library, addressSpace, variable);
    }
  }

  /** Lets a variable's part of the ring be read as its history. */
  private remember(library: OpcUa, addressSpace: AddressSpace, variable: Variable): void {
    const { ring } = this;
    if (!ring || !remembered(variable)) return;
    const historian = ringHistorian(
      library,
      () => ring.of(variable),
      ({ time, value }) => dataValueOf(library, variable.type, value, new Date(time)),
    );
    addressSpace.installHistoricalDataNode(addressSpace.findNode(nodeIdOf(variable)) as UAVariable, { historian });
  }

  private valueOf(library: OpcUa, variable: Variable): object {
    const now = this.seconds();
    return dataValueOf(library, variable.type, this.at(variable, now), new Date(now * 1000));
  }

  /** What a variable holds: what was written to it, else its formula. */
  private at(variable: Variable, seconds: number): ReturnType<Variable['at']> {
    return this.written.get(variable) ?? variable.at(seconds);
  }

  private take({ StatusCodes }: OpcUa, variable: Variable, { value }: DataValue): Promise<StatusCode> {
    this.written.set(variable, value.value as ReturnType<Variable['at']>);
    return Promise.resolve(StatusCodes.Good);
  }
}

/** What the ring remembers: the variables that the demo keeps. */
const remembered = ({ tag }: Variable): boolean => tag !== undefined;

function dataValueOf(library: OpcUa, type: Variable['type'], value: ReturnType<Variable['at']>, time: Date): DataValue {
  const { DataValue, StatusCodes } = library;
  return new DataValue({
    value: variantOf(library, type, value),
    statusCode: StatusCodes.Good,
    sourceTimestamp: time,
    serverTimestamp: time,
  });
}

function variantOf(
  { DataType, Variant, VariantArrayType }: OpcUa,
  type: Variable['type'],
  value: ReturnType<Variable['at']>,
): Variant {
  if (type === 'DoubleArray')
    return new Variant({ dataType: DataType.Double, arrayType: VariantArrayType.Array, value: value as number[] });
  if (type === 'Int64') {
    const whole = BigInt.asUintN(64, value as bigint);
    return new Variant({
      dataType: DataType.Int64,
      arrayType: VariantArrayType.Scalar,
      value: [Number(whole >> 32n), Number(whole & 0xffffffffn)],
    });
  }
  return new Variant({ dataType: DataType[type], value });
}

function shown(value: ReturnType<Variable['at']>): string {
  if (typeof value === 'number') return String(Math.round(value * 1000) / 1000);
  if (typeof value === 'object') return value.map((one) => Math.round(one * 1000) / 1000).join(' ');
  return String(value);
}
