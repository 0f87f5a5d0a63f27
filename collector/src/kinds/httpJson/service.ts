/** Asking a service: one request, its answer taken apart, and what goes wrong in words. */
import type { HttpJsonConnection } from '@wide-ledger/contract';
import { Status, parseExactJson } from '@wide-ledger/core';
import { awayByNetwork } from '../away.ts';
import { SourceAway, type Fault, type Surroundings } from '../kind.ts';
import type { Place } from '../knock.ts';

/** Bytes of an answer. */
const LARGEST_ANSWER = 4_000_000;
/** Seconds that a service is left alone which says that it is asked too often, and not for how long. */
const LEFT_ALONE = 10;

export function placeOf({ base }: HttpJsonConnection): Place {
  const { hostname, port, protocol } = new URL(base);
  return { host: hostname.replace(/^\[|\]$/g, ''), port: Number(port || (protocol === 'https:' ? 443 : 80)) };
}

/** What a service said to a request. */
export type Answer =
  | {
      readonly kind: 'message';
      readonly message: unknown;
      readonly text: string;
      readonly mark: Mark;
      readonly holdsSeconds: number;
    }
  /** What it said before still holds. */
  | { readonly kind: 'unchanged'; readonly holdsSeconds: number }
  | { readonly kind: 'refused'; readonly fault: Fault; readonly holdsSeconds: number };

/** By what an answer is known again (RFC 9110, 13). */
export interface Mark {
  readonly etag: string | null;
  readonly modified: string | null;
}

function signedIn(
  { signIn, user, password }: HttpJsonConnection,
  around: Pick<Surroundings, 'secret'>,
): Record<string, string> {
  const secret = around.secret(password) ?? '';
  switch (signIn) {
    case 'none':
      return {};
    case 'basic':
      return { authorization: `Basic ${Buffer.from(`${user}:${secret}`).toString('base64')}` };
    case 'bearer':
      return { authorization: `Bearer ${secret}` };
    case 'header':
      return { [user || 'x-api-key']: secret };
  }
}

/** @param before by what the last answer is known; null: there was none. @throws SourceAway */
export async function ask(
  connection: HttpJsonConnection,
  around: Pick<Surroundings, 'secret'>,
  request: string,
  before: Mark | null,
): Promise<Answer> {
  const { base, timeoutMilliseconds } = connection;
  const place = placeOf(connection);
  let answer: Response;
  let text: string;
  try {
    answer = await fetch(base + request, {
      redirect: 'manual',
      headers: {
        accept: 'application/json',
        ...signedIn(connection, around),
        ...(before?.etag ? { 'if-none-match': before.etag } : {}),
        ...(before?.modified ? { 'if-modified-since': before.modified } : {}),
      },
      signal: AbortSignal.timeout(timeoutMilliseconds),
    });
    text = await textOf(answer);
  } catch (error) {
    const { name, cause } = error as Error & { cause?: { code?: string } };
    const code = name === 'TimeoutError' ? 'NO_ANSWER' : (cause?.code ?? 'UNEXPECTED');
    throw awayByNetwork(place.host, place.port, code.startsWith('UND_ERR') ? 'CLOSED' : code);
  }
  const holdsSeconds = heldFor(answer.headers);
  const { status } = answer;
  if (status === 304) return { kind: 'unchanged', holdsSeconds };
  if (status === 401 || status === 403)
    throw new SourceAway(
      `The service at ${base} does not let this user in (${status}). Check how it is signed in.`,
      `HTTP_${status}`,
      Status.BadCommunicationError,
    );
  if (status === 429 || status === 503) {
    const wait = retryAfter(answer.headers.get('retry-after'), Date.now()) ?? LEFT_ALONE;
    return refused(
      request,
      `is asked too often, or not ready (${status}): it is left alone for ${wait} s`,
      status,
      wait,
    );
  }
  if (status >= 300 && status < 400)
    return refused(request, `sends on to ${answer.headers.get('location')}: use that address`, status);
  if (!answer.ok) return refused(request, `answered ${status}: ${text.slice(0, 100)}`, status);
  if (text.length > LARGEST_ANSWER) return refused(request, `answers with more than ${LARGEST_ANSWER} bytes`, status);
  try {
    const mark = { etag: answer.headers.get('etag'), modified: answer.headers.get('last-modified') };
    return { kind: 'message', message: parseExactJson(text), text, mark, holdsSeconds };
  } catch (error) {
    return refused(request, `does not answer in JSON: ${(error as Error).message}`, status);
  }
}

const refused = (request: string, what: string, status: number, holdsSeconds = 0): Answer => ({
  kind: 'refused',
  fault: { sentence: `${request} ${what}.`, code: `HTTP_${status}` },
  holdsSeconds,
});

/**
 * For how long a service asks to be left alone: seconds, or a date (RFC 9110, 10.2.3).
 * @param now milliseconds since 1970. @returns seconds, at most an hour; null where it says nothing that can be read.
 */
export function retryAfter(said: string | null, now: number): number | null {
  const text = said?.trim() ?? '';
  const seconds = /^\d+$/.test(text) ? Number(text) : Math.ceil((Date.parse(text) - now) / 1000);
  return Number.isFinite(seconds) && text !== '' ? Math.min(3600, Math.max(1, seconds)) : null;
}

/** For how long an answer says that it holds (RFC 9111, 5.2.2). Seconds. */
function heldFor(headers: Headers): number {
  const said = headers.get('cache-control') ?? '';
  if (/no-store|no-cache/.test(said)) return 0;
  return Number(/max-age=(\d+)/.exec(said)?.[1] ?? 0);
}

/** As much of a body as is taken apart, and a byte more. */
async function textOf(answer: Response): Promise<string> {
  if (!answer.body) return '';
  const decoder = new TextDecoder();
  let text = '';
  for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>) {
    text += decoder.decode(chunk, { stream: true });
    if (text.length > LARGEST_ANSWER) break;
  }
  return text;
}
