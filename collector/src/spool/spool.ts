/** The spool: what is collected and not yet acknowledged, on disk, in order. On classic-level. */
import { ClassicLevel } from 'classic-level';
import { randomUUID } from 'node:crypto';

const ENTRY = 'entry/';
const IDENTITY = 'identity';
const NOTES = 'notes';

/** Digits that keep keys in the order of their numbers. */
const keyOf = (sequence: number): string => ENTRY + String(sequence).padStart(16, '0');

export interface SpooledEntry {
  readonly sequence: number;
  readonly packed: Uint8Array;
}

export class Spool {
  /** Names this spool for ever: a spool that was lost and began anew counts from 1 under another name. */
  readonly identity: string;
  private next: number;
  entries: number;
  samples = 0;

  private constructor(
    private readonly level: ClassicLevel<string, Uint8Array>,
    identity: string,
    next: number,
    entries: number,
  ) {
    this.identity = identity;
    this.next = next;
    this.entries = entries;
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
    const state = kept ? (JSON.parse(text.decode(kept)) as { identity: string }) : { identity: randomUUID() };
    if (!kept) await level.put(IDENTITY, new TextEncoder().encode(JSON.stringify(state)), { sync: true });
    const keys = await level.keys({ gte: ENTRY, lt: `${ENTRY}~` }).all();
    const counter = await level.get('sequence');
    const last = Math.max(
      counter ? Number(text.decode(counter)) : 0,
      keys.length > 0 ? Number(keys.at(-1)!.slice(ENTRY.length)) : 0,
    );
    return new Spool(level, state.identity, last + 1, keys.length);
  }

  /** Where the sources stood when last written: what a restart needs to know about the time in between. */
  async notes<Notes>(): Promise<Notes | null> {
    const kept = await this.level.get(NOTES);
    return kept ? (JSON.parse(new TextDecoder().decode(kept)) as Notes) : null;
  }

  /** Adds an entry and the notes that belong to it in one synced write. `pack` gets the entry's number. */
  async add(pack: (sequence: number) => Uint8Array, notes: unknown, samples: number): Promise<void> {
    const sequence = this.next++;
    const utf8 = new TextEncoder();
    await this.level.batch(
      [
        { type: 'put', key: keyOf(sequence), value: pack(sequence) },
        { type: 'put', key: 'sequence', value: utf8.encode(String(sequence)) },
        { type: 'put', key: NOTES, value: utf8.encode(JSON.stringify(notes)) },
      ],
      { sync: true },
    );
    this.entries++;
    this.samples += samples;
  }

  async oldest(): Promise<SpooledEntry | null> {
    for await (const [key, packed] of this.level.iterator({ gte: ENTRY, lt: `${ENTRY}~`, limit: 1 })) {
      return { sequence: Number(key.slice(ENTRY.length)), packed };
    }
    return null;
  }

  /** Forgets an entry that was acknowledged. */
  async remove(sequence: number, samples: number): Promise<void> {
    await this.level.del(keyOf(sequence));
    this.entries--;
    this.samples = Math.max(0, this.samples - samples);
  }

  close(): Promise<void> {
    return this.level.close();
  }
}
