/** Reading a service: each request once a beat for all the tags that lie in its answer, and not before that may have changed. */
import type { HttpJsonConnection } from '@wide-ledger/contract';
import {
  Status,
  parseMessagePath,
  reshapeBy,
  rowsOfMessage,
  type MessageField,
  type MessageRow,
  type MessageTerms,
  type Reshape,
} from '@wide-ledger/core';
import type { Fault, PolledSession, Sample, Surroundings, TagOf, Traffic } from '../kind.ts';
import { pathOrNone, sampleOfRow } from '../messageSamples.ts';
import { furtherPages } from './pages.ts';
import { ask, type Mark } from './service.ts';

type Tag = TagOf<'http-json'>;

/** Requests beside each other. */
const AT_A_TIME = 4;

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
  private readonly reshape: Reshape | null;

  constructor(
    private readonly connection: HttpJsonConnection,
    private readonly around: Pick<Surroundings, 'secret'>,
  ) {
    this.terms = { time: pathOrNone(connection.time), status: pathOrNone(connection.status) };
    this.reshape = reshapeBy(connection.expression);
  }

  get traffic(): Traffic {
    return this.counts;
  }

  async read(tags: readonly Tag[]): Promise<Sample[]> {
    const asked = new Map<string, Tag[]>();
    for (const tag of tags) {
      const { request } = tag.reading.address;
      asked.set(request, [...(asked.get(request) ?? []), tag]);
    }
    const requests = [...asked];
    const samples: Sample[] = [];
    for (let at = 0; at < requests.length; at += AT_A_TIME) {
      const some = requests.slice(at, at + AT_A_TIME);
      const answers = await Promise.all(some.map(([request, own]) => this.answerTo(request, holdsOf(own))));
      some.forEach(([, own], i) => samples.push(...this.samplesOf(answers[i]!, own)));
    }
    return samples;
  }

  close(): void {
    this.held.clear();
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
    const { reshape } = this;
    if (!reshape) return { pages, fault: null };
    const reshaped: unknown[] = [];
    for (const message of pages) {
      const read = await reshape({ message }, request);
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

/** The shortest time for which somebody said that an answer holds; null: nobody did. */
function holdsOf(tags: readonly Tag[]): number | null {
  const said = tags.flatMap(({ reading: { address } }) =>
    address.holdsSeconds === undefined ? [] : [address.holdsSeconds],
  );
  return said.length === 0 ? null : Math.min(...said);
}

const hasValue = ({ value, trouble }: MessageRow<Tag>): boolean => value !== null || trouble === null;
