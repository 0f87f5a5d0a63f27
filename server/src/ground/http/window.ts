/** The window of a request for history. */
import { MAXIMUM_TIME, formatInstant, parseInstant, resolveTime, type Span } from '@wide-ledger/core';
import { badRequest } from './problemError.ts';

/** The present in microseconds since 1970. */
export const nowMicros = (): number => Date.now() * 1000;

/** What somebody gave as a time, in microseconds since 1970. @throws a problem naming the parameter that is none. */
export function instantOf(name: string, text: string, now: number): number {
  const time = resolveTime(text, now);
  if (time === undefined) {
    throw badRequest(
      `${name}: "${text}" is neither a date-time with its offset, such as 2026-11-22T06:00:00Z, nor a relative one, such as now-6h.`,
    );
  }
  if (Math.abs(time) > MAXIMUM_TIME)
    throw badRequest(`${name}: "${text}" lies outside what can be kept, ${EARLIEST} to ${LATEST}.`);
  return time;
}

const EARLIEST = formatInstant(-MAXIMUM_TIME).slice(0, 10);
const LATEST = formatInstant(MAXIMUM_TIME).slice(0, 10);

/**
 * Both ends against one present. A date before or after anything that can be kept stands for the first or last time that
 * can: there is nothing beyond. @throws a problem naming the end that is no time.
 */
export function resolveWindow({ from, to }: { readonly from: string; readonly to: string }): Span {
  const now = nowMicros();
  const end = (name: string, text: string): number => {
    const date = parseInstant(text);
    return date === undefined ? instantOf(name, text, now) : Math.max(-MAXIMUM_TIME, Math.min(MAXIMUM_TIME, date));
  };
  return { from: end('from', from), to: end('to', to) };
}

/** A window that goes forward. @throws a problem also where it ends before it begins. */
export function forwardWindow(given: { readonly from: string; readonly to: string }): Span {
  const window = resolveWindow(given);
  if (window.to < window.from) throw badRequest('The window is upside down: from lies after to.');
  return window;
}

/** A window with something in it. @throws a problem also where it is empty or upside down. */
export function filledWindow(given: { readonly from: string; readonly to: string }): Span {
  const window = resolveWindow(given);
  if (window.to <= window.from) throw badRequest('The window is empty or upside down: from has to lie before to.');
  return window;
}

/** A window as answers repeat it: instants in UTC. */
export const echoWindow = ({ from, to }: Span): { from: string; to: string } => ({
  from: formatInstant(from),
  to: formatInstant(to),
});
