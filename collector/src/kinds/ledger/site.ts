/** Asking another site: one call, its answer checked, and what goes wrong in words. */
import { rawAnswer, tagList, type LedgerConnection, type RawAnswer, type TagList } from '@wide-ledger/contract';
import { Status, formatInstant } from '@wide-ledger/core';
import { setTimeout as wait } from 'node:timers/promises';
import type { z } from 'zod';
import { awayByNetwork } from '../away.ts';
import { HistoryRefused, SourceAway, type Surroundings } from '../kind.ts';
import type { Place } from '../knock.ts';

/** A site that is busy is left alone for a moment. Milliseconds. */
const BUSY_PAUSE = 1000;
const BUSY_TRIES = 5;

export function placeOf({ url }: Pick<LedgerConnection, 'url'>): Place {
  const { hostname, port, protocol } = new URL(url);
  return { host: hostname.replace(/^\[|\]$/g, ''), port: Number(port || (protocol === 'https:' ? 443 : 80)) };
}

export interface RawQuestion {
  readonly tag: string;
  /** Microseconds. */
  readonly from: number;
  readonly to: number;
  readonly limit: number;
  readonly newestFirst?: boolean;
}

export class Site {
  readonly counts = { requests: 0, bytes: 0 };
  /** Its clock minus this machine's, in milliseconds, by the last answer; to the second, as HTTP tells it. */
  clockSkew: number | null = null;

  constructor(
    private readonly connection: LedgerConnection,
    private readonly around: Pick<Surroundings, 'secret'>,
  ) {}

  /** Values of a tag, one page after the other. @throws SourceAway, HistoryRefused */
  async *raw({ tag, from, to, limit, newestFirst = false }: RawQuestion): AsyncGenerator<RawAnswer, void, void> {
    const asked = { tag, from: formatInstant(from), to: formatInstant(to), limit: String(limit) };
    const order = newestFirst ? { order: 'newest' } : {};
    for (let cursor: string | undefined; ;) {
      const query = new URLSearchParams({ ...asked, ...order, ...(cursor === undefined ? {} : { cursor }) });
      const page = await this.get(`/history/raw?${query.toString()}`, rawAnswer);
      yield page;
      if (page.next === undefined) return;
      cursor = page.next;
    }
  }

  /** A page of its tags. @throws SourceAway */
  tags(cursor: string, limit: number): Promise<TagList> {
    return this.get(`/tags?${new URLSearchParams({ cursor, limit: String(limit) }).toString()}`, tagList);
  }

  private async get<Body>(path: string, shape: z.ZodType<Body>): Promise<Body> {
    for (let tries = 1; ; tries++) {
      const { status, text } = await this.ask(path);
      const said = detailOf(text);
      switch (status) {
        case 200: {
          const read = shape.safeParse(parsed(text));
          if (read.success) return read.data;
          throw away(`What answers at ${this.connection.url} is no Wide Ledger, or of another version.`, 'NO_LEDGER');
        }
        case 503:
          if (tries >= BUSY_TRIES) throw away(`The other site is busy: ${said}`, 'HTTP_503');
          await wait(BUSY_PAUSE);
          break;
        case 404:
          throw new HistoryRefused(said || 'The other site does not know that tag.', 'NOT_THERE');
        case 401:
        case 403:
          throw away(
            `The other site does not let this key read: ${said} Make one there with the scope "read".`,
            `HTTP_${status}`,
          );
        default:
          throw away(`The other site answers ${status}: ${said}`, `HTTP_${status}`);
      }
    }
  }

  private async ask(path: string): Promise<{ readonly status: number; readonly text: string }> {
    const { url, key, timeoutMilliseconds } = this.connection;
    const asked = Date.now();
    try {
      const answer = await fetch(`${url}/api/v1${path}`, {
        redirect: 'manual',
        headers: { accept: 'application/json', authorization: `Bearer ${this.around.secret(key) ?? ''}` },
        signal: AbortSignal.timeout(timeoutMilliseconds),
      });
      const text = await answer.text();
      this.counts.requests++;
      this.counts.bytes += text.length;
      const shown = Date.parse(answer.headers.get('date') ?? '');
      // The header is cut off to the second: half of one is to be expected.
      if (Number.isFinite(shown)) this.clockSkew = shown + 500 - (asked + Date.now()) / 2;
      return { status: answer.status, text };
    } catch (error) {
      const { name, cause } = error as Error & { cause?: { code?: string } };
      const { host, port } = placeOf(this.connection);
      const code = name === 'TimeoutError' ? 'NO_ANSWER' : (cause?.code ?? 'UNEXPECTED');
      throw awayByNetwork(host, port, code.startsWith('UND_ERR') ? 'CLOSED' : code);
    }
  }
}

const away = (sentence: string, code: string): SourceAway =>
  new SourceAway(sentence, code, Status.BadCommunicationError);

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** What a problem document says. */
function detailOf(text: string): string {
  const { detail } = (parsed(text) ?? {}) as { detail?: unknown };
  return typeof detail === 'string' ? detail.slice(0, 300) : '';
}
