/** The far end of a link, by its one outbound connection: whatever is said goes from here to there. */
import {
  carriedAnswer,
  carriedTagsAnswer,
  carriedTallies,
  carryPosition,
  joined,
  type CarriedAnswer,
  type CarriedTag,
  type CarriedTagsAnswer,
  type CarriedTallies,
  type carriedTalliesAsked,
  type CarryPosition,
  type Joined,
  type SiteCard,
} from '@wide-ledger/contract';
import { explain, networkFault, unpackEntry, type Frame, type Span } from '@wide-ledger/core';
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

  tallies(asked: z.infer<typeof carriedTalliesAsked>): Promise<CarriedTallies> {
    return this.send('POST', '/carry/tallies', carriedTallies, JSON.stringify(asked));
  }

  /** What the far end holds of a tag, by the link's number, within a day; null for nothing. */
  async samples(number: number, { from, to }: Span): Promise<Frame | null> {
    const answer = await this.ask('GET', `/carry/samples?number=${number}&from=${from}&to=${to}`);
    if (!answer.ok) throw await this.refusal(answer);
    return unpackEntry(new Uint8Array(await answer.arrayBuffer())).frame;
  }

  async history(bundle: Uint8Array): Promise<CarriedAnswer> {
    return this.send('POST', '/carry/history', carriedAnswer, await pack(bundle, { level: PACKED_HARD }));
  }

  private async send<Answer>(
    method: string,
    path: string,
    shape: z.ZodType<Answer>,
    body?: string | Uint8Array,
  ): Promise<Answer> {
    const answer = await this.ask(method, path, body);
    if (!answer.ok) throw await this.refusal(answer);
    const parsed = shape.safeParse(await answer.json().catch(() => null));
    if (parsed.success) return parsed.data;
    throw new FarAway(`${this.url} answers, but not as the far end of a link does. It may be of another version.`);
  }

  private async ask(method: string, path: string, body?: string | Uint8Array): Promise<Response> {
    const binary = typeof body === 'object';
    try {
      return await fetch(`${this.url.replace(/\/$/, '')}/api/v1${path}`, {
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
  }

  private async refusal(answer: Response): Promise<Error> {
    const said: unknown = await answer.json().catch(() => null);
    const { detail = `It answered ${answer.status}.`, code } = (said ?? {}) as { detail?: string; code?: string };
    if (code === 'ELSEWHERE') return new StandsElsewhere(detail);
    return new FarAway(
      answer.status === 401
        ? 'The far end does not know the key of this link any more. Ask there for another invitation.'
        : `The far end says: ${detail}`,
    );
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
