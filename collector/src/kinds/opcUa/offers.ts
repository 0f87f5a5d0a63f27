/** What a server offers before anybody signs in: the servers that it knows of, and its endpoints. */
import { OPC_UA_MODES, OPC_UA_POLICIES, type OffersAnswer, type OpcUaConnection } from '@wide-ledger/contract';
import type { EndpointDescription } from 'node-opcua-client';
import { certificateWords, fingerprintOf, inPairs } from './certificates.ts';
import { askOpenly } from './endpoints.ts';
import type { OpcUa } from './library.ts';
import { knock } from '../knock.ts';
import { placeOf } from './place.ts';

type Endpoint = OffersAnswer['endpoints'][number];

/** @throws SourceAway */
export async function offersOf(library: OpcUa, connection: OpcUaConnection): Promise<OffersAnswer> {
  await knock(placeOf(connection.endpoint), connection.timeoutMilliseconds);
  return askOpenly(library, connection, async (client) => {
    const [endpoints, servers] = [await client.getEndpoints(), await client.findServers()];
    return {
      servers: servers.map(({ applicationName, applicationUri, discoveryUrls }) => ({
        name: applicationName.text ?? applicationUri ?? '',
        endpoints: (discoveryUrls ?? []).filter((url): url is string => url !== null),
      })),
      endpoints: endpoints.flatMap((endpoint) => described(library, endpoint)),
    };
  });
}

/** An endpoint in terms of a connection; nothing where its security is one that is not used any more. */
function described(library: OpcUa, endpoint: EndpointDescription): Endpoint[] {
  const policy = OPC_UA_POLICIES.find((one) => one === (endpoint.securityPolicyUri?.split('#')[1] ?? 'None'));
  const mode = OPC_UA_MODES.find((one) => one === library.MessageSecurityMode[endpoint.securityMode]);
  if (!policy || !mode) return [];
  const { UserTokenType } = library;
  const types = new Set((endpoint.userIdentityTokens ?? []).map(({ tokenType }) => Number(tokenType)));
  const signIns: Endpoint['signIns'] = [];
  if (types.has(Number(UserTokenType.Anonymous))) signIns.push('anonymous');
  if (types.has(Number(UserTokenType.UserName))) signIns.push('user');
  if (types.has(Number(UserTokenType.Certificate))) signIns.push('certificate');
  const { serverCertificate } = endpoint;
  const isThere = serverCertificate?.length > 0;
  return [
    {
      policy,
      mode,
      signIns,
      certificate: isThere ? certificateWords(serverCertificate) : '',
      fingerprint: isThere ? inPairs(fingerprintOf(serverCertificate)) : '',
    },
  ];
}
