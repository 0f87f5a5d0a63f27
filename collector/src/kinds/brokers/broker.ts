/** A connection to a broker, as a source's connection says, and what goes wrong with it in words. */
import type { BrokerConnection } from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import { connect, type IClientOptions, type MqttClient } from 'mqtt';
import { createHash } from 'node:crypto';
import { awayByNetwork } from '../away.ts';
import { SourceAway, type Surroundings } from '../kind.ts';
import type { Place } from '../knock.ts';

/** How often a silent line is asked whether it is there. Seconds. */
const KEEP_ALIVE = 5;
/** Characters that every broker takes (MQTT 3.1.1, 3.1.3.1): 23. */
const NAME_CHARACTERS = 20;

export const placeOf = ({ host, port }: Pick<BrokerConnection, 'host' | 'port'>): Place => ({
  host: host || '127.0.0.1',
  port,
});

/** By which the broker knows this collector again, and keeps messages for it. */
export const clientName = (
  collector: string,
  source: string,
  { host, port }: Pick<BrokerConnection, 'host' | 'port'>,
  topics: readonly string[],
): string =>
  `wl-${createHash('sha256')
    .update(JSON.stringify([collector, source, host, port, topics]))
    .digest('hex')
    .slice(0, NAME_CHARACTERS)}`;

/** How a client takes part: under which name, and whether the broker keeps messages for it. */
export interface Part {
  readonly name: string;
  readonly keptSeconds: number;
  /** What the broker says in its place when the line breaks. */
  readonly will?: NonNullable<IClientOptions['will']>;
}

/**
 * Connects. What the broker sends at once, since it had kept it, is heard by whoever listens by then.
 * @param listen is given the client before it connects.
 * @throws SourceAway
 */
export async function connectBroker(
  connection: BrokerConnection,
  around: Pick<Surroundings, 'secret'>,
  { name, keptSeconds, will }: Part,
  listen: (client: MqttClient) => void = () => undefined,
): Promise<{ readonly client: MqttClient; readonly takenUp: boolean }> {
  const { encrypted, authority, version, user, timeoutMilliseconds } = connection;
  const place = placeOf(connection);
  const options: IClientOptions = {
    ...place,
    protocol: encrypted ? 'mqtts' : 'mqtt',
    protocolVersion: version === '5' ? 5 : 4,
    clientId: name,
    clean: keptSeconds === 0,
    ...(version === '5' ? { properties: { sessionExpiryInterval: keptSeconds } } : {}),
    ...(user === '' ? {} : { username: user, password: around.secret(connection.password) ?? '' }),
    ...(authority === '' ? {} : { ca: pem(authority) }),
    ...(will ? { will } : {}),
    keepalive: KEEP_ALIVE,
    connectTimeout: timeoutMilliseconds,
    // Whoever watches the source connects again, and knows when.
    reconnectPeriod: 0,
    resubscribe: false,
  };
  const client = connect(options);
  listen(client);
  try {
    const takenUp = await new Promise<boolean>((done, fail) => {
      const timer = setTimeout(() => fail(away({ code: 'NO_ANSWER' }, place)), timeoutMilliseconds);
      const settle = (end: () => void): void => {
        clearTimeout(timer);
        end();
      };
      client.once('connect', ({ sessionPresent }) => settle(() => done(sessionPresent)));
      client.once('error', (error) => settle(() => fail(away(error, place))));
      client.once('close', () => settle(() => fail(away({ code: 'CLOSED' }, place))));
    });
    return { client, takenUp };
  } catch (error) {
    client.on('error', () => undefined);
    client.end(true);
    throw error;
  }
}

/** A certificate as it was pasted, in the lines that it has to have. */
const pem = (text: string): string =>
  text.replace(
    /-----BEGIN CERTIFICATE-----([^-]*)-----END CERTIFICATE-----/g,
    (_, body: string) =>
      `-----BEGIN CERTIFICATE-----\n${body.replace(/\s+/g, '').replace(/(.{64})/g, '$1\n')}\n-----END CERTIFICATE-----\n`,
  );

/** Reasons that a broker gives for letting nobody in (MQTT 3.1.1, 3.2.2.3; 5.0, 3.2.2.2), and what is to be done. */
const REFUSALS: Readonly<Record<number, string>> = {
  1: 'does not speak this version of MQTT. Choose the other one.',
  2: 'does not take our name.',
  3: 'is not available at the moment.',
  4: 'does not let this user in. Check user and password.',
  5: 'does not let this user in. Check user and password, and what the user may read.',
  132: 'does not speak this version of MQTT. Choose the other one.',
  133: 'does not take our name.',
  134: 'does not let this user in. Check user and password.',
  135: 'does not let this user in. Check user and password, and what the user may read.',
  136: 'is not available at the moment.',
  139: 'is being shut down.',
  142: 'was joined by another client under our name: two collectors have one name.',
  149: 'does not take packets as large as ours.',
  151: 'has reached a limit of its own.',
};

const NETWORK = /^(E[A-Z]+|NO_ANSWER|CLOSED)$/;

/** Whatever the client says, as the source being away. */
export function away(error: unknown, { host, port }: Place): SourceAway {
  if (error instanceof SourceAway) return error;
  const { code = 'UNEXPECTED', message = '' } = error as { code?: string | number; message?: string };
  if (typeof code === 'number') {
    const why = REFUSALS[code] ?? `refuses: ${message}`;
    return new SourceAway(`The broker at ${host}:${port} ${why}`, `MQTT_${code}`, Status.BadCommunicationError);
  }
  if (/CERT|SELF_SIGNED|ISSUER|ALTNAME/.test(code))
    return new SourceAway(
      `The certificate of the broker at ${host}:${port} is not trusted (${code}). Give the certificate of its authority, and the name that it is made out to.`,
      code,
      Status.BadCommunicationError,
    );
  if (/keepalive/i.test(message)) return awayByNetwork(host, port, 'NO_ANSWER');
  if (message === '' || NETWORK.test(code)) return awayByNetwork(host, port, code);
  return new SourceAway(`The broker at ${host}:${port} says: ${message}.`, code, Status.BadCommunicationError);
}
