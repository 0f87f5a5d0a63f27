/** What is opened for who looks through a source, and kept open for a while: who opens one folder opens the next. */

interface Kept<Thing> {
  readonly thing: Promise<Thing>;
  users: number;
  timer: NodeJS.Timeout | null;
}

export class KeptOpen<Thing> {
  private readonly kept = new Map<string, Kept<Thing>>();

  /** @param milliseconds after the last use. */
  constructor(
    private readonly milliseconds: number,
    private readonly close: (thing: Thing) => void,
  ) {}

  /**
   * Does something with what is open under a key. One that was kept may have ended meanwhile without anybody having heard of
   * it: what fails there is tried once more, with a new one. @throws what opening or the work throws; it is then not used again.
   */
  async whileOpen<Result>(
    key: string,
    open: () => Promise<Thing>,
    work: (thing: Thing) => Promise<Result>,
  ): Promise<Result> {
    const before = this.kept.get(key);
    const opened = (): Kept<Thing> => {
      const one: Kept<Thing> = { thing: open(), users: 0, timer: null };
      this.kept.set(key, one);
      return one;
    };
    if (!before) return this.using(key, opened(), work);
    return this.using(key, before, work).catch(() => this.using(key, this.kept.get(key) ?? opened(), work));
  }

  private async using<Result>(key: string, one: Kept<Thing>, work: (thing: Thing) => Promise<Result>): Promise<Result> {
    one.users++;
    if (one.timer) clearTimeout(one.timer);
    const end = (): void => {
      if (this.kept.get(key) === one) this.kept.delete(key);
      one.thing.then((thing) => this.close(thing)).catch(() => undefined);
    };
    try {
      return await work(await one.thing);
    } catch (error) {
      end();
      throw error;
    } finally {
      one.users--;
      if (one.users === 0 && this.kept.get(key) === one) one.timer = setTimeout(end, this.milliseconds).unref();
    }
  }
}
