/** Sources that are away, in the words of the catalogue of faults. */
import { explain, networkFault } from '@wide-ledger/core';
import { SourceAway } from './kind.ts';

/** An error of the network at a place. @param detail what is known of it beyond its code, as half a sentence. */
export function awayByNetwork(host: string, port: number, code: string, detail: string | null = null): SourceAway {
  const fault = networkFault(code, { host, port, detail });
  return new SourceAway(explain(fault), code, fault.status);
}
