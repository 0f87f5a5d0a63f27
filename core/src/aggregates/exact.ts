/** Sums and products of doubles with the digits that a double loses. */

/** 2^27 + 1 splits a double into halves whose products are exact (Dekker). */
export const SPLITTER = 134217729;

/** A sum as an unevaluated pair of doubles (Knuth's two-sum). */
export class PairSum {
  main = 0;
  rest = 0;

  add(value: number): void {
    const sum = this.main + value;
    const back = sum - this.main;
    this.rest += this.main - (sum - back) + (value - back);
    this.main = sum;
  }

  addPair(main: number, rest: number): void {
    this.add(main);
    this.rest += rest;
  }

  get total(): number {
    return this.main + this.rest;
  }
}

/** A pair as its sum: `main` is the double next to it, `rest` what it lacks. */
export function pairOf(main: number, rest: number): PairSum {
  const sum = new PairSum();
  sum.main = main;
  sum.rest = rest;
  return sum;
}

/** The exact product of two doubles as an unevaluated pair (Dekker); below 10^150, where halves do not overflow. */
export function exactProduct(a: number, b: number): readonly [main: number, rest: number] {
  const main = a * b;
  const [bigA, bigB] = [SPLITTER * a, SPLITTER * b];
  const [highA, highB] = [bigA - (bigA - a), bigB - (bigB - b)];
  const [lowA, lowB] = [a - highA, b - highB];
  return [main, lowA * lowB - (main - highA * highB - lowA * highB - highA * lowB)];
}
