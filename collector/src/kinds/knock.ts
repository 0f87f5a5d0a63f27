/** Whether anything listens where a source is to be. */
import { Socket } from 'node:net';
import { awayByNetwork } from './away.ts';

export interface Place {
  readonly host: string;
  readonly port: number;
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
