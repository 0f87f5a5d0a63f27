/** Whether a server is one of a redundant set, and where the others of it are, for whoever sets a standby's way. */
import type { OPCUAClient } from 'node-opcua-client';
import type { Approach } from './connecting.ts';

/** Server_ServerRedundancy_RedundancySupport, and _ServerUriArray of a set whose clients choose: OPC 10000-6, annex A. */
const SUPPORT = 'i=3709';
const URIS = 'i=11314';

/** RedundancySupport (OPC 10000-5, 12.5), from memory; the first is none. */
const WORDS = ['', 'cold', 'warm', 'hot', 'transparent', 'hot and mirrored'];

/** What is worth telling of it; nothing where a server stands alone. */
export async function redundancyFacts({ client, session, serverUri }: Approach): Promise<[string, string][]> {
  if (!client || !session) return [];
  const [support, uris] = await session.read([SUPPORT, URIS].map((nodeId) => ({ nodeId, attributeId: 13 })));
  const words = WORDS[Number(support?.value.value ?? 0)] ?? '';
  if (words === '') return [];
  const members = (uris?.value.value ?? []) as unknown;
  const others = Array.isArray(members) ? members.map(String).filter((uri) => uri !== serverUri) : [];
  return [
    ['Redundancy', words],
    ...(others.length === 0
      ? []
      : [['Other servers', (await placesOf(client, others)).join(', ')] as [string, string]]),
  ];
}

/** Servers by their endpoints where the one that is asked knows them (FindServers, OPC 10000-4, 5.5.2), else by their names. */
async function placesOf(client: OPCUAClient, uris: readonly string[]): Promise<string[]> {
  const known = await client.findServers({ serverUris: [...uris] }).catch(() => []);
  const at = new Map(known.map(({ applicationUri, discoveryUrls }) => [applicationUri, discoveryUrls?.[0]]));
  return uris.map((uri) => at.get(uri) ?? uri);
}
