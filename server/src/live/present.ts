/** The present: the latest sample of every tag, and those who listen for it. */
import type { LiveSample, SampleOutput } from '@wide-ledger/contract';
import { decodeFrame, textAt, type Frame } from '@wide-ledger/core';
import type { Database } from '../database/connect.ts';
import { presentSample } from '../reading/present.ts';
import type { TagRow } from '../tags/store.ts';

interface Latest {
  readonly time: number;
  readonly value: number;
  readonly text: string | null;
  readonly status: number;
}

type Listener = (samples: ReadonlyMap<number, Latest>) => void;

/** Changes are handed on in batches, so that a hundred deliveries a second are four messages. */
const BATCH_MILLISECONDS = 250;

export class Present {
  private readonly latestByTag = new Map<number, Latest>();
  private readonly recalled = new Set<number>();
  private readonly listeners = new Set<Listener>();
  private changed = new Map<number, Latest>();
  private timer: NodeJS.Timeout | null = null;

  constructor(private readonly database: Database) {}

  /** Takes note of a committed entry's samples. */
  note(frame: Frame): void {
    const { tags, times, values, status } = frame;
    for (let i = 0; i < times.length; i++) {
      const tag = tags![i]!;
      // Only the last of a tag's run can be its latest.
      if (tags![i + 1] === tag && times[i + 1]! >= times[i]!) continue;
      const known = this.latestByTag.get(tag);
      if (known && known.time > times[i]!) continue;
      const latest = {
        time: times[i]!,
        value: values[i]!,
        text: frame.texts.length > 0 ? textAt(frame, i) : null,
        status: status[i]!,
      };
      this.latestByTag.set(tag, latest);
      if (this.listeners.size > 0) this.changed.set(tag, latest);
    }
    if (this.changed.size > 0) this.timer ??= setTimeout(() => this.announce(), BATCH_MILLISECONDS);
  }

  private announce(): void {
    const changed = this.changed;
    this.changed = new Map();
    this.timer = null;
    for (const listener of this.listeners) listener(changed);
  }

  /** Calls back with what changed until the returned function is called. */
  listen(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** Looks up in the ledger the latest samples of tags from which nothing has come since the server started. */
  async recall(tags: readonly TagRow[]): Promise<void> {
    const unknown = tags.filter(({ id }) => !this.latestByTag.has(id) && !this.recalled.has(id)).map(({ id }) => id);
    if (unknown.length === 0) return;
    const { rows } = await this.database.pool.query<{ tag_id: number; frame: Buffer }>(
      `SELECT wanted.tag_id, latest.frame FROM unnest($1::int[]) AS wanted(tag_id), LATERAL (
         SELECT frame FROM ledger_block b WHERE b.tag_id = wanted.tag_id ORDER BY first_time DESC LIMIT 1) AS latest`,
      [unknown],
    );
    for (const id of unknown) this.recalled.add(id);
    for (const { tag_id, frame: bytes } of rows) {
      const frame = decodeFrame(bytes);
      const last = frame.times.length - 1;
      const known = this.latestByTag.get(tag_id);
      if (known && known.time >= frame.times[last]!) continue;
      this.latestByTag.set(tag_id, {
        time: frame.times[last]!,
        value: frame.values[last]!,
        text: textAt(frame, last),
        status: frame.status[last]!,
      });
    }
  }

  /** Lets a tag's latest sample be looked up again: what is kept here may have been removed. */
  forget(tag: number): void {
    this.latestByTag.delete(tag);
    this.recalled.delete(tag);
  }

  latest(row: TagRow): SampleOutput | null {
    const known = this.latestByTag.get(row.id);
    return known ? presentSample(row, known.time, known.value, known.text, known.status) : null;
  }

  toLive(row: TagRow): LiveSample | null {
    const sample = this.latest(row);
    return sample ? { tag: row.id, ...sample } : null;
  }
}
