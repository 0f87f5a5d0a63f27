/** What a server tells of the redundant set that it is of: that there is one, who is in it, and where. */
import type { AddressSpace, ApplicationDescription, OPCUAServer, UAObject, UAVariable } from 'node-opcua';
import type { OpcUa } from './library.ts';

/** A server of a set, by its name (URI), and its endpoint where the others know it. */
export interface SetMember {
  readonly uri: string;
  readonly endpoint?: string;
}

/** Server_ServerRedundancy and what is in it (OPC 10000-6, annex A), and that all of a set run (OPC 10000-5, 12.5). */
const SERVER_REDUNDANCY = 'i=2296';
const REDUNDANCY_SUPPORT = 'i=3709';
const SERVER_URIS = 'i=11314';
const HOT = 3;

/** Says in the address space who is in the set. */
export function tellSet(
  { DataType, VariantArrayType }: OpcUa,
  addressSpace: AddressSpace,
  set: readonly SetMember[],
): void {
  (addressSpace.findNode(REDUNDANCY_SUPPORT) as UAVariable).setValueFromSource({
    dataType: DataType.Int32,
    value: HOT,
  });
  const value = set.map(({ uri }) => uri);
  const uris = { dataType: DataType.String, arrayType: VariantArrayType.Array, value };
  const known = addressSpace.findNode(SERVER_URIS) as UAVariable | null;
  if (known) known.setValueFromSource(uris);
  else
    addressSpace.getNamespace(0).addVariable({
      nodeId: SERVER_URIS,
      browseName: 'ServerUriArray',
      propertyOf: addressSpace.findNode(SERVER_REDUNDANCY) as UAObject,
      dataType: 'String',
      valueRank: 1,
      value: uris,
    });
}

/** Answers FindServers with the whole set, as a server of one has to (OPC 10000-4, 6.6.2); the library knows itself alone. */
export function findSet({ ApplicationDescription }: OpcUa, server: OPCUAServer, set: readonly SetMember[]): void {
  const finding = server as unknown as { getServers(channel: unknown): ApplicationDescription[] };
  const alone = finding.getServers.bind(server);
  finding.getServers = (channel) => [
    ...alone(channel),
    ...set.flatMap(({ uri, endpoint }) =>
      endpoint === undefined ? [] : [new ApplicationDescription({ applicationUri: uri, discoveryUrls: [endpoint] })],
    ),
  ];
}
