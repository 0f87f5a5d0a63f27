/** A controller of the plant that speaks OPC UA: a tree of variables with units and ranges, users, every security policy. */
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { AddressSpace, OPCUAServer, UAObject, Variant } from 'node-opcua';
import type { Controller, Variable } from '../../plant/kilnbank/variables.ts';
import { Relay } from '../../relay/relay.ts';
import type { Device, DeviceState } from '../device.ts';
import { opcUaLibrary, type OpcUa } from './library.ts';

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
  /** Variables are renewed this often. Milliseconds. */
  readonly renewMilliseconds?: number;
}

const POLICIES = ['Basic256Sha256', 'Aes128_Sha256_RsaOaep', 'Aes256_Sha256_RsaPss'];
const NAMESPACE = 'urn:wide-ledger:bench';

/** The address of a variable in its controller's tree. */
export const nodeIdOf = ({ path, name }: Pick<Variable, 'path' | 'name'>): string =>
  `ns=1;s=${[...path, name].map((part) => part.replaceAll(' ', '')).join('.')}`;

export class OpcUaDevice implements Device {
  readonly line: Relay;
  private server: OPCUAServer | null = null;
  private requests = 0;

  constructor(
    private readonly controller: Controller,
    private readonly host: string,
    private readonly port: number,
    private readonly innerPort: number,
    private readonly options: OpcUaOptions = {},
  ) {
    this.line = new Relay(controller.name, host, port, innerPort);
  }

  async start(): Promise<void> {
    const library = opcUaLibrary();
    const { OPCUACertificateManager, OPCUAServer, SecurityPolicy, MessageSecurityMode } = library;
    const rootFolder = this.options.folder ?? mkdtempSync(join(tmpdir(), 'wide-ledger-controller-'));
    const trusting = (folder: string) =>
      new OPCUACertificateManager({
        rootFolder: join(rootFolder, folder),
        automaticallyAcceptUnknownCertificate: true,
      });
    const secured = this.options.policies ?? POLICIES;
    const users = this.options.users ?? BENCH_USERS;
    const allowNone = this.options.allowNone ?? true;
    this.server = new OPCUAServer({
      host: '127.0.0.1',
      hostname: this.host,
      port: this.innerPort,
      resourcePath: '',
      serverInfo: { applicationUri: NAMESPACE, applicationName: { text: this.controller.name, locale: 'en' } },
      serverCertificateManager: trusting('server'),
      userCertificateManager: trusting('users'),
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
    this.server.on('request', () => this.requests++);
    await this.server.start();
    await this.line.open();
  }

  async stop(): Promise<void> {
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
      points: this.controller.variables.map((variable) => ({
        name: [...variable.path, variable.name].join(' / '),
        address: nodeIdOf(variable),
        raw: variable.type,
        value: shown(variable.at(now)),
      })),
    };
  }

  private seconds(): number {
    return Date.now() / 1000 + (this.options.clockError ?? 0);
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
        value: { timestamped_get: () => this.valueOf(library, variable) },
      };
      if (states) {
        own.addMultiStateDiscrete({ ...common, enumStrings: [...states], value: 0 });
        const node = addressSpace.findNode(nodeIdOf(variable)) as unknown as {
          bindVariable(get: object, over: boolean): void;
        };
        node.bindVariable({ timestamped_get: common.value.timestamped_get }, true);
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
    }
  }

  private valueOf(library: OpcUa, variable: Variable): object {
    const { DataValue, StatusCodes } = library;
    const now = this.seconds();
    const time = new Date(now * 1000);
    return new DataValue({
      value: variantOf(library, variable.type, variable.at(now)),
      statusCode: StatusCodes.Good,
      sourceTimestamp: time,
      serverTimestamp: time,
    });
  }
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
