/** The spool: what is collected and not yet acknowledged, on disk, in order. On classic-level. */
import { ClassicLevel } from 'classic-level';
import { randomUUID } from 'node:crypto';
import { statfs } from 'node:fs/promises';

const ENTRY = 'entry/';
const IDENTITY = 'identity';
const NOTES = 'notes';
const QUARANTINE = 'quarantine/';

/** Digits that keep keys in the order of their numbers. */
const keyOf = (sequence: number): string => ENTRY + String(sequence).padStart(16, '0');

const newEpoch = (): string => randomUUID().slice(0, 13);
/** Spools of early versions had no epoch. */
const nameOf = (identity: string, epoch: string | null): string => (epoch === null ? identity : `${identity}.${epoch}`);

export interface SpooledEntry {
  readonly sequence: number;
  readonly packed: Uint8Array;
}

/** How the spool stood when it was opened: how its entries had been named, and the last number that was used. */
export interface SpoolBefore {
  readonly epoch: string | null;
  readonly sequence: number;
}

/** Entries on disk until they are acknowledged, in the order of their numbers, with notes that must not be lost. */
export class Spool {
  /** Names this spool for ever: a spool that was lost and began anew counts from 1 under another name. */
  readonly identity: string;
  /**
   * New each time the spool is opened, and part of the name under which entries are numbered: a spool that was restored
   * from an older copy gives numbers that were given before, under another name.
   */
  epoch: string;
  private next: number;
  entries: number;
  samples = 0;
  /** Of what was written since it was opened. */
  private written = { samples: 0, bytes: 0 };
  /** Parts of entries that the server refused for good. */
  putAwayEntries: number;

  private constructor(
    private readonly level: ClassicLevel<string, Uint8Array>,
    private readonly folder: string,
    identity: string,
    readonly before: SpoolBefore,
    entries: number,
    putAwayEntries: number,
  ) {
    this.identity = identity;
    this.epoch = newEpoch();
    this.next = before.sequence + 1;
    this.entries = entries;
    this.putAwayEntries = putAwayEntries;
  }

  /** The name under which entries are numbered, behind the collector's own. */
  get name(): string {
    return nameOf(this.identity, this.epoch);
  }

  static async open(folder: string): Promise<Spool> {
    const level = new ClassicLevel<string, Uint8Array>(folder, { valueEncoding: 'view' });
    try {
      await level.open();
    } catch (error) {
      const cause = (error as { cause?: { code?: string; message?: string } }).cause;
      if (cause?.code === 'LEVEL_LOCKED')
        throw new Error(
          `The spool in ${folder} is in use by another collector. Stop that one or set WIDE_LEDGER_COLLECTOR_DATA.`,
          { cause: error },
        );
      throw new Error(`The spool in ${folder} could not be opened: ${cause?.message ?? (error as Error).message}`, {
        cause: error,
      });
    }
    const text = new TextDecoder();
    const kept = await level.get(IDENTITY);
    const known = kept ? (JSON.parse(text.decode(kept)) as { identity: string; epoch?: string }) : null;
    const keys = await level.keys({ gte: ENTRY, lt: `${ENTRY}~` }).all();
    const counter = await level.get('sequence');
    const last = Math.max(
      counter ? Number(text.decode(counter)) : 0,
      keys.length > 0 ? Number(keys.at(-1)!.slice(ENTRY.length)) : 0,
    );
    const away = await level.keys({ gte: QUARANTINE, lt: `${QUARANTINE}~` }).all();
    const before = { epoch: known?.epoch ?? null, sequence: last };
    const spool = new Spool(level, folder, known?.identity ?? randomUUID(), before, keys.length, away.length);
    await spool.noteEpoch();
    return spool;
  }

  /** The name under which entries were numbered before it was opened. */
  get nameBefore(): string {
    return nameOf(this.identity, this.before.epoch);
  }

  /** From here on entries are numbered under another name: the one in use was used elsewhere, too. */
  async beginEpoch(): Promise<void> {
    this.epoch = newEpoch();
    await this.noteEpoch();
  }

  private noteEpoch(): Promise<void> {
    const state = JSON.stringify({ identity: this.identity, epoch: this.epoch });
    return this.level.put(IDENTITY, new TextEncoder().encode(state), { sync: true });
  }

  /** Where the sources stood when last written: what a restart needs to know about the time in between. */
  async notes<Notes>(): Promise<Notes | null> {
    const kept = await this.level.get(NOTES);
    return kept ? (JSON.parse(new TextDecoder().decode(kept)) as Notes) : null;
  }

  /**
   * Adds an entry and the notes that belong to it, null for none, in one synced write. `pack` gets the entry's number.
   * @throws Error when it cannot be written, such as on a full disk: nothing was added, and the number is not used.
   */
  async add(pack: (sequence: number) => Uint8Array, notes: unknown, samples: number): Promise<void> {
    const sequence = this.next;
    const utf8 = new TextEncoder();
    const packed = pack(sequence);
    await this.level.batch(
      [
        { type: 'put', key: keyOf(sequence), value: packed },
        { type: 'put', key: 'sequence', value: utf8.encode(String(sequence)) },
        ...(notes === null ? [] : [{ type: 'put' as const, key: NOTES, value: utf8.encode(JSON.stringify(notes)) }]),
      ],
      { sync: true },
    );
    this.next = sequence + 1;
    this.entries++;
    this.samples += samples;
    this.written = { samples: this.written.samples + samples, bytes: this.written.bytes + packed.length };
  }

  /** What a sample takes on the disk, entries' heads among it; null before anything was written. */
  get bytesPerSample(): number | null {
    const { samples, bytes } = this.written;
    return samples === 0 ? null : bytes / samples;
  }

  /** Room on its disk, in bytes; null where the system does not tell. */
  async freeBytes(): Promise<number | null> {
    return statfs(this.folder).then(
      ({ bavail, bsize }) => bavail * bsize,
      () => null,
    );
  }

  /**
   * The entries to deliver next, in their order; none when nothing waits.
   * @param most entries. @param bytes beyond which no other one is added. @param after only those behind this number.
   */
  async oldest(most = 1, bytes = Infinity, after = 0): Promise<SpooledEntry[]> {
    const found: SpooledEntry[] = [];
    let size = 0;
    for await (const [key, packed] of this.level.iterator({ gte: keyOf(after + 1), lt: `${ENTRY}~`, limit: most })) {
      size += packed.length;
      if (found.length > 0 && size > bytes) break;
      found.push({ sequence: Number(key.slice(ENTRY.length)), packed });
    }
    return found;
  }

  /** Forgets entries that were acknowledged, with so many samples. */
  async remove(sequences: readonly number[], samples: number): Promise<void> {
    await this.level.batch(sequences.map((sequence) => ({ type: 'del', key: keyOf(sequence) })));
    this.entries -= sequences.length;
    this.samples = Math.max(0, this.samples - samples);
  }

  /** Keeps what the server refused for good, with its reason, beside the entries that are to be delivered. */
  async putAway(sequence: number, parts: readonly Uint8Array[], reason: string): Promise<void> {
    const utf8 = new TextEncoder();
    await this.level.batch(
      parts.flatMap((packed, part) => {
        const name = `${String(sequence).padStart(16, '0')}-${part}`;
        return [
          { type: 'put' as const, key: `${QUARANTINE}${name}`, value: packed },
          { type: 'put' as const, key: `reason/${name}`, value: utf8.encode(reason) },
        ];
      }),
      { sync: true },
    );
    this.putAwayEntries += parts.length;
  }

  /** What was put away, by the keys under which it is taken back. */
  async quarantine(): Promise<{ key: string; packed: Uint8Array }[]> {
    const found = await this.level.iterator({ gte: QUARANTINE, lt: `${QUARANTINE}~` }).all();
    return found.map(([key, packed]) => ({ key, packed }));
  }

  /** Forgets what was put away and is delivered after all. */
  async takeBack(key: string): Promise<void> {
    await this.level.batch([
      { type: 'del', key },
      { type: 'del', key: key.replace(QUARANTINE, 'reason/') },
    ]);
    this.putAwayEntries--;
  }

  close(): Promise<void> {
    return this.level.close();
  }
}
