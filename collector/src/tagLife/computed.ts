/** The formula of a tag that is read: over the value that its source holds, scaled. */
import { Formula, OWN_VALUE, Status, type InputsAt } from '@wide-ledger/core';

/** Formulas by their text: tags of a kind have the same. Null: it cannot be read by this version. */
const known = new Map<string, Formula | null>();
/** More are of configurations that are gone. */
const MOST_KNOWN = 20_000;

function formulaOf(text: string): Formula | null {
  let formula = known.get(text);
  if (formula === undefined) {
    try {
      formula = Formula.read(text);
    } catch {
      formula = null;
    }
    if (known.size >= MOST_KNOWN) known.clear();
    known.set(text, formula);
  }
  return formula;
}

/** The one value that a tag knows while it is read. */
class Own implements InputsAt {
  readonly time = 0;

  constructor(
    private readonly inputs: readonly string[],
    private readonly own: number,
  ) {}

  private isOwn(input: number): boolean {
    return this.inputs[input] === OWN_VALUE;
  }

  value(input: number, before: 0 | 1): number {
    return before === 0 && this.isOwn(input) ? this.own : NaN;
  }

  status(input: number, before: 0 | 1): number | undefined {
    return before === 0 && this.isOwn(input) ? Status.Good : undefined;
  }

  timeOf(input: number): number | undefined {
    return this.isOwn(input) ? this.time : undefined;
  }
}

/** What a formula makes of a value; NaN where it gives no number. @param value scaled */
export function computed(text: string, value: number): number {
  const formula = formulaOf(text);
  if (!formula) return NaN;
  const outcome = formula.at(new Own(formula.inputs, value)).value;
  return typeof outcome === 'number' ? outcome : NaN;
}
