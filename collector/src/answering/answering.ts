/** Answering what people ask through the server: it is asked for questions in one long call after the other. */
import type { AskedQuestion, CollectorSays, Question } from '@wide-ledger/contract';
import type { Logger } from 'pino';
import type { ServerCalls } from '../delivery/serverCalls.ts';
import { runFor } from '../isolation/isolation.ts';
import { kindOf } from '../kinds/index.ts';
import { SourceAway, WriteRefused, type Surroundings } from '../kinds/kind.ts';
import type { SourceWatcher } from '../source/sourceWatcher.ts';
import { readBurst } from './burst.ts';
import { lookUp } from './lookingUp.ts';

/** After a call that failed: the server is away, or restarting. Milliseconds. */
const PAUSE = 1000;
const NOT_READ = 'This collector does not read that source.';

/** What a collector says, before it is said to which question. */
type Says = CollectorSays extends infer Said ? (Said extends unknown ? Omit<Said, 'request'> : never) : never;

/** Tells the rungs of a path as they are climbed. */
type Telling = Parameters<NonNullable<ReturnType<typeof kindOf>>['check']>[2];

export class Answering {
  private readonly ended = new AbortController();

  constructor(
    private readonly calls: ServerCalls,
    private readonly around: Surroundings,
    /** The watcher of a source in force; undefined where this collector does not read it. */
    private readonly watcherOf: (source: number) => SourceWatcher | undefined,
    private readonly log: Logger,
  ) {}

  start(): void {
    void this.listen();
  }

  stop(): void {
    this.ended.abort();
  }

  private async listen(): Promise<void> {
    const { signal } = this.ended;
    while (!signal.aborted) {
      try {
        // Each is answered by itself: one that takes long keeps no other waiting.
        for (const asked of await this.calls.questions(signal)) void this.answer(asked);
      } catch {
        await new Promise((done) => setTimeout(done, PAUSE).unref());
      }
    }
  }

  private async answer({ request, question }: AskedQuestion): Promise<void> {
    const say = (said: Says): Promise<void> => this.calls.say({ request, ...said });
    try {
      await say(await this.safely(question, (rung) => void say({ says: 'rung', rung }).catch(() => undefined)));
    } catch (error) {
      const code = error instanceof SourceAway || error instanceof WriteRefused ? error.code : 'UNEXPECTED';
      const failed = { says: 'failed' as const, sentence: (error as Error).message.slice(0, 2000), code };
      await say(failed).catch((lost: unknown) =>
        this.log.debug({ error: (lost as Error).message }, 'an answer could not be said'),
      );
    }
  }

  /** What a library throws in a callback while it is asked ends this question, and nothing else. */
  private safely(question: Question, told: Telling): Promise<Says> {
    return new Promise((done, fail) => {
      runFor({ source: null, fault: fail }, () => void this.find(question, told).then(done, fail));
    });
  }

  private async find(question: Question, told: Telling): Promise<Says> {
    const { source, secrets } = question;
    const kind = kindOf(source);
    if (!kind) throw new Error(`This collector does not know sources of the kind "${source.kind}".`);
    // Secrets of a draft are not in force yet: they come with the question.
    const around = {
      ...this.around,
      secret: (id: number | null) => (id === null ? null : (secrets[id] ?? this.around.secret(id))),
    };
    if (question.ask === 'check') return { says: 'check', check: await kind.check(source, around, told) };
    if (question.ask === 'offers' && kind.offers) return { says: 'offers', offers: await kind.offers(source) };
    if (question.ask === 'registers' && kind.registers)
      return { says: 'registers', registers: await kind.registers(source, question.block) };
    if (question.ask === 'addresses')
      return { says: 'addresses', addresses: await lookUp(kind, source, around, question.addresses, question.type) };
    if (question.ask === 'burst')
      return { says: 'burst', burst: await readBurst(kind, source, around, question.tag, question) };
    if (question.ask === 'units' && kind.units)
      return { says: 'units', units: await kind.units(source, question.from, question.to) };
    if (question.ask === 'messages' && kind.messages)
      return { says: 'messages', messages: await kind.messages(source, around) };
    if (question.ask === 'rows' && kind.rows) return { says: 'rows', rows: await kind.rows(source, around) };
    if (question.ask === 'recover') {
      const sentence = this.watcherOf(question.id)?.recover(question.order, question.holes) ?? NOT_READ;
      return { says: 'recover', recover: { taken: sentence === '', sentence } };
    }
    if (question.ask === 'way') {
      const watcher = this.watcherOf(question.id);
      if (!watcher) throw new Error(NOT_READ);
      return { says: 'way', way: { sentence: await watcher.takeWay(question.way) } };
    }
    if (question.ask === 'held' || question.ask === 'write') {
      const watcher = this.watcherOf(question.id);
      if (!watcher) throw new Error(NOT_READ);
      if (question.ask === 'held') return { says: 'held', held: await watcher.values.holds(question.tag) };
      const { tag, value, seen } = question;
      return { says: 'write', write: await watcher.values.writeOver(tag, value, seen) };
    }
    if (question.ask !== 'browse') throw new Error('A source of this kind cannot be asked that.');
    if (!kind.browse) throw new Error('A source of this kind cannot be looked through.');
    return { says: 'browse', browse: await kind.browse(source, question.node, around) };
  }
}
