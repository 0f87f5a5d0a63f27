/**
 * A formula, ready to be evaluated. What it gives at an instant comes of the last value of each input by then.
 *
 * Status: the worst of the inputs that were looked at on the way taken. Where one of them is Bad, or has no value yet, there
 * is no value, and the status says why; where the result is no number (a division by zero), it is Bad_OutOfRange.
 */
import { Status, isBad, isUncertain, severityOf, withoutInfoBits } from '../status/codes.ts';
import { FORMULA_FUNCTIONS } from './functions.ts';
import { inputsOf, readFormula, type Binary, type Part } from './syntax.ts';

/** What a formula gives, and what inputs hold: a number, a text, or nothing (NaN). */
export type FormulaValue = number | string;

/** Inputs as they are at an instant. The same object may be moved from instant to instant. */
export interface InputsAt {
  /** The instant, in microseconds. */
  readonly time: number;
  /** The last value of the input in a place, or the one before it; NaN: none. */
  value(input: number, before: 0 | 1): FormulaValue;
  /** Its status; undefined: there is no such sample. */
  status(input: number, before: 0 | 1): number | undefined;
  /** When its last sample was, in microseconds; undefined: there is none. */
  timeOf(input: number): number | undefined;
}

export interface FormulaOutcome {
  /** NaN where there is none. */
  readonly value: FormulaValue;
  readonly status: number;
}

type Evaluate = (at: InputsAt, seen: Seen) => FormulaValue;

/** The worst status met so far in one evaluation; of several that are equally bad, the first. */
class Seen {
  status: number = Status.Good;

  meet(status: number | undefined): void {
    if (status === undefined) {
      if (!isBad(this.status)) this.status = Status.BadWaitingForInitialData;
    } else if (isBad(status) ? !isBad(this.status) : isUncertain(status) && this.status === Status.Good)
      this.status = withoutInfoBits(status);
  }
}

export class Formula {
  private constructor(
    readonly text: string,
    readonly part: Part,
    /** The names of its inputs; places in {@link InputsAt} are places in this list. */
    readonly inputs: readonly string[],
    /** Whether it gives texts. */
    readonly givesText: boolean,
    private readonly evaluate: Evaluate,
  ) {}

  /**
   * @param isText which inputs hold texts
   * @throws SyntaxError with a sentence where it is no formula, or mixes texts and numbers
   */
  static read(text: string, isText: (input: string) => boolean = () => false): Formula {
    const part = readFormula(text);
    const inputs = inputsOf(part);
    const givesText = typeOf(part, isText) === 'text';
    return new Formula(text, part, inputs, givesText, compile(part, new Map(inputs.map((name, i) => [name, i]))));
  }

  at(inputs: InputsAt): FormulaOutcome {
    const seen = new Seen();
    const value = this.evaluate(inputs, seen);
    if (isBad(seen.status)) return { value: NaN, status: seen.status };
    if (typeof value === 'number' && !Number.isFinite(value)) return { value: NaN, status: Status.BadOutOfRange };
    return { value, status: seen.status };
  }
}

/** What is wrong with a formula, as a sentence; null: nothing. */
export function formulaProblem(text: string, isText?: (input: string) => boolean): string | null {
  try {
    Formula.read(text, isText);
    return null;
  } catch (error) {
    return (error as Error).message;
  }
}

type Type = 'number' | 'text';

/** @throws SyntaxError where texts and numbers meet in what takes only one of them */
function typeOf(part: Part, isText: (input: string) => boolean): Type {
  const of = (one: Part): Type => typeOf(one, isText);
  const numbers = (where: string, ...some: Part[]): Type => {
    if (some.some((one) => of(one) === 'text')) throw new SyntaxError(`${where} takes numbers, and was given a text.`);
    return 'number';
  };
  switch (part.kind) {
    case 'number':
      return 'number';
    case 'text':
      return 'text';
    case 'input':
      return isText(part.name) ? 'text' : 'number';
    case 'asked':
      return part.ask === 'previous' && isText(part.name) ? 'text' : 'number';
    case 'negative':
      return numbers('Minus', part.of);
    case 'not':
      return numbers('not', part.of);
    case 'binary':
      if (part.by !== '==' && part.by !== '!=') return numbers(part.by, part.left, part.right);
      if (of(part.left) !== of(part.right))
        throw new SyntaxError(`${part.by} compares a text with a number, which are never the same.`);
      return 'number';
    case 'choice':
      numbers('The condition before ?', part.if);
      if (of(part.then) !== of(part.else)) throw new SyntaxError('Both ways behind ? have to give numbers, or texts.');
      return of(part.then);
    case 'call':
      return numbers(part.name, ...part.given);
  }
}

const ARITHMETIC: Readonly<Record<Exclude<Binary, 'and' | 'or' | '==' | '!='>, (a: number, b: number) => number>> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
  '%': (a, b) => a % b,
  '^': (a, b) => a ** b,
  '<': (a, b) => Number(a < b),
  '<=': (a, b) => Number(a <= b),
  '>': (a, b) => Number(a > b),
  '>=': (a, b) => Number(a >= b),
};

function compile(part: Part, places: ReadonlyMap<string, number>): Evaluate {
  const ready = (one: Part): Evaluate => compile(one, places);
  switch (part.kind) {
    case 'number':
    case 'text': {
      const { value } = part;
      return () => value;
    }
    case 'input':
      return valueOf(places.get(part.name)!, 0);
    case 'asked':
      return compileAsked(part.ask, places.get(part.name)!);
    case 'negative': {
      const of = ready(part.of);
      return (at, seen) => -(of(at, seen) as number);
    }
    case 'not': {
      const of = ready(part.of);
      return (at, seen) => Number(!of(at, seen));
    }
    case 'binary':
      return compileBinary(part.by, ready(part.left), ready(part.right));
    case 'choice': {
      const [condition, yes, no] = [ready(part.if), ready(part.then), ready(part.else)];
      return (at, seen) => (condition(at, seen) ? yes(at, seen) : no(at, seen));
    }
    case 'call': {
      const { of } = FORMULA_FUNCTIONS.get(part.name)!;
      const given = part.given.map(ready);
      return (at, seen) => of(...given.map((one) => one(at, seen) as number));
    }
  }
}

const valueOf =
  (place: number, before: 0 | 1): Evaluate =>
  (at, seen) => {
    const value = at.value(place, before);
    const status = at.status(place, before);
    seen.meet(status);
    // Good without a value is as good as none.
    if (status !== undefined && !isBad(status) && Number.isNaN(value)) seen.meet(Status.BadNoData);
    return value;
  };

function compileAsked(ask: 'previous' | 'since' | 'good' | 'usable', place: number): Evaluate {
  switch (ask) {
    case 'previous':
      return valueOf(place, 1);
    case 'since':
      return (at, seen) => {
        const time = at.timeOf(place);
        if (time === undefined) seen.meet(undefined);
        return time === undefined ? NaN : (at.time - time) / 1e6;
      };
    case 'good':
    case 'usable': {
      const [best, enough] = ask === 'good' ? (['Good', 'Good'] as const) : (['Good', 'Uncertain'] as const);
      return (at) => {
        const status = at.status(place, 0);
        if (status === undefined || Number.isNaN(at.value(place, 0))) return 0;
        const severity = severityOf(status);
        return Number(severity === best || severity === enough);
      };
    }
  }
}

function compileBinary(by: Binary, left: Evaluate, right: Evaluate): Evaluate {
  switch (by) {
    // The right one is looked at only where it decides.
    case 'and':
      return (at, seen) => Number(Boolean(left(at, seen)) && Boolean(right(at, seen)));
    case 'or':
      return (at, seen) => Number(Boolean(left(at, seen)) || Boolean(right(at, seen)));
    case '==':
      return (at, seen) => Number(left(at, seen) === right(at, seen));
    case '!=':
      return (at, seen) => Number(left(at, seen) !== right(at, seen));
    default: {
      const compute = ARITHMETIC[by];
      return (at, seen) => compute(left(at, seen) as number, right(at, seen) as number);
    }
  }
}
