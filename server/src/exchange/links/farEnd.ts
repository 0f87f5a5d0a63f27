/** The far end of a link, by its one outbound connection: whatever is said goes from here to there. */
import {
  carriedAnswer,
  carriedTagsAnswer,
  carryPosition,
  joined,
  type CarriedAnswer,
  type CarriedTag,
  type CarriedTagsAnswer,
  type CarryPosition,
  type Joined,
  type SiteCard,
} from '@wide-ledger/contract';
import { explain, networkFault } from '@wide-ledger/core';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { z } from 'zod';

const PATIENCE_MILLISECONDS = 30_000;
/** The quickest: values are packed already, and the line is seldom slower than it. */
const PACKED_HARD = 1;

/** The far end does not answer as it should; the message says why, for people. */
export class FarAway extends Error {}

/** It stands elsewhere in the journal than was thought. */
export class StandsElsewhere extends Error {}

const pack = promisify(gzip);

export class FarEnd {
  constructor(
    private readonly url: string,
    private readonly key: string,
  ) {}

  /** A code becomes a key. @throws FarAway with what the far end said. */
  static join(url: string, code: string, site: SiteCard): Promise<Joined> {
    return new FarEnd(url, '').send('POST', '/links/join', joined, JSON.stringify({ code, site }));
  }

  position(): Promise<CarryPosition> {
    return this.send('GET', '/carry/position', carryPosition);
  }

  tags(tags: readonly CarriedTag[]): Promise<CarriedTagsAnswer> {
    return this.send('PUT', '/carry/tags', carriedTagsAnswer, JSON.stringify({ tags }));
  }

  /** @returns how many bytes went over the line, and what became of the values. */
  async entries(bundle: Uint8Array): Promise<CarriedAnswer & { readonly bytes: number }> {
    const body = await pack(bundle, { level: PACKED_HARD });
    return { ...(await this.send('POST', '/carry/entries', carriedAnswer, body)), bytes: body.length };
  }

  private async send<Answer>(
    method: string,
    path: string,
    shape: z.ZodType<Answer>,
    body?: string | Uint8Array,
  ): Promise<Answer> {
    const binary = typeof body === 'object';
    let answer: Response;
    try {
      answer = await fetch(`${this.url.replace(/\/$/, '')}/api/v1${path}`, {
        method,
        redirect: 'error',
        headers: {
          ...(this.key === '' ? {} : { authorization: `Bearer ${this.key}` }),
          ...(body === undefined ? {} : { 'content-type': binary ? 'application/octet-stream' : 'application/json' }),
          ...(binary ? { 'content-encoding': 'gzip' } : {}),
        },
        ...(body === undefined ? {} : { body: body as NonNullable<RequestInit['body']> }),
        signal: AbortSignal.timeout(PATIENCE_MILLISECONDS),
      });
    } catch (error) {
      throw new FarAway(this.wordsOf(error as Error));
    }
    const said: unknown = await answer.json().catch(() => null);
    if (answer.ok) {
      const parsed = shape.safeParse(said);
      if (parsed.success) return parsed.data;
      throw new FarAway(`${this.url} answers, but not as the far end of a link does. It may be of another version.`);
    }
    const { detail = `It answered ${answer.status}.`, code } = (said ?? {}) as { detail?: string; code?: string };
    if (code === 'ELSEWHERE') throw new StandsElsewhere(detail);
    if (answer.status === 401)
      throw new FarAway('The far end does not know the key of this link any more. Ask there for another invitation.');
    throw new FarAway(`The far end says: ${detail}`);
  }

  /** What the network says, in the words of the catalogue of faults. */
  private wordsOf(error: Error): string {
    const { hostname, port, protocol } = new URL(this.url);
    const place = { host: hostname, port: Number(port || (protocol === 'https:' ? 443 : 80)) };
    const { code } = (error.cause ?? {}) as { code?: string };
    if (error.name === 'TimeoutError') return explain(networkFault('NO_ANSWER', place));
    return explain(networkFault(code ?? 'UNEXPECTED', place));
  }
}
