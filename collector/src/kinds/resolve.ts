import { lookup } from 'node:dns/promises';
import type { Outcome } from '../connection/pathWalk.ts';
import { awayByNetwork } from './away.ts';

/** The first rung of every path: the name of a host becomes an address. @throws SourceAway */
export async function resolveName(host: string, port: number): Promise<Outcome> {
  const { address } = await lookup(host).catch((error: NodeJS.ErrnoException) => {
    throw awayByNetwork(host, port, error.code ?? 'ENOTFOUND');
  });
  return { passed: true, sentence: address === host ? `${host} is an address.` : `${host} is ${address}.` };
}
