/** Time as a test makes it pass: a wall clock that can be set, a counter that cannot, and timers between them. */
import { jest } from '@jest/globals';

export class QuickTime {
  private passed = 0;
  private set = 0;
  readonly start = Date.UTC(2026, 4, 1);

  /** @param step of the timers, in milliseconds: what is due in between fires at its end. */
  constructor(private readonly step = 5) {}

  readonly wall = (): number => Math.floor(this.start + this.passed + this.set);
  readonly counter = (): number => this.passed;

  /** The process runs: timers fire as they are due. */
  async run(milliseconds: number): Promise<void> {
    for (let i = 0; i < milliseconds; i += this.step) {
      this.passed += this.step;
      await jest.advanceTimersByTimeAsync(this.step);
    }
  }

  /** The process is stopped: time passes, and nothing of it runs. */
  freeze(milliseconds: number): void {
    this.passed += milliseconds;
  }

  setClock(milliseconds: number): void {
    this.set += milliseconds;
  }

  /** Seconds since the test began. */
  seconds = (micros: number): number => (micros / 1000 - this.start) / 1000;
}
