/** Current values: the latest sample of every tag, and those who listen for it. */
import type { LiveSample, SampleOutput } from '@wide-ledger/contract';
import { REMOVED, decodeFrame, textAt, wholeAt, type Frame } from '@wide-ledger/core';
import { refusalsOf } from './refusals.ts';
import { outputSample } from '../values/output.ts';
import type { LatestValues, TagRow } from '../../configuration/index.ts';
import { latestBlocks } from '../ledger/latest.ts';
import type { Stores } from '../stores/stores.ts';

interface Latest {
  readonly time: number;
  readonly value: number;
  readonly text: string | null;
  /** The 64-bit integer, where the double does not say it all. */
  readonly whole: bigint | null;
  readonly status: number;
}

const latestIn = (frame: Frame, index: number): Latest => ({
  time: frame.times[index]!,
  value: frame.values[index]!,
  text: frame.texts.length > 0 ? textAt(frame, index) : null,
  whole: wholeAt(frame, index),
  status: frame.status[index]!,
});

type Listener = (samples: ReadonlyMap<number, Latest>) => void;

/** Changes are handed on in batches, so that a hundred deliveries a second are four messages. */
const BATCH_MILLISECONDS = 250;

/** Each tag's latest sample in memory, and what changes for those who follow. */
export class CurrentValues implements LatestValues {
  private readonly latestByTag = new Map<number, Latest>();
  private readonly recalled = new Set<number>();
  private readonly refused = new Map<number, string>();
  private readonly listeners = new Set<Listener>();
  private changed = new Map<number, Latest>();
  private timer: NodeJS.Timeout | null = null;

  constructor(private readonly stores: Stores) {}

  /** Takes note of a committed entry's samples. */
  note(frame: Frame): void {
    const { tags, times, status } = frame;
    for (let i = 0; i < times.length; i++) {
      const tag = tags![i]!;
      // Only the last of a tag's run can be its latest.
      if (tags![i + 1] === tag && times[i + 1]! >= times[i]!) continue;
      const known = this.latestByTag.get(tag);
      if (known && known.time > times[i]!) continue;
      if (status[i] === REMOVED) {
        this.forget(tag);
        continue;
      }
      this.set(tag, latestIn(frame, i));
    }
  }

  private set(tag: number, latest: Latest): void {
    this.latestByTag.set(tag, latest);
    if (this.listeners.size === 0) return;
    this.changed.set(tag, latest);
    this.timer ??= setTimeout(() => this.announce(), BATCH_MILLISECONDS);
  }

  /** After a removal: what stands last now, read from journal and ledger; null for nothing. */
  replace(tag: number, last: { readonly frame: Frame; readonly index: number } | null): void {
    this.recalled.add(tag);
    if (last) this.set(tag, latestIn(last.frame, last.index));
    else this.latestByTag.delete(tag);
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

  /** Looks up in the ledger the latest samples of tags from which nothing has come since the server started, and what is refused. */
  async recall(tags: readonly TagRow[]): Promise<void> {
    const refused = await refusalsOf(
      this.stores.home,
      tags.map(({ id }) => id),
    );
    for (const { id } of tags) {
      const sentence = refused.get(id);
      if (sentence === undefined) this.refused.delete(id);
      else this.refused.set(id, sentence);
    }
    const unknown = tags.filter(({ id }) => !this.latestByTag.has(id) && !this.recalled.has(id));
    for (const store of new Set(unknown.map(({ storeId }) => storeId))) {
      const ids = unknown.filter(({ storeId }) => storeId === store).map(({ id }) => id);
      // A store that does not answer hides the present of its own tags, not that of the others.
      const blocks = await this.stores.pool(store).then(
        (pool) => latestBlocks(pool, ids),
        () => null,
      );
      if (blocks === null) continue;
      for (const id of ids) this.recalled.add(id);
      for (const [tag, bytes] of blocks) this.rememberLastOf(tag, decodeFrame(bytes));
    }
  }

  private rememberLastOf(tag: number, frame: Frame): void {
    const last = frame.times.length - 1;
    const known = this.latestByTag.get(tag);
    if (known && known.time >= frame.times[last]!) return;
    this.latestByTag.set(tag, latestIn(frame, last));
  }

  /** Lets a tag's latest sample be looked up again: what is kept here was removed. */
  private forget(tag: number): void {
    this.latestByTag.delete(tag);
    this.recalled.delete(tag);
  }

  refusal({ id }: TagRow): string | null {
    return this.refused.get(id) ?? null;
  }

  latest(row: TagRow): SampleOutput | null {
    const known = this.latestByTag.get(row.id);
    return known ? outputSample(row, known.time, known.value, known.text, known.status, known.whole) : null;
  }

  toLive(row: TagRow): LiveSample | null {
    const sample = this.latest(row);
    return sample ? { tag: row.id, ...sample } : null;
  }
}
