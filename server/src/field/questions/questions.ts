/** Questions on their way to collectors while somebody waits for the answer. In memory only. */
import type {
  AddressesAnswer,
  AskedQuestion,
  BrowseAnswer,
  Burst,
  CollectorSays,
  Held,
  MessagesAnswer,
  OffersAnswer,
  PathCheck,
  Question,
  RecoverAnswer,
  RegistersAnswer,
  RowsAnswer,
  Rung,
  UnitsAnswer,
  WayAnswer,
  Written,
} from '@wide-ledger/contract';
import { ProblemError } from '../../ground/index.ts';

/** Nobody took it up by then: no collector is there. */
const TAKEN_MILLISECONDS = 15_000;
/** From when it was taken up until its answer. */
const ANSWERED_MILLISECONDS = 90_000;

/** What each question is answered with. */
interface Answers extends Record<Question['ask'], unknown> {
  readonly check: PathCheck;
  readonly browse: BrowseAnswer;
  readonly offers: OffersAnswer;
  readonly registers: RegistersAnswer;
  readonly addresses: AddressesAnswer;
  readonly burst: Burst;
  readonly units: UnitsAnswer;
  readonly messages: MessagesAnswer;
  readonly rows: RowsAnswer;
  readonly recover: RecoverAnswer;
  readonly held: Held;
  readonly write: Written;
  readonly way: WayAnswer;
}

interface Waiting {
  readonly question: Question;
  readonly told: (rung: Rung) => void;
  readonly done: (said: CollectorSays) => void;
  readonly fail: (error: Error) => void;
  timer: NodeJS.Timeout;
  taken: boolean;
}

/** @param collector that was asked; undefined: any. */
const nobody = (collector: string | undefined): ProblemError => {
  const who = collector === undefined ? 'No collector' : `${collector}, which is to read this source, is not there: it`;
  const took = collector === undefined ? 'took up' : 'did not take up';
  const sentence = `${who} ${took} the question within 15 seconds. Is it running? The Desk shows it.`;
  return new ProblemError(503, 'No collector answered', sentence);
};
const silent = (): ProblemError =>
  new ProblemError(504, 'The collector did not answer', 'The collector took up the question and has not answered it.');

/** Hands questions to whichever collector asks for some, and brings their answers back. */
export class Questions {
  private readonly waiting = new Map<number, Waiting>();
  private readonly idle = new Set<() => void>();
  private last = 0;

  /**
   * Asks, and waits for the answer.
   * @param told each rung of a path as soon as it is climbed.
   * @throws ProblemError with the collector's sentence where the source does not answer, or when no collector does.
   */
  async answer<Ask extends Question['ask']>(
    question: Extract<Question, { ask: Ask }>,
    told: (rung: Rung) => void = () => undefined,
  ): Promise<Answers[Ask]> {
    const said = await this.ask(question, told);
    // A collector says its answer under the name of what was asked.
    if (said.says === question.ask) return (said as unknown as Answers)[question.ask];
    throw unexpected(said);
  }

  /** What a collector is to answer: at once where there is something, else as soon as there is, at most after a while. */
  async next(milliseconds: number, left: Promise<void>, collector: string | null): Promise<AskedQuestion[]> {
    if (this.open(collector).length === 0) {
      await new Promise<void>((done) => {
        const wake = (): void => {
          clearTimeout(timer);
          this.idle.delete(wake);
          done();
        };
        const timer = setTimeout(wake, milliseconds);
        this.idle.add(wake);
        void left.then(wake);
      });
    }
    return this.open(collector).map(([request, one]) => {
      one.taken = true;
      clearTimeout(one.timer);
      one.timer = setTimeout(() => one.fail(silent()), ANSWERED_MILLISECONDS);
      return { request, question: one.question };
    });
  }

  /** Takes what a collector says; what nobody waits for any more is let go. */
  take(said: CollectorSays): void {
    const one = this.waiting.get(said.request);
    if (!one) return;
    if (said.says === 'rung') one.told(said.rung);
    else one.done(said);
  }

  /** Questions that a collector may take: about sources that it reads, or that any may read. */
  private open(collector: string | null): [number, Waiting][] {
    return [...this.waiting].filter(
      ([, { taken, question }]) =>
        !taken && (question.source.collector === undefined || question.source.collector === collector),
    );
  }

  private ask(question: Question, told: (rung: Rung) => void): Promise<CollectorSays> {
    const request = ++this.last;
    return new Promise<CollectorSays>((done, fail) => {
      const timer = setTimeout(() => fail(nobody(question.source.collector)), TAKEN_MILLISECONDS);
      this.waiting.set(request, { question, told, done, fail, timer, taken: false });
      for (const wake of [...this.idle]) wake();
    }).finally(() => {
      clearTimeout(this.waiting.get(request)!.timer);
      this.waiting.delete(request);
    });
  }
}

function unexpected(said: CollectorSays): ProblemError {
  return said.says === 'failed'
    ? new ProblemError(502, 'The source did not answer', said.sentence, said.code ?? undefined)
    : new ProblemError(
        502,
        'The collector did not understand',
        'The collector answered something else than was asked.',
      );
}
