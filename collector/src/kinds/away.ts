/** Sources that are away, in the words of the catalogue of faults. */
import { explain, networkFault } from '@wide-ledger/core';
import { SourceAway } from './kind.ts';

/** An error of the network at a place. */
export function awayByNetwork(host: string, port: number, code: string): SourceAway {
  const fault = networkFault(code, { host, port });
  return new SourceAway(explain(fault), code, fault.status);
}
