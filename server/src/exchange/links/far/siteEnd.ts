/** Another site as the far end of a link, by one outbound connection: whatever is said goes from here to there. */
import {
  carriedAnswer,
  carriedTagsAnswer,
  carriedTallies,
  carryPosition,
  heldPapers,
  joined,
  type CarryPosition,
  type CarriedTag,
  type CarriedTagsAnswer,
  type Joined,
  type LinkRung,
  type SiteAccount,
  type SiteCard,
} from '@wide-ledger/contract';
import { explain, networkFault, packBundle, packEntry, unpackEntry, type Frame, type Span } from '@wide-ledger/core';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { z } from 'zod';
import {
  FarAway,
  RefusedThere,
  StandsElsewhere,
  type CarriedPart,
  type ComparedEnd,
  type FarEnd,
  type FarPapers,
  type FarPosition,
  type Stretch,
  type Taken,
} from './farEnd.ts';
import type { Outward } from './outward.ts';
import { clockOf } from './rungs.ts';
import { walkToSite } from './sitePath.ts';

const PATIENCE_MILLISECONDS = 30_000;
/** The quickest: values are packed already, and the line is seldom slower than it. */
const PACKED_HARD = 1;

/** Answers after which the same would be refused again: what is wrong with it stays wrong. */
const NOT_TAKEN: ReadonlySet<number> = new Set([400, 413, 422]);
/** Answers of whoever stands before a server that is not there, or of one that cannot answer now. */
const ANOTHER: ReadonlySet<number> = new Set([502, 503, 504]);

/** What the client says of its connections, in the codes of the network. */
const CODES: Readonly<Record<string, string>> = {
  UND_ERR_SOCKET: 'CLOSED',
  UND_ERR_CONNECT_TIMEOUT: 'ETIMEDOUT',
  UND_ERR_HEADERS_TIMEOUT: 'NO_ANSWER',
  UND_ERR_BODY_TIMEOUT: 'NO_ANSWER',
};

const pack = promisify(gzip);
const hard = (bundle: Uint8Array): Promise<Uint8Array> => pack(bundle, { level: PACKED_HARD });

const packed = ({ description, frame }: CarriedPart): Uint8Array => packEntry(description, frame);

export class SiteEnd implements FarEnd {
  readonly compared: ComparedEnd = {
    tallies: (asked) => this.send('POST', '/carry/tallies', carriedTallies, JSON.stringify(asked)),
    samples: (number, span) => this.samples(number, span),
    history: async (entries) => {
      const body = await hard(packBundle(entries.map(packed)));
      return { ...(await this.send('POST', '/carry/history', carriedAnswer, body)), bytes: body.length };
    },
  };

  readonly papers: FarPapers = {
    held: async () => {
      const answer = await this.ask('GET', '/carry/papers');
      if (answer.status === 404) return null;
      return (await this.read(answer, heldPapers)).papers;
    },
    take: async (papers) => {
      const answer = await this.ask('PUT', '/carry/papers', papers);
      if (!answer.ok) throw await this.refusal(answer);
    },
  };

  /** Which of the addresses is in use: the next one when it does not answer. */
  private turn = 0;

  constructor(
    /** Where it answers, the first one first. */
    private readonly urls: readonly string[],
    /** Null before it was joined: then it can be walked to, and joined. */
    private readonly key: string | null,
    /** Of this site. */
    private readonly version: string,
    private readonly outward: Outward,
  ) {}

  private get url(): string {
    return this.urls[this.turn % this.urls.length]!;
  }

  get inUse(): string | null {
    return this.urls.length > 1 ? this.url : null;
  }

  /** A code becomes a key. @throws FarAway with what the far end said. */
  join(code: string, site: SiteCard): Promise<Joined> {
    return this.send('POST', '/links/join', joined, JSON.stringify({ code, site }));
  }

  async position(): Promise<FarPosition> {
    const asked = Date.now();
    const position = await this.send('GET', '/carry/position', carryPosition);
    const clock = position.now === undefined ? undefined : clockOf(position.now, asked, Date.now());
    return { ...position, name: position.site.name, ...(clock ? { clock } : {}) };
  }

  tags(tags: readonly CarriedTag[]): Promise<CarriedTagsAnswer> {
    return this.send('PUT', '/carry/tags', carriedTagsAnswer, JSON.stringify({ tags }));
  }

  async entries({ head, entries }: Stretch): Promise<Taken> {
    const body = await hard(packBundle([packEntry(head, null), ...entries.map(packed)]));
    return { ...(await this.send('POST', '/carry/entries', carriedAnswer, body)), bytes: body.length };
  }

  async hear(account: SiteAccount): Promise<void> {
    const answer = await this.ask('PUT', '/carry/account', JSON.stringify(account));
    // Older sites do not ask.
    if (!answer.ok && answer.status !== 404) throw await this.refusal(answer);
  }

  check(): AsyncIterable<LinkRung> {
    const position = (): Promise<CarryPosition> => this.send('GET', '/carry/position', carryPosition);
    return walkToSite(this.url, this.version, this.outward, this.key === null ? null : position);
  }

  close(): Promise<void> {
    return Promise.resolve();
  }

  private async samples(number: number, { from, to }: Span): Promise<Frame | null> {
    const answer = await this.ask('GET', `/carry/samples?number=${number}&from=${from}&to=${to}`);
    if (!answer.ok) throw await this.refusal(answer);
    return unpackEntry(new Uint8Array(await answer.arrayBuffer())).frame;
  }

  private async send<Answer>(
    method: string,
    path: string,
    shape: z.ZodType<Answer>,
    body?: string | Uint8Array,
  ): Promise<Answer> {
    return this.read(await this.ask(method, path, body), shape);
  }

  private async read<Answer>(answer: Response, shape: z.ZodType<Answer>): Promise<Answer> {
    if (!answer.ok) throw await this.refusal(answer);
    const parsed = shape.safeParse(await answer.json().catch(() => null));
    if (parsed.success) return parsed.data;
    throw new FarAway(`${this.url} answers, but not as the far end of a link does. It may be of another version.`);
  }

  private async ask(method: string, path: string, body?: string | Uint8Array): Promise<Response> {
    const binary = typeof body === 'object';
    try {
      const answer = await this.outward.fetch(`${this.url.replace(/\/$/, '')}/api/v1${path}`, {
        method,
        redirect: 'error',
        headers: {
          ...(this.key === null ? {} : { authorization: `Bearer ${this.key}` }),
          ...(body === undefined ? {} : { 'content-type': binary ? 'application/octet-stream' : 'application/json' }),
          ...(binary ? { 'content-encoding': 'gzip' } : {}),
        },
        ...(body === undefined ? {} : { body: body as NonNullable<RequestInit['body']> }),
        signal: AbortSignal.timeout(PATIENCE_MILLISECONDS),
      });
      if (ANOTHER.has(answer.status)) this.turn++;
      return answer;
    } catch (error) {
      const words = this.wordsOf(error as Error);
      this.turn++;
      throw new FarAway(words);
    }
  }

  private async refusal(answer: Response): Promise<Error> {
    const said: unknown = await answer.json().catch(() => null);
    const { detail = `It answered ${answer.status}.`, code } = (said ?? {}) as { detail?: string; code?: string };
    if (code === 'ELSEWHERE') return new StandsElsewhere(detail);
    if (NOT_TAKEN.has(answer.status)) return new RefusedThere(`The far end says: ${detail}`);
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
    const { code = 'UNEXPECTED' } = (error.cause ?? {}) as { code?: string };
    return explain(networkFault(error.name === 'TimeoutError' ? 'NO_ANSWER' : (CODES[code] ?? code), place));
  }
}
