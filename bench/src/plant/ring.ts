/** A controller's own memory of what it measured: a ring of so many values for all its variables together, oldest out first. */

/** When a controller writes a value into its memory. */
export type Feeding =
  /** Every so often, whatever it is. */
  | { readonly by: 'time'; readonly milliseconds: number }
  /** When it differs from the last that was written. */
  | { readonly by: 'difference'; readonly milliseconds: number }
  /** When it differs from the last that was written by more than so much, in per cent of the variable's range. */
  | { readonly by: 'deadband'; readonly milliseconds: number; readonly percent: number };

export interface RingSettings {
  /** How many values it holds. */
  readonly capacity: number;
  readonly feeding: Feeding;
}

export type RingValue = number | string | boolean | bigint | readonly number[];

export interface Kept {
  /** Milliseconds since 1970, by the controller's clock. */
  readonly time: number;
  readonly value: RingValue;
}

const differs = (a: RingValue, b: RingValue): boolean =>
  Array.isArray(a) && Array.isArray(b) ? a.join() !== b.join() : a !== b;

/** What a controller remembers. */
export class Ring<Variable extends { readonly low: number | null; readonly high: number | null }> {
  private readonly byVariable = new Map<Variable, Kept[]>();
  /** Whose values were written, in order, from a position on: what is before it is gone. */
  private readonly order: Variable[] = [];
  private out = 0;
  private readonly last = new Map<Variable, RingValue>();

  constructor(readonly settings: RingSettings) {}

  /** How many values it holds at this moment. */
  get size(): number {
    return this.order.length - this.out;
  }

  /** When the oldest value that it holds is from; null while it is empty. */
  get since(): number | null {
    const oldest = this.order[this.out];
    return oldest === undefined ? null : (this.byVariable.get(oldest)?.[0]?.time ?? null);
  }

  /** Looks at a variable: it is written where the feeding says so. */
  offer(variable: Variable, time: number, value: RingValue): void {
    const before = this.last.get(variable);
    if (before !== undefined && !this.isWorth(variable, before, value)) return;
    this.last.set(variable, value);
    const kept = this.byVariable.get(variable) ?? [];
    if (kept.length === 0) this.byVariable.set(variable, kept);
    kept.push({ time, value });
    this.order.push(variable);
    while (this.size > this.settings.capacity) this.byVariable.get(this.order[this.out++]!)!.shift();
    // The positions that are gone take no room for ever.
    if (this.out > this.settings.capacity) {
      this.order.splice(0, this.out);
      this.out = 0;
    }
  }

  /** What it holds of a variable, in ascending time: also when its clock was set back meanwhile. */
  of(variable: Variable): readonly Kept[] {
    const kept = this.byVariable.get(variable) ?? [];
    const ascends = kept.every(({ time }, i) => i === 0 || time >= kept[i - 1]!.time);
    return ascends ? kept : [...kept].sort((a, b) => a.time - b.time);
  }

  /** Forgets everything, as after a restart. */
  clear(): void {
    this.byVariable.clear();
    this.order.length = 0;
    this.out = 0;
    this.last.clear();
  }

  private isWorth({ low, high }: Variable, before: RingValue, value: RingValue): boolean {
    const { feeding } = this.settings;
    if (feeding.by === 'time') return true;
    if (feeding.by === 'deadband' && typeof before === 'number' && typeof value === 'number')
      return Math.abs(value - before) > (((high ?? 100) - (low ?? 0)) * feeding.percent) / 100;
    return differs(before, value);
  }
}
