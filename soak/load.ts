/** Writers that count what was acknowledged, and readers beside them. */
import { SECOND, emptyFrame, packEntry, parseInstant } from '@wide-ledger/core';
import { setTimeout as wait } from 'node:timers/promises';

const START = parseInstant('2026-01-01T00:00:00Z')!;
const EACH = 200;
const WRITERS = 4;

/** A call that is made again until it was answered for good: what was not acknowledged may or may not be there. */
async function insist(url: string, init: RequestInit, isOver: () => boolean): Promise<Response | null> {
  for (let pause = 100; !isOver(); pause = Math.min(2000, 2 * pause)) {
    const answer = await fetch(url, { ...init, signal: AbortSignal.timeout(30_000) }).catch(() => null);
    if (answer?.ok) return answer;
    if (answer && answer.status < 500 && answer.status !== 429)
      throw new Error(`${url} was refused: ${await answer.text()}`);
    await wait(pause);
  }
  return null;
}

export class Load {
  /** Entries acknowledged of each writer. */
  readonly acknowledged: number[] = Array<number>(WRITERS).fill(0);
  reads = 0;
  turnedAway = 0;
  /** Answers that nobody should get. */
  readonly wrong: string[] = [];
  private over = false;
  private readonly running: Promise<void>[] = [];

  private constructor(
    private readonly url: string,
    private readonly headers: Record<string, string>,
    private readonly tags: readonly number[],
  ) {}

  static async begin(url: string, key: string): Promise<Load> {
    const headers = { authorization: `Bearer ${key}`, 'content-type': 'application/json' };
    const body = JSON.stringify(Array.from({ length: WRITERS }, (_, i) => ({ name: `Soak${i}` })));
    const made = await insist(`${url}/api/v1/tags`, { method: 'POST', headers, body }, () => false);
    const { results } = (await made!.json()) as { results: { id: number }[] };
    const load = new Load(
      url,
      headers,
      results.map(({ id }) => id),
    );
    for (let writer = 0; writer < WRITERS; writer++) load.running.push(load.write(writer), load.read(writer));
    return load;
  }

  private async write(writer: number): Promise<void> {
    for (let sequence = 1; !this.over; sequence++) {
      const frame = emptyFrame(EACH, { tags: true });
      frame.tags!.fill(this.tags[writer]!);
      for (let i = 0; i < EACH; i++) {
        const number = (sequence - 1) * EACH + i;
        frame.times[i] = START + number * SECOND;
        frame.values[i] = number;
      }
      const body = Buffer.from(packEntry({ writer: `soak-${writer}`, sequence, origin: 'live' }, frame));
      const answer = await insist(
        `${this.url}/api/v1/entries`,
        { method: 'POST', headers: this.headers, body },
        () => this.over,
      );
      if (answer === null) return;
      this.acknowledged[writer] = sequence;
      await wait(20);
    }
  }

  private async read(reader: number): Promise<void> {
    while (!this.over) {
      const from = new Date(START / 1000).toISOString();
      const call = `processed?tag=Soak${reader}&aggregate=TimeAverage&interval=PT1H&from=${from}&to=now`;
      const answer = await fetch(`${this.url}/api/v1/history/${call}`, {
        headers: this.headers,
        signal: AbortSignal.timeout(30_000),
      }).catch(() => null);
      const said = await answer?.text().catch(() => '');
      if (answer?.ok) this.reads++;
      else if (answer?.status === 503) this.turnedAway++;
      else if (answer && answer.status !== 507) this.wrong.push(`${call} was answered ${answer.status}: ${said}`);
      await wait(200);
    }
  }

  async end(): Promise<void> {
    this.over = true;
    await Promise.all(this.running);
  }

  /** Compares the archive with what was acknowledged. @returns what is wrong, in sentences. */
  async check(): Promise<string[]> {
    const wrong = [...this.wrong];
    for (const [writer, entries] of this.acknowledged.entries()) {
      const least = entries * EACH;
      let cursor: string | undefined;
      let next = 0;
      do {
        const from = new Date(START / 1000).toISOString();
        const query = `tag=Soak${writer}&from=${from}&to=2100-01-01T00:00:00Z&limit=100000${cursor ? `&cursor=${cursor}` : ''}`;
        const page = await insist(`${this.url}/api/v1/history/raw?${query}`, { headers: this.headers }, () => false);
        const body = (await page!.json()) as { samples: { time: string; value: number }[]; next?: string };
        for (const { time, value } of body.samples) {
          if (value !== next || parseInstant(time) !== START + next * SECOND)
            wrong.push(`Writer ${writer}: value ${value} at ${time} where ${next} was to come.`);
          next = value + 1;
          if (wrong.length > 10) return wrong;
        }
        cursor = body.next;
      } while (cursor !== undefined);
      // One entry more may be there: sent, kept, and its answer lost.
      if (next < least || next > least + EACH)
        wrong.push(`Writer ${writer}: ${next} values are there, and ${least} were acknowledged.`);
    }
    return wrong;
  }
}
