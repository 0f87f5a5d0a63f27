/** Figures that many ask for at once: computed once, and anew when they are older than they may be. */
export class Shared<Value> {
  private known: { readonly value: Promise<Value>; readonly until: number } | null = null;

  /** @param milliseconds for which a figure is good enough. */
  constructor(
    private readonly milliseconds: number,
    private readonly compute: () => Promise<Value>,
  ) {}

  get(): Promise<Value> {
    if (this.known && this.known.until > performance.now()) return this.known.value;
    const value = this.compute();
    const known = { value, until: performance.now() + this.milliseconds };
    this.known = known;
    // A failure is no figure: the next one asks again.
    value.catch(() => {
      if (this.known === known) this.known = null;
    });
    return value;
  }
}
