/** Errors of sockets and name look-up, by their POSIX names (POSIX.1-2017, errno.h; getaddrinfo for the names). */
import { Status } from '../status/codes.ts';
import type { Explanation } from './fault.ts';

type Place = { readonly host: string; readonly port: number; readonly detail?: string | null };

const NETWORK: Readonly<Record<string, (place: Place) => Explanation>> = {
  ECONNREFUSED: ({ host, port }) => ({
    what: `Nothing answers on ${host}:${port}.`,
    advice: 'The host is up (it refused at once), so the port is wrong or what listens there is off.',
  }),
  ENOTFOUND: ({ host }) => ({
    what: `The name ${host} does not resolve.`,
    advice: 'Check its spelling, or use the address.',
  }),
  EAI_AGAIN: ({ host }) => ({
    what: `The name ${host} could not be looked up just now:`,
    advice: 'the name server does not answer.',
  }),
  ETIMEDOUT: ({ host, port }) => ({
    what: `${host}:${port} did not answer in time.`,
    advice: 'A firewall may drop the connection, or the host is off.',
    status: Status.BadTimeout,
  }),
  EHOSTUNREACH: ({ host }) => ({
    what: `There is no way to ${host}.`,
    advice: 'Check the address and the network between.',
  }),
  EHOSTDOWN: ({ host }) => ({
    what: `${host} is off, or not in this network.`,
    advice: 'Check its power and address.',
  }),
  ENETUNREACH: ({ host }) => ({
    what: `There is no network towards ${host}.`,
    advice: 'Check this machine’s own connection.',
  }),
  ENETDOWN: () => ({ what: 'This machine’s network is down.', advice: 'Check its cable and its settings.' }),
  ECONNRESET: ({ host, port }) => ({
    what: `${host}:${port} broke the connection off.`,
    advice: 'The device restarted, or allows fewer connections than it gets.',
  }),
  EPIPE: ({ host, port }) => ({
    what: `${host}:${port} had closed the connection already.`,
    advice: 'The device restarted, or the line was cut.',
  }),
  EACCES: ({ host, port }) => ({
    what: `This machine does not allow a connection to ${host}:${port}.`,
    advice: 'A local firewall forbids it; allow it for the collector.',
  }),
  EMFILE: () => ({
    what: 'This process has no more connections to give.',
    advice: 'Raise its limit of open files.',
  }),
  CLOSED: ({ host, port }) => ({
    what: `${host}:${port} closed the connection.`,
    advice: 'The device restarted, or the line was cut.',
  }),
  SILENT: ({ host, port }) => ({
    what: `${host}:${port} holds the connection and says nothing any more.`,
    advice: 'The server hangs, or the line lets nothing through; it is tried again.',
    status: Status.BadTimeout,
  }),
  NO_ANSWER: ({ host, port }) => ({
    what: `${host}:${port} accepts connections but did not answer the request in time.`,
    advice: 'Check that it is the right device, and the time-out.',
    status: Status.BadTimeout,
  }),
  NOT_MODBUS: ({ host, port, detail }) => ({
    what: `${host}:${port} sent something that is not a Modbus answer${detail ? `: ${detail}` : ''}.`,
    advice: 'Check that a Modbus TCP device listens there, and the unit number; a gateway may mix up answers.',
    status: Status.BadCommunicationError,
  }),
};

/** Codes of the network that are explained. */
export const NETWORK_CODES = Object.keys(NETWORK);

/** What an error of the network means at a place. */
export function networkFault(code: string, place: Place): Required<Explanation> {
  const { what, advice, status } = NETWORK[code]?.(place) ?? {
    what: `${place.host}:${place.port} cannot be reached (${code}).`,
    advice: 'Check the address and the network between.',
  };
  return { what, advice, status: status ?? Status.BadNoCommunication };
}
