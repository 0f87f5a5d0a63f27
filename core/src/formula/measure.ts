/** Whether a formula adds and compares what can be added and compared, by the units of its inputs. The unit library is large: it is loaded when it is needed first. */
import type { Unit } from 'mathjs';
import { spelled } from '../computations/units.ts';
import { readFormula, type Part } from './syntax.ts';

/** The library's own reckoning with units. */
interface Units {
  unit(this: void, value: number, words: string): Unit;
  /** A number where nothing is measured any more. */
  multiply(this: void, a: Unit, b: Unit): Unit | number;
  divide(this: void, a: Unit, b: Unit): Unit | number;
  pow(this: void, a: Unit, exponent: number): Unit | number;
}

/** What a part of a formula measures. */
type Measure =
  /** A number without a unit: with what it is added or compared it takes that one's. */
  | { readonly is: 'number' }
  /** @param scaled multiplied by a number: perhaps so that it becomes another unit of the same kind */
  | {
      readonly is: 'unit';
      readonly unit: Unit;
      readonly factor: number;
      readonly words: string;
      readonly scaled: boolean;
    }
  /** In a unit that nobody here knows. */
  | { readonly is: 'unknown'; readonly words: string | null };

const NUMBER: Measure = { is: 'number' };
const UNKNOWN: Measure = { is: 'unknown', words: null };

/** What takes a number of any unit, and gives one of the same. */
const KEEPS: ReadonlySet<string> = new Set(['abs', 'round', 'floor', 'ceil', 'min', 'max', 'clamp']);

/**
 * What is odd about a formula's units, each as a sentence; none where all is well, or nothing is known.
 * @param unitOf the unit of an input, as its tag has it
 * @param into the unit of the tag that is computed; empty: not said
 * @throws SyntaxError where it is no formula
 */
export async function measureFormula(
  text: string,
  unitOf: (input: string) => string,
  into: string,
): Promise<readonly string[]> {
  const part = readFormula(text);
  const units = (await import('mathjs')) as unknown as Units;
  return new Measuring(units, unitOf).all(part, into);
}

class Measuring {
  private readonly odd: string[] = [];

  constructor(
    private readonly units: Units,
    private readonly unitOf: (input: string) => string,
  ) {}

  all(part: Part, into: string): readonly string[] {
    const given = this.of(part);
    const wanted = this.named(into);
    if (given.is === 'unit' && wanted.is === 'unit') {
      if (!isSameKind(given.unit, wanted.unit))
        this.odd.push(`The formula gives ${given.words}, and the tag is in ${into}: these do not measure the same.`);
      else this.compareScale(given, wanted, `The formula gives ${given.words}, and the tag is in ${into}`);
    }
    return [...new Set(this.odd)];
  }

  private named(words: string): Measure {
    if (words.trim() === '') return NUMBER;
    const { words: known, factor } = spelled(words);
    try {
      return { is: 'unit', unit: this.units.unit(1, known), factor, words, scaled: false };
    } catch {
      return { is: 'unknown', words };
    }
  }

  private of(part: Part): Measure {
    switch (part.kind) {
      case 'number':
      case 'text':
      case 'not':
        return NUMBER;
      case 'input':
        return this.named(this.unitOf(part.name));
      case 'asked':
        if (part.ask === 'since') return this.named('s');
        return part.ask === 'previous' ? this.named(this.unitOf(part.name)) : NUMBER;
      case 'negative':
        return this.of(part.of);
      case 'choice':
        this.of(part.if);
        return this.alike([part.then, part.else], '? … :');
      case 'call':
        return this.call(part.name, part.given);
      case 'binary':
        return this.binary(part);
    }
  }

  private call(name: string, given: readonly Part[]): Measure {
    if (KEEPS.has(name)) return name === 'round' ? this.of(given[0]!) : this.alike(given, name);
    if (name === 'sqrt') return this.power(this.of(given[0]!), 0.5);
    const [measure] = given.map((one) => this.of(one));
    const isAngle = measure?.is === 'unit' && isSameKind(measure.unit, this.units.unit(1, 'rad'));
    if (measure?.is === 'unit' && !isAngle && name !== 'sign')
      this.odd.push(`${name} is of a number without a unit, and was given one in ${measure.words}.`);
    return NUMBER;
  }

  private binary({ by, left, right }: Part & { kind: 'binary' }): Measure {
    switch (by) {
      case '+':
      case '-':
      case '%':
        return this.alike([left, right], by);
      case '*':
        return this.product(this.of(left), this.of(right), 'multiply');
      case '/':
        return this.product(this.of(left), this.of(right), 'divide');
      case '^': {
        const base = this.of(left);
        this.of(right);
        return right.kind === 'number' ? this.power(base, right.value) : base.is === 'number' ? NUMBER : UNKNOWN;
      }
      case 'and':
      case 'or':
        this.of(left);
        this.of(right);
        return NUMBER;
      default:
        this.alike([left, right], by);
        return NUMBER;
    }
  }

  private product(a: Measure, b: Measure, by: 'multiply' | 'divide'): Measure {
    if (a.is === 'unknown' || b.is === 'unknown') return UNKNOWN;
    if (b.is === 'number') return a.is === 'number' ? NUMBER : { ...a, scaled: true };
    if (a.is === 'number') {
      const turned = by === 'multiply' ? b : this.power(b, -1);
      return turned.is === 'unit' ? { ...turned, scaled: true } : turned;
    }
    const words = by === 'multiply' ? `${a.words}·${b.words}` : `${a.words}/(${b.words})`;
    const factor = by === 'multiply' ? a.factor * b.factor : a.factor / b.factor;
    return measured(this.units[by](a.unit, b.unit), { is: 'unit', factor, words, scaled: a.scaled || b.scaled });
  }

  private power(base: Measure, exponent: number): Measure {
    if (base.is !== 'unit') return base.is === 'number' ? NUMBER : UNKNOWN;
    const words = `(${base.words})^${exponent}`;
    return measured(this.units.pow(base.unit, exponent), { ...base, factor: base.factor ** exponent, words });
  }

  /** What parts measure that have to measure the same. */
  private alike(parts: readonly Part[], where: string): Measure {
    let known: Measure = NUMBER;
    for (const measure of parts.map((part) => this.of(part))) {
      if (known.is === 'number') known = measure;
      else if (measure.is !== 'number') this.compare(known, measure, where);
    }
    return known;
  }

  private compare(
    a: Measure & { is: 'unit' | 'unknown' },
    b: Measure & { is: 'unit' | 'unknown' },
    where: string,
  ): void {
    if (a.words === null || b.words === null || a.words === b.words) return;
    if (a.is === 'unknown' || b.is === 'unknown' || !isSameKind(a.unit, b.unit))
      this.odd.push(`${a.words} and ${b.words} meet at ${where}: these do not measure the same.`);
    else this.compareScale(b, a, `${a.words} and ${b.words} meet at ${where}`);
  }

  private compareScale(given: Measure & { is: 'unit' }, wanted: Measure & { is: 'unit' }, sentence: string): void {
    if (given.scaled || wanted.scaled) return;
    const by = (given.unit.toNumber(wanted.unit.formatUnits()) * given.factor) / wanted.factor;
    if (Math.abs(by - 1) < 1e-9) return;
    // Temperatures have no common zero: there is no factor between them.
    const isTemperature = isSameKind(given.unit, this.units.unit(1, 'K'));
    this.odd.push(
      isTemperature
        ? `${sentence}: these have different zeros.`
        : `${sentence}: multiply ${given.words} by ${shortest(by)} first.`,
    );
  }
}

const isSameKind = (a: Unit, b: Unit): boolean => a.equalBase(b);
const shortest = (factor: number): string => String(Number(factor.toPrecision(9)));

/** What measures nothing any more is a number. */
const measured = (unit: Unit | number, rest: Omit<Measure & { is: 'unit' }, 'unit'>): Measure =>
  typeof unit === 'number' || unit.hasBase('NONE') ? NUMBER : { ...rest, unit };
