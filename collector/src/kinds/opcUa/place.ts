/** Where an OPC UA server listens, and whether anything does. */
import { Socket } from 'node:net';
import { awayByNetwork } from '../away.ts';

export interface Place {
  readonly host: string;
  readonly port: number;
}

/** OPC 10000-6, 7.1: registered with IANA. */
const DEFAULT_PORT = 4840;

export function placeOf(endpoint: string): Place {
  const { hostname, port } = new URL(endpoint.replace(/^opc\.tcp:/, 'http:'));
  return {
    host: hostname.replace(/^\[|\]$/g, ''),
    port: port === '' ? (/:80(\/|$)/.test(endpoint) ? 80 : DEFAULT_PORT) : Number(port),
  };
}

/** Sees whether something listens, by a connection of its own: its errors tell more than a protocol's. @throws SourceAway */
export function knock({ host, port }: Place, timeout: number): Promise<void> {
  const socket = new Socket();
  return new Promise<void>((done, fail) => {
    const timer = setTimeout(() => fail(awayByNetwork(host, port, 'ETIMEDOUT')), timeout);
    socket.once('error', (error: NodeJS.ErrnoException) => fail(awayByNetwork(host, port, error.code ?? 'ECONNRESET')));
    socket.once('close', () => clearTimeout(timer));
    socket.connect(port, host, () => done());
  }).finally(() => socket.destroy());
}
