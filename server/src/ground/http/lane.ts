/** Places for what takes long: readings, downloads, streams. */
import { ProblemError } from './problemError.ts';

export interface LaneLimits {
  /** At a time. */
  readonly most: number;
  /** Of one visitor, waiting ones among them. */
  readonly ofOne: number;
  /** How long somebody waits for a place before being turned away. Milliseconds. */
  readonly patience: number;
}

/** Places for what takes time: so many at once, so many of one visitor, and nobody waits long. */
export class Lane {
  private taken = 0;
  private readonly byVisitor = new Map<string, number>();
  private readonly waiting: { readonly called: () => void }[] = [];

  /** @param name of what has places here, in the plural. */
  constructor(
    private readonly name: string,
    private readonly limits: LaneLimits,
  ) {}

  get inUse(): number {
    return this.taken;
  }

  /** Takes a place. @returns how to give it back. @throws ProblemError 503 where there is none within the patience. */
  async enter(visitor: string): Promise<() => void> {
    const own = this.byVisitor.get(visitor) ?? 0;
    if (own >= this.limits.ofOne) throw busy(`${visitor} has ${own} ${this.name} under way, the most for one visitor.`);
    this.byVisitor.set(visitor, own + 1);
    if (this.taken < this.limits.most) this.taken++;
    else if (!(await this.place())) {
      this.forget(visitor);
      throw busy(`There are ${this.taken} ${this.name} under way, the most at a time.`);
    }
    let left = false;
    return () => {
      if (left) return;
      left = true;
      this.forget(visitor);
      // The place goes to whoever has waited longest, or is free again.
      const next = this.waiting.shift();
      if (next) next.called();
      else this.taken--;
    };
  }

  /** Waits for a place that somebody leaves. @returns whether there was one. */
  private place(): Promise<boolean> {
    return new Promise((done) => {
      const one = {
        called: () => {
          clearTimeout(timer);
          done(true);
        },
      };
      const timer = setTimeout(() => {
        this.waiting.splice(this.waiting.indexOf(one), 1);
        done(false);
      }, this.limits.patience);
      this.waiting.push(one);
    });
  }

  private forget(visitor: string): void {
    const rest = this.byVisitor.get(visitor)! - 1;
    if (rest === 0) this.byVisitor.delete(visitor);
    else this.byVisitor.set(visitor, rest);
  }
}

const busy = (sentence: string): ProblemError =>
  new ProblemError(503, 'Too many at once', `${sentence} Try again in a moment, or ask for less at once.`, 'BUSY');
