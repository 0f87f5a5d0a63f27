/** Long work on a thread that others need, too: after so much of it they have their turn. */

export class Turns {
  private done = 0;

  /** @param most so much is done before others have their turn, in whatever it is counted: a few milliseconds of work. */
  constructor(private readonly most: number) {}

  /** Counts what was just done. */
  async after(work: number): Promise<void> {
    this.done += work;
    if (this.done < this.most) return;
    this.done = 0;
    await new Promise<void>((go) => setImmediate(go));
  }
}
