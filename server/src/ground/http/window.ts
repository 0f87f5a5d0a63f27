/** The window of a request for history. */
import { formatInstant, resolveTime, type Span } from '@wide-ledger/core';
import { badRequest } from './problem.ts';

/** The present in microseconds since 1970. */
export const nowMicros = (): number => Date.now() * 1000;

/** Both ends against one present. @throws a problem naming the end that is no time. */
export function resolveWindow(given: { from: string; to: string }): Span {
  const now = nowMicros();
  const end = (name: 'from' | 'to'): number => {
    const time = resolveTime(given[name], now);
    if (time === undefined) {
      throw badRequest(
        `${name}: "${given[name]}" is neither a date-time with its offset, such as 2026-11-22T06:00:00Z, nor a relative one, such as now-6h.`,
      );
    }
    return time;
  };
  return { from: end('from'), to: end('to') };
}

/** A window as answers repeat it: instants in UTC. */
export const echoWindow = ({ from, to }: Span): { from: string; to: string } => ({
  from: formatInstant(from),
  to: formatInstant(to),
});
