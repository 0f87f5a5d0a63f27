/** A session with an OPC UA server, security and sign-in as its connection says. */
import type { OpcUaConnection } from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import { readFileSync } from 'node:fs';
import type { ClientSession, EndpointDescription, OPCUAClient, UserIdentityInfo } from 'node-opcua-client';
import { SourceAway, type Surroundings } from '../kind.ts';
import {
  APPLICATION_NAME,
  APPLICATION_URI,
  certificateWords,
  derOf,
  fingerprintOf,
  inPairs,
  ownCertificate,
} from './certificates.ts';
import { ONE_TRY, checkTrust, chooseEndpoint, endpointsOf, isSecured, securityWords } from './endpoints.ts';
import { awayByError } from './faults.ts';
import { opcUaLibrary, type OpcUa } from './library.ts';
import { knock } from '../knock.ts';
import { placeOf } from './place.ts';

/** A server that hears nothing for this long lets the session go. */
const SESSION_MILLISECONDS = 60_000;

/** What a server says that does not trust us. Which of them is up to the server: it need not tell strangers why. */
const OWN_REFUSED = ['BadSecurityChecksFailed', 'BadCertificateUntrusted', 'BadCertificateUseNotAllowed'];

/** A connection on its way up, rung by rung: a path check climbs them one by one, opening all at once. */
export class Approach {
  private offered: readonly EndpointDescription[] = [];
  private chosen: EndpointDescription | null = null;
  client: OPCUAClient | null = null;
  session: ClientSession | null = null;
  /** The collector's own certificate, as it was shown to the server. */
  private shown: Uint8Array | null = null;

  private constructor(
    readonly library: OpcUa,
    readonly connection: OpcUaConnection,
    private readonly around: Surroundings,
  ) {}

  static begin(connection: OpcUaConnection, around: Surroundings): Approach {
    return new Approach(opcUaLibrary(), connection, around);
  }

  get place() {
    return placeOf(this.connection.endpoint);
  }

  /** @throws SourceAway where nothing listens. */
  knock(): Promise<void> {
    return knock(this.place, this.connection.timeoutMilliseconds);
  }

  /** Asks what is offered. @returns it in words. @throws SourceAway */
  async ask(): Promise<string[]> {
    this.offered = await endpointsOf(this.library, this.connection);
    return [...new Set(this.offered.map((endpoint) => securityWords(this.library, endpoint)))];
  }

  /** Opens the channel with the security that is asked for. @throws SourceAway */
  async openChannel(): Promise<void> {
    const { library, connection } = this;
    this.chosen = chooseEndpoint(library, connection, this.offered);
    checkTrust(connection, this.chosen);
    const own = await ownCertificate(library, this.around.folder);
    const secured = isSecured(connection);
    if (secured || connection.signIn === 'certificate') this.shown = derOf(own);
    this.client = library.OPCUAClient.create({
      applicationName: APPLICATION_NAME,
      applicationUri: APPLICATION_URI,
      clientCertificateManager: own.manager,
      certificateFile: own.certificateFile,
      privateKeyFile: own.privateKeyFile,
      securityMode: library.MessageSecurityMode[secured ? connection.mode : 'None'],
      securityPolicy: library.SecurityPolicy[secured ? connection.policy : 'None'],
      ...(secured ? { serverCertificate: this.chosen.serverCertificate } : {}),
      endpointMustExist: false,
      connectionStrategy: ONE_TRY,
      keepSessionAlive: true,
      requestedSessionTimeout: SESSION_MILLISECONDS,
      transportTimeout: connection.timeoutMilliseconds,
      defaultTransactionTimeout: connection.timeoutMilliseconds,
    });
    await this.attempt(this.client.connect(connection.endpoint)).catch((error: unknown) => {
      throw this.ownRefused(error);
    });
  }

  /** A refusal of our own certificate says which one that is, for whoever has to trust it at the server. */
  private ownRefused(error: unknown): unknown {
    if (!(error instanceof SourceAway) || this.shown === null || !OWN_REFUSED.includes(error.code)) return error;
    const which = `Ours is ${certificateWords(this.shown)}, fingerprint ${this.ownFingerprint}.`;
    return new SourceAway(`${error.message} ${which}`, error.code, error.status);
  }

  /** Signs in. @throws SourceAway */
  async signIn(): Promise<void> {
    this.session = await this.attempt(this.client!.createSession(await this.identity()));
  }

  /** Whatever the library throws, as the source being away. */
  attempt<Result>(work: Promise<Result>): Promise<Result> {
    return work.catch((error: unknown) => {
      throw awayByError(error, this.place, this.library);
    });
  }

  /** The name by which the server is known among others. */
  get serverUri(): string | null {
    return this.chosen?.server.applicationUri ?? null;
  }

  /** What people want to know of a connection that stands. */
  get facts(): [string, string][] {
    const { chosen, connection } = this;
    if (!chosen) return [];
    const facts: [string, string][] = [
      ['Endpoint', connection.endpoint],
      ['Security', securityWords(this.library, chosen)],
      ['Server', chosen.server.applicationName.text ?? chosen.server.applicationUri ?? ''],
    ];
    if (chosen.serverCertificate?.length > 0) {
      facts.push(['Certificate', certificateWords(chosen.serverCertificate)]);
      facts.push(['Fingerprint', inPairs(fingerprintOf(chosen.serverCertificate))]);
    }
    if (this.shown)
      facts.push(['Our certificate', certificateWords(this.shown)], ['Our fingerprint', this.ownFingerprint]);
    return facts;
  }

  /** Of the certificate that the server is shown, as people compare it; empty where it is shown none. */
  get ownFingerprint(): string {
    return this.shown ? inPairs(fingerprintOf(this.shown)) : '';
  }

  async close(): Promise<void> {
    const { client } = this;
    this.client = null;
    this.session = null;
    await client?.disconnect().catch(() => undefined);
  }

  private async identity(): Promise<UserIdentityInfo> {
    const { UserTokenType } = this.library;
    const { signIn, user, password } = this.connection;
    if (signIn === 'anonymous') return { type: UserTokenType.Anonymous };
    if (signIn === 'user') {
      const secret = this.around.secret(password);
      if (secret === null)
        throw new SourceAway(
          'There is no password for the user, or it cannot be opened here. Enter it anew.',
          'NO_PASSWORD',
          Status.BadNoCommunication,
        );
      return { type: UserTokenType.UserName, userName: user, password: secret };
    }
    const own = await ownCertificate(this.library, this.around.folder);
    return {
      type: UserTokenType.Certificate,
      certificateData: Buffer.from(pemBody(readFileSync(own.certificateFile, 'utf8')), 'base64'),
      privateKey: readFileSync(own.privateKeyFile, 'utf8'),
    };
  }
}

const pemBody = (pem: string): string => pem.replace(/-----[^-]+-----/g, '').replace(/\s/g, '');

/** Opens a session, all rungs at once. @throws SourceAway */
export async function connect(connection: OpcUaConnection, around: Surroundings): Promise<Approach> {
  const approach = Approach.begin(connection, around);
  try {
    await approach.knock();
    await approach.ask();
    await approach.openChannel();
    await approach.signIn();
    return approach;
  } catch (error) {
    await approach.close();
    throw error;
  }
}
