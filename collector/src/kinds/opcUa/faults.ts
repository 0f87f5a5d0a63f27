/** The library's errors, in the words of the catalogue of faults. */
import { explain, opcUaFault } from '@wide-ledger/core';
import { awayByNetwork } from '../away.ts';
import { SourceAway } from '../kind.ts';
import type { Place } from '../knock.ts';
import type { OpcUa } from './library.ts';

/** A status code as the library has it. */
interface Coded {
  readonly value: number;
  readonly name: string;
}

/** The code of a status as it is shown: its name in the standard, which people can look up. */
export const codeOf = ({ name }: Coded): string => name;

const NETWORK = /\b(ECONNREFUSED|ENOTFOUND|EAI_AGAIN|ETIMEDOUT|EHOSTUNREACH|ENETUNREACH|ECONNRESET|EPIPE)\b/;

/** Whatever the library threw, as the source being away. */
export function awayByError(error: unknown, place: Place, { StatusCodes }: OpcUa): SourceAway {
  if (error instanceof SourceAway) return error;
  const { message = '', response } = error as {
    message?: string;
    response?: { responseHeader?: { serviceResult?: Coded } };
  };
  const told = response?.responseHeader?.serviceResult;
  const named = /\bBad[A-Z]\w+/.exec(message)?.[0];
  const status =
    told && told.value !== 0 ? told : named ? (StatusCodes as unknown as Record<string, Coded>)[named] : undefined;
  if (status) return awayByStatus(status);
  const network = NETWORK.exec(message)?.[1];
  if (network) return awayByNetwork(place.host, place.port, network);
  if (/timeout|timed out/i.test(message)) return awayByNetwork(place.host, place.port, 'NO_ANSWER');
  if (/premature|closed|disconnect|socket|abort/i.test(message)) return awayByNetwork(place.host, place.port, 'CLOSED');
  return awayByNetwork(place.host, place.port, 'UNEXPECTED');
}

/** A status that concerns the source as a whole. */
export function awayByStatus(status: Coded): SourceAway {
  const fault = opcUaFault(status.value, status.name);
  return new SourceAway(explain(fault), codeOf(status), fault.status);
}
