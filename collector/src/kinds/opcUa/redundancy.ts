/** Whether a server is one of a redundant set, and where the others of it are: further ways to the same. */
import type { SourceState } from '@wide-ledger/contract';
import type { OPCUAClient } from 'node-opcua-client';
import type { Approach } from './connecting.ts';

/** Server_ServerRedundancy_RedundancySupport, and _ServerUriArray of a set whose clients choose: OPC 10000-6, annex A. */
const SUPPORT = 'i=3709';
const URIS = 'i=11314';

/** RedundancySupport (OPC 10000-5, 12.5), from memory; the first is none. */
const WORDS = ['', 'cold', 'warm', 'hot', 'transparent', 'hot and mirrored'];

/** What a server tells of the set that it is of. */
export interface RedundantSet {
  readonly facts: SourceState['facts'];
  /** Endpoints of the others, as far as the server knows them. */
  readonly endpoints: readonly string[];
}

export const ALONE: RedundantSet = { facts: [], endpoints: [] };

/** What is worth telling of it; nothing where a server stands alone. */
export async function redundantSet({ client, session, serverUri }: Approach): Promise<RedundantSet> {
  if (!client || !session) return ALONE;
  const [support, uris] = await session.read([SUPPORT, URIS].map((nodeId) => ({ nodeId, attributeId: 13 })));
  const words = WORDS[Number(support?.value.value ?? 0)] ?? '';
  if (words === '') return ALONE;
  const members = (uris?.value.value ?? []) as unknown;
  const others = Array.isArray(members) ? members.map(String).filter((uri) => uri !== serverUri) : [];
  if (others.length === 0) return { facts: [['Redundancy', words]], endpoints: [] };
  const places = await placesOf(client, others);
  return {
    facts: [
      ['Redundancy', words],
      ['Other servers', places.map(({ uri, endpoint }) => endpoint ?? uri).join(', ')],
    ],
    endpoints: places.flatMap(({ endpoint }) => endpoint ?? []),
  };
}

/** Servers by their endpoints where the one that is asked knows them (FindServers, OPC 10000-4, 5.5.2). */
async function placesOf(
  client: OPCUAClient,
  uris: readonly string[],
): Promise<{ readonly uri: string; readonly endpoint: string | null }[]> {
  const known = await client.findServers({ serverUris: [...uris] }).catch(() => []);
  const at = new Map(known.map(({ applicationUri, discoveryUrls }) => [applicationUri, discoveryUrls?.[0]]));
  return uris.map((uri) => ({ uri, endpoint: at.get(uri) ?? null }));
}
