/** OPC UA status codes that a client meets on its way to values (OPC 10000-4, 7.39, and OPC 10000-6, annex A). */
import { Status } from '../status/codes.ts';
import type { Catalogue, Explanation } from './fault.ts';

const wrongCertificate = 'Renew it, or trust another one.';
const elsewhere =
  'Read the node with another client: if it answers the same, the fault lies at the server or the device behind it, and its log says more.';
const lessAtOnce = 'Ask for fewer tags, or spread them over several connections.';

/** By the upper sixteen bits of the code. */
export const OPC_UA_FAULTS: Catalogue<number> = {
  0x8003: { what: 'The server has no memory left.', advice: lessAtOnce },
  0x8004: { what: 'The server has nothing left to serve with.', advice: lessAtOnce },
  0x8005: { what: 'The connection to the server failed.', advice: 'Walk the path to see where.' },
  0x8008: { what: 'The message is larger than the server takes.', advice: lessAtOnce },
  0x800a: {
    what: 'The server did not answer in time.',
    advice: 'Raise the time-out, or look at the server’s load.',
    status: Status.BadTimeout,
  },
  0x800b: {
    what: 'The server does not offer this service.',
    advice: 'Acquire the values by reading instead.',
    status: Status.BadNotSupported,
  },
  0x800d: { what: 'The server is not connected.', advice: 'It may be restarting; it is tried again.' },
  0x800e: { what: 'The server has stopped.', advice: 'Start it; it is tried again.' },
  0x8010: { what: 'That was too much for one request.', advice: lessAtOnce },
  0x8012: { what: 'The certificate is not valid.', advice: wrongCertificate },
  0x8013: {
    what: 'The security check failed.',
    advice:
      'Policy and security have to be the same at both ends, and the server has to trust the collector’s certificate.',
  },
  0x8014: {
    what: 'The certificate has ended, or is not valid yet.',
    advice: 'Renew it, and check the clocks of both machines.',
  },
  0x8016: {
    what: 'The certificate is for another host.',
    advice: 'Use the host’s name as the certificate has it, or renew the certificate.',
  },
  0x8017: { what: 'The certificate is for another application.', advice: wrongCertificate },
  0x801a: { what: 'The certificate is not trusted.', advice: 'Trust it at the end that refuses it.' },
  0x801d: { what: 'The certificate was revoked.', advice: wrongCertificate },
  0x801f: {
    what: 'The user may not do this.',
    advice: 'Check user and password, or what the server allows this user.',
  },
  0x8020: { what: 'The server does not take this way of signing in.', advice: 'Choose another one.' },
  0x8021: { what: 'User or password is wrong.', advice: 'Enter the password anew, and check the user’s name.' },
  0x8022: { what: 'The secure channel is gone.', advice: 'It is opened again by itself.' },
  0x8025: {
    what: 'The server does not know the session any more.',
    advice: 'It restarted; a new session is opened by itself.',
  },
  0x8026: { what: 'The server closed the session.', advice: 'A new one is opened by itself.' },
  0x8028: { what: 'The server does not know the subscription any more.', advice: 'It is made again by itself.' },
  0x8033: { what: 'This is no node id.', advice: 'Pick the node from the tree.', status: Status.BadNodeIdUnknown },
  0x8034: {
    what: 'The server has no such node.',
    advice: 'Pick it from the tree; its namespace number may have changed.',
    status: Status.BadNodeIdUnknown,
  },
  0x8035: {
    what: 'The node has no value.',
    advice: 'Pick a variable: objects and folders hold none.',
    status: Status.BadConfigurationError,
  },
  0x8036: {
    what: 'The range of elements cannot be read.',
    advice: 'Name one element, such as [3].',
    status: Status.BadConfigurationError,
  },
  0x8037: {
    what: 'There is no such element in the value.',
    advice: 'Leave the element out to see what the value is made of.',
    status: Status.BadConfigurationError,
  },
  0x803a: {
    what: 'The node may not be read.',
    advice: 'Check what the server allows this user.',
    status: Status.BadConfigurationError,
  },
  0x803d: {
    what: 'The server does not support this.',
    advice: 'Choose another way of acquiring.',
    status: Status.BadNotSupported,
  },
  0x8054: {
    what: 'The server does not offer this security mode.',
    advice: 'Choose one that it offers; the path check lists them.',
  },
  0x8055: {
    what: 'The server does not offer this security policy.',
    advice: 'Choose one that it offers; the path check lists them.',
  },
  0x8056: {
    what: 'The server has no session left.',
    advice: 'Close other clients, or raise the number at the server.',
  },
  0x8074: {
    what: 'The value is of another type.',
    advice: 'Give the tag the type that the source has.',
    status: Status.BadTypeMismatch,
  },
  0x8077: { what: 'The server has no subscription left.', advice: lessAtOnce },
  0x807d: { what: 'This is no OPC UA server.', advice: 'Another service listens on this port; check the port.' },
  0x8080: { what: 'The message is larger than the server takes.', advice: lessAtOnce },
  0x8083: { what: 'The server does not know this endpoint.', advice: 'Use an address that the server lists.' },
  0x80ac: { what: 'The connection was refused or broke off.', advice: 'It is tried again.' },
  0x80ae: {
    what: 'The connection was closed.',
    advice: 'The server restarted, or the line was cut; it is tried again.',
  },
  0x80b9: { what: 'The answer is larger than the client takes.', advice: lessAtOnce },
  0x80db: { what: 'The server takes no more monitored items.', advice: lessAtOnce },
};

/** What a Bad status code means. @param code all 32 bits. @param name as the standard spells it. */
export function opcUaFault(
  code: number,
  name = `0x${code.toString(16).toUpperCase().padStart(8, '0')}`,
): Required<Explanation> {
  const { what, advice, status } = OPC_UA_FAULTS[code >>> 16] ?? {
    what: `The server answered ${name}.`,
    advice: elsewhere,
  };
  return { what, advice, status: status ?? Status.BadNoCommunication };
}
