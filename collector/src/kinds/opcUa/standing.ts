/** What every session with an OPC UA server has, however values come of it. */
import type { OpcUaConnection, SourceState } from '@wide-ledger/contract';
import type { ClientSession } from 'node-opcua-client';
import {
  WriteRefused,
  type HistoryPart,
  type HistoryRequest,
  type Sample,
  type SourceAway,
  type TagOf,
  type Traffic,
} from '../kind.ts';
import { awayByNetwork } from '../away.ts';
import type { Approach } from './connecting.ts';
import { quantile } from '../../acquisition/timing.ts';
import { readSkew, readStart } from './clockSkew.ts';
import { ALONE, redundantSet } from './redundancy.ts';
import { historyStart, readHistory } from './history.ts';
import type { OpcUa } from './library.ts';
import { sampleOf } from './values.ts';
import { writeValue } from './writing.ts';

const SKEW_MILLISECONDS = 10_000;
/** How many answers to it are kept in mind: the last quarter of an hour's. */
const ANSWERS = 90;

/** A session that stands: its clock difference is looked at from time to time, and its end is told once. */
export abstract class Standing {
  clockSkew: number | null = null;
  startedAt: number | null = null;
  /** Settled when the clock was looked at for the first time, whether or not it could be read. */
  readonly looked: Promise<void>;
  private readonly timer: NodeJS.Timeout;
  /** How long the server took to tell its time, newest last. Milliseconds. */
  private readonly answers: number[] = [];
  private set = ALONE;
  private ended = false;

  constructor(protected readonly approach: Approach) {
    const broken = (): void => this.end(awayByNetwork(approach.place.host, approach.place.port, 'CLOSED'));
    approach.client!.on('connection_lost', broken).on('start_reconnection', broken).on('close', broken);
    approach.session!.on('session_closed', broken);
    this.timer = setInterval(() => void this.lookAtClock(), SKEW_MILLISECONDS);
    this.looked = this.lookAtClock();
    redundantSet(approach).then(
      (set) => (this.set = set),
      // One that does not tell of it is taken for alone.
      () => undefined,
    );
  }

  get traffic(): Traffic {
    const { transactionsPerformed = 0, bytesRead = 0, bytesWritten = 0 } = this.approach.client ?? {};
    return { requests: transactionsPerformed, bytes: bytesRead + bytesWritten };
  }

  /** The others of its set are reached as it is, at their own endpoints. */
  get siblings(): readonly OpcUaConnection[] {
    return this.set.endpoints.map((endpoint) => ({ ...this.approach.connection, endpoint }));
  }

  get facts(): SourceState['facts'] {
    const { answers } = this;
    const facts = [...this.approach.facts, ...this.set.facts];
    if (answers.length === 0) return facts;
    const [median, late] = [quantile(answers, 0.5), quantile(answers, 0.99)];
    return [...facts, ['Answers', `in ${median} ms, median; ${late} ms, 99th of the last ${answers.length}`]];
  }

  /** What the server kept of a tag. @throws SourceAway, HistoryRefused */
  async *history(request: HistoryRequest<'opc-ua'>): AsyncGenerator<HistoryPart, void, void> {
    const { session, library } = this.standing;
    yield* readHistory(library, session, request);
  }

  async historyStart(tag: TagOf<'opc-ua'>): Promise<number | null> {
    const { session, library } = this.approach;
    return session && historyStart(library, session, tag);
  }

  /** Asks the device rather than the server's cache. @throws SourceAway */
  async readNow(tag: TagOf<'opc-ua'>): Promise<Sample> {
    const { session, library } = this.standing;
    const read = session.read({ nodeId: tag.reading.address.node, attributeId: library.AttributeIds.Value }, 0);
    return sampleOf(tag, await this.approach.attempt(read), library);
  }

  /** @throws SourceAway, WriteRefused */
  async write(tag: TagOf<'opc-ua'>, value: number | bigint | string): Promise<void> {
    const { session, library } = this.standing;
    await writeValue(library, session, tag, value).catch((error: unknown) => {
      if (error instanceof WriteRefused) throw error;
      return this.approach.attempt(Promise.reject(error as Error));
    });
  }

  /** The session. @throws SourceAway where it has ended */
  private get standing(): { session: ClientSession; library: OpcUa } {
    const { session, library, place } = this.approach;
    if (!session) throw awayByNetwork(place.host, place.port, 'CLOSED');
    return { session, library };
  }

  /** Told when the connection is gone without having been closed. */
  protected abstract lost(error: SourceAway): void;

  protected end(error: SourceAway): void {
    if (this.ended) return;
    this.ended = true;
    clearInterval(this.timer);
    this.lost(error);
  }

  close(): void {
    this.ended = true;
    clearInterval(this.timer);
    void this.approach.close();
  }

  private async lookAtClock(): Promise<void> {
    const { session } = this.approach;
    if (!session) return;
    try {
      this.startedAt ??= await readStart(session);
      const asked = performance.now();
      this.clockSkew = await readSkew(session);
      this.answers.push(performance.now() - asked);
      if (this.answers.length > ANSWERS) this.answers.shift();
    } catch {
      // What is wrong is told by whoever waits for values.
    }
  }
}
