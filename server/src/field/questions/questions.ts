/** Questions on their way to collectors while somebody waits for the answer. In memory only. */
import type {
  AskedQuestion,
  BrowseAnswer,
  CollectorSays,
  OffersAnswer,
  PathCheck,
  Question,
  RegistersAnswer,
  Rung,
  UnitsAnswer,
} from '@wide-ledger/contract';
import { ProblemError } from '../../ground/index.ts';

/** Nobody took it up by then: no collector is there. */
const TAKEN_MILLISECONDS = 15_000;
/** From when it was taken up until its answer. */
const ANSWERED_MILLISECONDS = 90_000;

interface Waiting {
  readonly question: Question;
  readonly told: (rung: Rung) => void;
  readonly done: (said: CollectorSays) => void;
  readonly fail: (error: Error) => void;
  timer: NodeJS.Timeout;
  taken: boolean;
}

const nobody = (): ProblemError =>
  new ProblemError(
    503,
    'No collector answered',
    'No collector took up the question within 15 seconds. Is it running? The Desk shows it.',
  );
const silent = (): ProblemError =>
  new ProblemError(504, 'The collector did not answer', 'The collector took up the question and has not answered it.');

/** Hands questions to whichever collector asks for some, and brings their answers back. */
export class Questions {
  private readonly waiting = new Map<number, Waiting>();
  private readonly idle = new Set<() => void>();
  private last = 0;

  /** Walks a path. @param told each rung as soon as it is climbed. @throws ProblemError when no collector answers. */
  async check(question: Extract<Question, { ask: 'check' }>, told: (rung: Rung) => void): Promise<PathCheck> {
    const said = await this.ask(question, told);
    if (said.says === 'check') return said.check;
    throw unexpected(said);
  }

  /** What lies below a node of a source. @throws ProblemError with the collector's sentence where it cannot be seen. */
  async browse(question: Extract<Question, { ask: 'browse' }>): Promise<BrowseAnswer> {
    const said = await this.ask(question, () => undefined);
    if (said.says === 'browse') return said.browse;
    throw unexpected(said);
  }

  /** What a server offers. @throws ProblemError with the collector's sentence where it does not answer. */
  async offers(question: Extract<Question, { ask: 'offers' }>): Promise<OffersAnswer> {
    const said = await this.ask(question, () => undefined);
    if (said.says === 'offers') return said.offers;
    throw unexpected(said);
  }

  /** A block of registers. @throws ProblemError with the collector's sentence where the device does not answer. */
  async registers(question: Extract<Question, { ask: 'registers' }>): Promise<RegistersAnswer> {
    const said = await this.ask(question, () => undefined);
    if (said.says === 'registers') return said.registers;
    throw unexpected(said);
  }

  /** Which unit ids answer. @throws ProblemError */
  async units(question: Extract<Question, { ask: 'units' }>): Promise<UnitsAnswer> {
    const said = await this.ask(question, () => undefined);
    if (said.says === 'units') return said.units;
    throw unexpected(said);
  }

  /** What a collector is to answer: at once where there is something, else as soon as there is, at most after a while. */
  async next(milliseconds: number, left: Promise<void>): Promise<AskedQuestion[]> {
    if (this.open().length === 0) {
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
    return this.open().map(([request, one]) => {
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

  private open(): [number, Waiting][] {
    return [...this.waiting].filter(([, { taken }]) => !taken);
  }

  private ask(question: Question, told: (rung: Rung) => void): Promise<CollectorSays> {
    const request = ++this.last;
    return new Promise<CollectorSays>((done, fail) => {
      const timer = setTimeout(() => fail(nobody()), TAKEN_MILLISECONDS);
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
