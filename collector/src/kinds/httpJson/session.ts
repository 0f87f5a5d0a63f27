/** Reading a service: each request once a beat for all the tags that lie in its answer, and not before that may have changed. */
import { messageTerms, type HttpJsonConnection } from '@wide-ledger/contract';
import {
  Status,
  parseMessagePath,
  rowsOfMessage,
  type MessageField,
  type MessageRow,
  type MessageTerms,
} from '@wide-ledger/core';
import { reshapingBy, type Reshaping } from '../expressions/expressions.ts';
import {
  SourceAway,
  type Fault,
  type PolledSession,
  type Sample,
  type Surroundings,
  type TagOf,
  type Traffic,
} from '../kind.ts';
import { sampleOfRow } from '../messageSamples.ts';
import { furtherPages } from './pages.ts';
import { ask, type Mark } from './service.ts';

type Tag = TagOf<'http-json'>;

/** Requests beside each other. */
const AT_A_TIME = 4;

/** A request is waited for at least so long before it is late. Milliseconds. */
const LEAST_PATIENCE = 250;

/** What was answered last to a request. */
interface Held {
  /** One, or the pages that it came in. */
  readonly pages: readonly unknown[];
  readonly mark: Mark | null;
  /** Why there is no message. */
  readonly fault: Fault | null;
  /** Until when it is not asked again, by the counter that nobody sets. Milliseconds. */
  readonly until: number;
}

export class HttpJsonSession implements PolledSession<'http-json'> {
  readonly acquires = 'poll';
  private readonly held = new Map<string, Held>();
  private readonly counts = { requests: 0, bytes: 0 };
  private readonly terms: MessageTerms;
  private readonly reshaping: Reshaping | null;
  /** Requests that are not answered yet, or whose answer nobody took. */
  private readonly asking = new Map<string, Promise<Held | SourceAway>>();
  private underWay = 0;
  private readonly turns: (() => void)[] = [];

  constructor(
    private readonly connection: HttpJsonConnection,
    private readonly around: Pick<Surroundings, 'secret'>,
  ) {
    this.terms = messageTerms(connection);
    this.reshaping = reshapingBy(connection.expression);
  }

  get traffic(): Traffic {
    return this.counts;
  }

  /**
   * Requests go beside each other, and one that is slow or fails holds up no other: its tags get a fault, and it is waited
   * for beside the next reads. @throws SourceAway where none of them is answered.
   */
  async read(tags: readonly Tag[]): Promise<Sample[]> {
    const asked = new Map<string, Tag[]>();
    for (const tag of tags) {
      const { request } = tag.reading.address;
      asked.set(request, [...(asked.get(request) ?? []), tag]);
    }
    const answers = await Promise.all(
      [...asked].map(async ([request, own]) => [own, await this.inTime(request, own)] as const),
    );
    const away = answers.flatMap(([, answer]) => (answer instanceof SourceAway ? [answer] : []));
    if (away.length > 0 && away.length === answers.length) throw away[0]!;
    return answers.flatMap(([own, answer]) =>
      this.samplesOf(answer instanceof SourceAway ? failed(answer) : answer, own),
    );
  }

  /** What is answered until the next read is due; a request is waited for once, not at every read. */
  private async inTime(request: string, tags: readonly Tag[]): Promise<Held | SourceAway> {
    const isAsked = this.asking.has(request);
    const asking = this.asking.get(request) ?? this.ask(request, holdsOf(tags));
    this.asking.set(request, asking);
    const patience = isAsked ? 0 : patienceOf(tags, this.connection.timeoutMilliseconds);
    let timer: NodeJS.Timeout | undefined;
    const late = new Promise<Held>((done) => {
      timer = setTimeout(() => done(lateFor(request)), patience);
    });
    // One that is answered by now is taken before the time is over, however little of it there is.
    const answer = await Promise.race([asking, late]);
    clearTimeout(timer);
    if (answer instanceof SourceAway || answer.fault?.code !== LATE) this.asking.delete(request);
    return answer;
  }

  /** Its turn comes when few others are asked. */
  private async ask(request: string, holds: number | null): Promise<Held | SourceAway> {
    while (this.underWay >= AT_A_TIME) await new Promise<void>((done) => this.turns.push(done));
    this.underWay++;
    try {
      return await this.answerTo(request, holds);
    } catch (error) {
      if (error instanceof SourceAway) return error;
      throw error;
    } finally {
      this.underWay--;
      this.turns.shift()?.();
    }
  }

  close(): void {
    this.held.clear();
    this.asking.clear();
    this.reshaping?.close();
  }

  /** @param holds seconds that whoever configured it says; null: as the answer says. */
  private async answerTo(request: string, holds: number | null): Promise<Held> {
    const before = this.held.get(request) ?? null;
    if (before && performance.now() < before.until) return before;
    const answer = await ask(this.connection, this.around, request, before?.fault ? null : (before?.mark ?? null));
    this.counts.requests++;
    const until =
      performance.now() + 1000 * (answer.kind === 'refused' ? answer.holdsSeconds : (holds ?? answer.holdsSeconds));
    let next: Held;
    if (answer.kind === 'unchanged')
      next = { pages: before?.pages ?? [], mark: before?.mark ?? null, fault: null, until };
    else if (answer.kind === 'refused') next = { pages: [], mark: null, fault: answer.fault, until };
    else {
      this.counts.bytes += answer.text.length;
      const further = await furtherPages(this.connection, this.around, request, answer.message);
      this.counts.requests += further.pages.length;
      const { pages, fault } = await this.reshapedPages(request, [answer.message, ...further.pages]);
      // A page that is missing is asked for again with all the others.
      const mark = further.fault ? null : answer.mark;
      next = { pages, mark, fault: further.fault ?? fault, until };
    }
    this.held.set(request, next);
    return next;
  }

  /** What the expression makes of each page, where there is one. */
  private async reshapedPages(request: string, pages: readonly unknown[]): Promise<Pick<Held, 'pages' | 'fault'>> {
    const { reshaping } = this;
    if (!reshaping) return { pages, fault: null };
    const reshaped: unknown[] = [];
    for (const message of pages) {
      const read = await reshaping.reshape({ message }, request);
      if ('trouble' in read)
        return { pages: [], fault: { sentence: `${request}: ${read.trouble}`, code: 'EXPRESSION' } };
      reshaped.push(read.message);
    }
    return { pages: reshaped, fault: null };
  }

  private samplesOf({ pages, fault }: Held, tags: readonly Tag[]): Sample[] {
    if (fault)
      return tags.map(({ id }) => ({
        tag: id,
        value: null,
        status: Status.BadNoCommunication,
        sourceTime: null,
        fault,
      }));
    const fields = tags.flatMap((tag): MessageField<Tag>[] => {
      const field = parseMessagePath(tag.reading.address.field);
      return field ? [{ tag, field }] : [];
    });
    return pages
      .flatMap((page, i) => {
        const rows = rowsOfMessage(page, fields, this.terms, { retained: false });
        // What stands on the first page need not stand on the others.
        return i === 0 ? rows : rows.filter(hasValue);
      })
      .map(sampleOfRow);
  }
}

const LATE = 'LATE';
const faultOf = (fault: Fault): Held => ({ pages: [], mark: null, fault, until: 0 });
const failed = ({ message, code }: SourceAway): Held => faultOf({ sentence: message, code });
const lateFor = (request: string): Held =>
  faultOf({ sentence: `${request} has not been answered yet. The other requests of this source go on.`, code: LATE });

/** So long a request is waited for: until its tags are due again. Milliseconds. */
function patienceOf(tags: readonly Tag[], timeout: number): number {
  const interval = Math.min(...tags.map(({ reading }) => reading.intervalMilliseconds));
  return interval > 0 ? Math.min(timeout, Math.max(LEAST_PATIENCE, 0.8 * interval)) : timeout + LEAST_PATIENCE;
}

/** The shortest time for which somebody said that an answer holds; null: nobody did. */
function holdsOf(tags: readonly Tag[]): number | null {
  const said = tags.flatMap(({ reading: { address } }) =>
    address.holdsSeconds === undefined ? [] : [address.holdsSeconds],
  );
  return said.length === 0 ? null : Math.min(...said);
}

const hasValue = ({ value, trouble }: MessageRow<Tag>): boolean => value !== null || trouble === null;
