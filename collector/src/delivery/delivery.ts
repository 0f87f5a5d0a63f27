/** Delivery: the spool's entries to the server, oldest first, each until it is acknowledged; many that wait go together. */
import { entryDescription, type EntryAnswer, type EntryDescription } from '@wide-ledger/contract';
import { packBundle, packEntry, unpackEntry } from '@wide-ledger/core';
import type { Logger } from 'pino';
import type { Spool, SpooledEntry } from '../spool/spool.ts';
import { partsOf } from './parts.ts';
import { ServerRefused } from './serverCalls.ts';

/** Older than this at delivery, an entry has waited on the spool: its origin is "buffered". */
const LIVE_MICROSECONDS = 10_000_000;
/** Between tries while the server does not answer: growing from the first to the last. Milliseconds. */
const FIRST_PAUSE = 250;
const LAST_PAUSE = 5_000;
const IDLE_MILLISECONDS = 60_000;
/** Entries that go together where more than one waits: a request costs as much for one as for many. */
const TOGETHER = 200;
const TOGETHER_BYTES = 2 * 1024 * 1024;

/** The one call that delivery needs. */
export interface Receiver {
  /**
   * @param packed an entry, or a bundle of them.
   * @throws ServerRefused when it is refused for good; Error when it may be taken later.
   */
  deliver(packed: Uint8Array): Promise<EntryAnswer>;
}

/** An entry as it is sent. */
interface ReadyEntry {
  readonly sequence: number;
  readonly packed: Uint8Array;
  readonly samples: number;
  /** Null where it is none that a collector of this version writes. */
  readonly description: EntryDescription | null;
  /** Whether it was written since the collector started, and is sent for the first time. */
  readonly isFirstTry: boolean;
}

/** Entries that go together, in their order. */
type Batch = readonly ReadyEntry[];

/** Delivers the spool's entries, oldest first, as long as it takes; what is refused for good is put away with its reason. */
export class Delivery {
  private stopped = false;
  private running: Promise<void> = Promise.resolve();
  private wakeUp: (() => void) | null = null;
  /** Whether something came since the spool was last looked at: nobody may be waiting yet when it does. */
  private news = false;
  /** Entries up to this number may have reached the server before, with or without an answer. */
  private triedUpTo: number;

  constructor(
    private readonly spool: Spool,
    private readonly calls: Receiver,
    private readonly log: Logger,
    private readonly now: () => number = () => Date.now() * 1000,
  ) {
    this.triedUpTo = spool.before.sequence;
  }

  /** Delivers from now on, until {@link stop}. */
  start(): void {
    this.running = this.loop();
  }

  /** There is something new to deliver. It ends the waiting for work, not the pause between two tries. */
  wake(): void {
    this.news = true;
    this.wakeUp?.();
  }

  private async loop(): Promise<void> {
    let failures = 0;
    // What an earlier run had to put away may be taken by the server that is there now.
    await this.tryQuarantine();
    let batch: Batch | null = null;
    while (!this.stopped) {
      this.news = false;
      batch ??= await this.gather(0);
      if (batch === null) {
        await this.pause(IDLE_MILLISECONDS, true);
        continue;
      }
      try {
        batch = await this.deliverTogether(batch);
        if (failures > 0) this.log.info({ waiting: this.spool.entries }, 'the server answers again');
        failures = 0;
      } catch (error) {
        batch = null;
        const level = failures === 0 ? 'warn' : 'debug';
        this.log[level]({ error: (error as Error).message, waiting: this.spool.entries }, 'the server does not answer');
        await this.pause(Math.min(LAST_PAUSE, FIRST_PAUSE * 2 ** Math.min(failures++, 10)), false);
      }
    }
  }

  /** What goes next, as it is sent; null where nothing waits. @param after only entries behind this number. */
  private async gather(after: number): Promise<Batch | null> {
    const entries = await this.spool.oldest(TOGETHER, TOGETHER_BYTES, after);
    if (entries.length === 0) return null;
    const ready: ReadyEntry[] = [];
    for (const entry of entries) {
      const { sequence } = entry;
      try {
        ready.push({ sequence, ...this.stamp(entry), isFirstTry: sequence > this.triedUpTo });
      } catch (error) {
        // A disk turned a bit, or another version wrote it: it holds up nothing, and is kept.
        const reason = `It cannot be read back from the spool: ${(error as Error).message}`;
        this.log.error({ entry: sequence, reason }, 'an entry of the spool cannot be read and is put away');
        await this.spool.putAway(sequence, [entry.packed], reason);
        await this.spool.remove([sequence], 0);
      }
    }
    return ready.length === 0 ? this.gather(entries.at(-1)!.sequence) : ready;
  }

  /**
   * Entries in one request; by themselves where they are refused together: one of them may be at fault, or bundles be
   * unknown there.
   * @returns what goes next, made ready while the server was at work; null where that was not looked for.
   */
  private async deliverTogether(batch: Batch): Promise<Batch | null> {
    this.triedUpTo = Math.max(this.triedUpTo, batch.at(-1)!.sequence);
    if (batch.length > 1) {
      const answer = this.calls.deliver(packBundle(batch.map(({ packed }) => packed)));
      const next = this.spool.entries > batch.length ? this.gather(batch.at(-1)!.sequence) : Promise.resolve(null);
      // Where the server does not answer nobody waits for it.
      next.catch(() => undefined);
      try {
        await this.taken(batch, await answer);
        return await next;
      } catch (error) {
        if (!(error instanceof ServerRefused)) throw error;
      }
    }
    for (const entry of batch) {
      if (this.stopped) break;
      await this.deliver(entry);
    }
    return null;
  }

  /** The server has answered for entries: they need not be kept any more. */
  private async taken(batch: Batch, { setAside, repeated, numbers }: EntryAnswer): Promise<void> {
    if (setAside > 0) this.log.warn({ setAside }, 'the server set values aside');
    const known = batch.filter(
      (entry, i) => entry.isFirstTry && (numbers === undefined ? repeated : numbers[i] === null),
    );
    if (known.length > 0) await this.renumber(known);
    await this.forget(batch);
  }

  /**
   * Entries that are sent for the first time, and that the server says it has: their numbers were given before, to others.
   * This machine, or its disk, is a copy of another one. They are numbered anew under another name, before they are
   * forgotten under the old one: a kill in between has the server get them twice, which changes nothing.
   */
  private async renumber(entries: Batch): Promise<void> {
    this.log.error({ entries: entries.length }, 'the server knows these numbers already: they are numbered anew');
    const before = this.spool.name;
    await this.spool.beginEpoch();
    for (const { packed, samples } of entries) {
      const { description, frame } = unpackEntry(packed);
      const { writer, ...rest } = description as EntryDescription;
      const renamed = { ...rest, writer: writer.replace(before, this.spool.name) };
      await this.spool.add((sequence) => packEntry({ ...renamed, sequence }, frame), null, samples);
    }
  }

  private forget(batch: Batch): Promise<void> {
    return this.spool.remove(
      batch.map(({ sequence }) => sequence),
      batch.reduce((sum, { samples }) => sum + samples, 0),
    );
  }

  /** One entry: whole, or in parts; what is refused for good is put away, so that it holds up nothing. */
  private async deliver(entry: ReadyEntry): Promise<void> {
    const { packed, description } = entry;
    try {
      await this.taken([entry], await this.calls.deliver(packed));
      return;
    } catch (error) {
      if (!(error instanceof ServerRefused)) throw error;
      const refused = description === null ? [packed] : await this.deliverInParts(packed, description, entry.sequence);
      if (refused.length > 0) {
        this.log.error({ error: error.message, entry: entry.sequence }, 'an entry is refused for good and put away');
        await this.spool.putAway(entry.sequence, refused, error.message);
      }
    }
    await this.forget([entry]);
  }

  /**
   * Delivers a refused entry part by part, under a writer's name of its own: each part once, whatever is cut off.
   * @returns the parts that are refused by themselves.
   */
  private async deliverInParts(
    packed: Uint8Array,
    description: EntryDescription,
    sequence: number,
  ): Promise<Uint8Array[]> {
    const parts = partsOf(packed, description, (whole, part) => ({
      ...whole,
      writer: `${whole.writer}/part of ${sequence}`,
      sequence: part,
    }));
    if (parts.length === 1) return [packed];
    const refused: Uint8Array[] = [];
    for (const part of parts) {
      try {
        await this.calls.deliver(part);
      } catch (error) {
        if (!(error instanceof ServerRefused)) throw error;
        refused.push(part);
      }
    }
    return refused;
  }

  /** Delivers what was put away, once: as another entry of another writer, since its own number has been passed. */
  private async tryQuarantine(): Promise<void> {
    for (const { key, packed } of await this.spool.quarantine()) {
      try {
        const { description, frame } = unpackEntry(packed);
        const known = entryDescription.parse(description);
        const again = { ...known, writer: `${known.writer}/${key}`, sequence: 1, origin: 'buffered' as const };
        await this.calls.deliver(packEntry(again, frame));
        await this.spool.takeBack(key);
        this.log.info({ key }, 'an entry that was put away is delivered');
      } catch (error) {
        this.log.debug({ key, error: (error as Error).message }, 'an entry stays put away');
      }
    }
  }

  /** The entry as it is sent: "buffered" where it has waited, with its watches. */
  private stamp({ packed }: SpooledEntry): Omit<ReadyEntry, 'sequence' | 'isFirstTry'> {
    const { description, frame } = unpackEntry(packed);
    const samples = frame?.times.length ?? 0;
    const parsed = entryDescription.safeParse(description);
    // Of an earlier version, or too large to be one: the server says what it makes of it.
    const known = parsed.success ? parsed.data : null;
    if (known === null) return { packed, samples, description: looseDescription(description) };
    const newest = known.watches.reduce((latest, { to }) => Math.max(latest, to), frame?.times[samples - 1] ?? 0);
    const fresh = this.now() - newest < LIVE_MICROSECONDS || known.watches.length === 0;
    if (fresh) return { packed, samples, description: known };
    const buffered = { ...known, origin: 'buffered' as const };
    return { packed: packEntry(buffered, frame), samples, description: buffered };
  }

  private pause(milliseconds: number, forWork: boolean): Promise<void> {
    if (this.stopped || (forWork && this.news)) return Promise.resolve();
    return new Promise((resolve) => {
      const done = (): void => {
        clearTimeout(timer);
        this.wakeUp = null;
        resolve();
      };
      const timer = setTimeout(done, milliseconds);
      this.wakeUp = () => {
        if (forWork || this.stopped) done();
      };
    });
  }

  /** Ends after the entry that is on its way, if there is one. */
  async stop(): Promise<void> {
    this.stopped = true;
    this.wake();
    await this.running;
  }
}

/** A description that holds more than a server takes at once, as this collector itself wrote it; null when it is none. */
function looseDescription(description: unknown): EntryDescription | null {
  const lists = entryDescription.extend({
    watches: entryDescription.shape.watches.unwrap().element.array().default([]),
    outages: entryDescription.shape.outages.unwrap().element.array().default([]),
  });
  const parsed = lists.safeParse(description);
  return parsed.success ? parsed.data : null;
}
