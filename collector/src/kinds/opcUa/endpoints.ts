/** The endpoints that a server offers, and the one that a connection asks for. */
import type { OpcUaConnection } from '@wide-ledger/contract';
import type { EndpointDescription, OPCUAClient } from 'node-opcua-client';
import { SourceAway } from '../kind.ts';
import { Status } from '@wide-ledger/core';
import { APPLICATION_NAME, certificateWords, fingerprintOf, inPairs } from './certificates.ts';
import { awayByError } from './faults.ts';
import type { OpcUa } from './library.ts';
import { placeOf } from './place.ts';

/** One try and no other: who waits decides whether to try again. */
export const ONE_TRY = { maxRetry: 0, initialDelay: 100, maxDelay: 100 } as const;

/** Asks a server something over a channel without security, before anybody signs in. @throws SourceAway */
export async function askOpenly<Answer>(
  library: OpcUa,
  connection: OpcUaConnection,
  ask: (client: OPCUAClient) => Promise<Answer>,
): Promise<Answer> {
  const client = library.OPCUAClient.create({
    applicationName: APPLICATION_NAME,
    connectionStrategy: ONE_TRY,
    endpointMustExist: false,
    transportTimeout: connection.timeoutMilliseconds,
    defaultTransactionTimeout: connection.timeoutMilliseconds,
  });
  try {
    await client.connect(connection.endpoint);
    return await ask(client);
  } catch (error) {
    throw awayByError(error, placeOf(connection.endpoint), library);
  } finally {
    await client.disconnect().catch(() => undefined);
  }
}

/** Which endpoints a server offers. @throws SourceAway */
export const endpointsOf = (library: OpcUa, connection: OpcUaConnection): Promise<EndpointDescription[]> =>
  askOpenly(library, connection, (client) => client.getEndpoints());

/** An endpoint's security as people choose it. */
export function securityWords({ MessageSecurityMode }: OpcUa, endpoint: EndpointDescription): string {
  const policy = policyOf(endpoint);
  return policy === 'None' ? 'None' : `${policy} ${MessageSecurityMode[endpoint.securityMode]}`;
}

const policyOf = ({ securityPolicyUri }: EndpointDescription): string => securityPolicyUri?.split('#')[1] ?? 'None';

/** The security that a connection asks for: a policy without a mode signs and encrypts nothing. */
export const isSecured = ({ policy, mode }: OpcUaConnection): boolean => policy !== 'None' && mode !== 'None';

/** The endpoint with the policy and the mode that are asked for. @throws SourceAway where the server has none. */
export function chooseEndpoint(
  library: OpcUa,
  connection: OpcUaConnection,
  offered: readonly EndpointDescription[],
): EndpointDescription {
  const asked = isSecured(connection) ? `${connection.policy} ${connection.mode}` : 'None';
  const found = offered.find((endpoint) => securityWords(library, endpoint) === asked);
  if (found) return found;
  const words = [...new Set(offered.map((endpoint) => securityWords(library, endpoint)))];
  throw new SourceAway(
    `The server does not offer ${asked === 'None' ? 'a connection without security' : asked}. It offers ${words.join(', ')}. Choose one of these.`,
    asked === 'None' ? 'BadSecurityModeRejected' : 'BadSecurityPolicyRejected',
    Status.BadNoCommunication,
  );
}

/** Sees that the server's certificate is one that the connection trusts. @throws SourceAway with its fingerprint. */
export function checkTrust(connection: OpcUaConnection, { serverCertificate }: EndpointDescription): void {
  if (!isSecured(connection)) return;
  const fingerprint = fingerprintOf(serverCertificate);
  if (connection.trusted.includes(fingerprint)) return;
  throw new SourceAway(
    `The server's certificate is not trusted yet: ${certificateWords(serverCertificate)}, fingerprint ${inPairs(fingerprint)}. Compare the fingerprint with the one that the server shows, then trust it.`,
    `NOT_TRUSTED ${fingerprint}`,
    Status.BadNoCommunication,
  );
}
