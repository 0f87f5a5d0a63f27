/** What was looked up a moment ago, so that a collector's hundred requests a second cost no query each. */

/** Whoever is let out at another server of the same site is let out here after this at the latest. Milliseconds. */
const REMEMBERED_MILLISECONDS = 1000;
const MOST = 10_000;

export class Remembered<Value> {
  private readonly known = new Map<string, { readonly value: Promise<Value>; readonly until: number }>();

  constructor(private readonly lookUp: (key: string) => Promise<Value>) {}

  get(key: string): Promise<Value> {
    const known = this.known.get(key);
    if (known && known.until > performance.now()) return known.value;
    if (this.known.size >= MOST) this.known.clear();
    const value = this.lookUp(key);
    this.known.set(key, { value, until: performance.now() + REMEMBERED_MILLISECONDS });
    // A failure is no answer.
    value.catch(() => this.known.delete(key));
    return value;
  }

  forgetAll(): void {
    this.known.clear();
  }
}
