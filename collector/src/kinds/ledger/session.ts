/** Reading another site on: tag by tag from the last value that was read, and now and then a while back for what came late. */
import type { LedgerConnection, RawAnswer } from '@wide-ledger/contract';
import { MINUTE, parseInstant } from '@wide-ledger/core';
import {
  HistoryRefused,
  type Cursor,
  type Fault,
  type HistoryPart,
  type HistoryRequest,
  type RecordPart,
  type RecordSession,
  type Sample,
  type TagOf,
  type Traffic,
} from '../kind.ts';
import type { Site } from './site.ts';
import { sampleOfGiven } from './values.ts';

type Tag = TagOf<'ledger'>;

/** Values of one call, and calls beside each other. */
const VALUES_A_CALL = 5000;
const AT_A_TIME = 4;
/** It is looked back this often. Milliseconds. */
const LOOKS_BACK_EVERY = 60_000;
/** The oldest that anybody keeps: 1700. Microseconds. */
const EVER = -8_520_336_000_000_000;

/** How far the other site is read. Microseconds. */
interface Place {
  /** From when on, where nothing of a tag was read. */
  readonly since: number;
  /** The last value's time of each tag there. */
  readonly times: Readonly<Record<string, number>>;
}

/** How one tag there is read: after its last value, with so much before it once more. Microseconds. */
interface Onward {
  readonly since: number;
  readonly last: number | null;
  readonly back: number;
}

interface Read {
  readonly samples: readonly Sample[];
  readonly troubles: readonly Fault[];
  readonly time: number | null;
  readonly more: boolean;
}

export class LedgerSession implements RecordSession<'ledger'> {
  readonly acquires = 'record';
  private lookedBackAt = -Infinity;
  /** What was told of the time that is looked back on, by the tag there: time, and a print of the value. */
  private readonly told = new Map<string, Map<number, number>>();

  constructor(
    private readonly connection: LedgerConnection,
    private readonly site: Site,
  ) {}

  get readsAll(): boolean {
    return this.connection.begin === 'at its beginning';
  }

  get traffic(): Traffic {
    return this.site.counts;
  }

  async look(): Promise<void> {
    await this.site.tags('0', 1);
  }

  begin(): Promise<Cursor> {
    const place: Place = { since: this.readsAll ? EVER : this.now, times: {} };
    return Promise.resolve({ ...place });
  }

  async readOn(tags: readonly Tag[], from: Cursor): Promise<RecordPart> {
    const { since = EVER, times: before = {} } = from as unknown as Partial<Place>;
    const looksBack = performance.now() - this.lookedBackAt > LOOKS_BACK_EVERY;
    if (looksBack) this.lookedBackAt = performance.now();
    const back = looksBack ? this.connection.looksBackMinutes * MINUTE : 0;
    const times: Record<string, number> = { ...before };
    const parts: Read[] = [];
    const asked = [...byName(tags)];
    for (let at = 0; at < asked.length; at += AT_A_TIME) {
      const some = asked.slice(at, at + AT_A_TIME);
      const read = await Promise.all(
        some.map(([name, own]) => this.readTag(name, own, { since, last: before[name] ?? null, back })),
      );
      read.forEach(({ time }, i) => {
        if (time !== null) times[some[i]![0]] = time;
      });
      parts.push(...read);
    }
    const place: Place = { since, times };
    return {
      samples: parts.flatMap(({ samples }) => samples),
      cursor: { ...place },
      more: parts.some(({ more }) => more),
      troubles: parts.flatMap(({ troubles }) => troubles),
    };
  }

  async *history({
    tag,
    from,
    to,
    most,
    newestFirst,
  }: HistoryRequest<'ledger'>): AsyncGenerator<HistoryPart, void, void> {
    const name = tag.reading.address.tag;
    // Whether it goes back to before that is told by the last value until then.
    const before = await this.first(name, EVER, from, true);
    for await (const page of this.site.raw({ tag: name, from, to, limit: most, newestFirst }))
      yield {
        samples: page.samples.map((given) => sampleOfGiven(tag, given)),
        more: page.next !== undefined,
        reachesBack: before !== undefined,
      };
  }

  async historyStart({ reading }: Tag): Promise<number | null> {
    const first = await this.first(reading.address.tag, EVER, this.now, false);
    return first === undefined ? null : parseInstant(first.time)!;
  }

  close(): void {
    this.told.clear();
  }

  private get now(): number {
    return Date.now() * 1000;
  }

  private async first(
    tag: string,
    from: number,
    to: number,
    newestFirst: boolean,
  ): Promise<RawAnswer['samples'][number] | undefined> {
    const { value } = await this.site.raw({ tag, from, to, limit: 1, newestFirst }).next();
    return value?.samples[0];
  }

  /** What there is of one tag there, for all that take it: what is looked back on whole, what comes page by page. */
  private async readTag(name: string, tags: readonly Tag[], { since, last, back }: Onward): Promise<Read> {
    const from = last === null ? since : Math.max(since, back > 0 ? last - back : last + 1);
    const samples: Sample[] = [];
    let time = last;
    try {
      for await (const { samples: given, next } of this.site.raw({
        tag: name,
        from,
        to: this.now,
        limit: VALUES_A_CALL,
      })) {
        for (const one of this.freshOf(name, given)) samples.push(...tags.map((tag) => sampleOfGiven(tag, one)));
        const newest = given.at(-1);
        if (newest) time = Math.max(time ?? -Infinity, parseInstant(newest.time)!);
        if (back === 0 || time !== last) return { samples, troubles: [], time, more: next !== undefined };
      }
      return { samples, troubles: [], time, more: false };
    } catch (error) {
      if (!(error instanceof HistoryRefused)) throw error;
      return { samples, troubles: [{ code: error.code, sentence: `${name}: ${error.message}` }], time, more: false };
    }
  }

  /** Without what was told before; what is older than is looked back on is forgotten. */
  private freshOf(name: string, given: RawAnswer['samples']): RawAnswer['samples'] {
    const { looksBackMinutes } = this.connection;
    if (looksBackMinutes === 0) return given;
    const told = this.told.get(name) ?? new Map<number, number>();
    this.told.set(name, told);
    const horizon = this.now - looksBackMinutes * MINUTE;
    for (const at of told.keys()) if (at < horizon) told.delete(at);
    return given.filter(({ time, value, status }) => {
      const at = parseInstant(time)!;
      const print = printOf(`${String(value)} ${status}`);
      if (told.get(at) === print) return false;
      if (at >= horizon) told.set(at, print);
      return true;
    });
  }
}

/** A number by which a text is known again: FNV-1a of 32 bits. */
function printOf(text: string): number {
  let print = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) print = Math.imul(print ^ text.charCodeAt(i), 0x01000193);
  return print >>> 0;
}

/** Tags by whom they take their values of. */
function byName(tags: readonly Tag[]): Map<string, Tag[]> {
  const found = new Map<string, Tag[]>();
  for (const tag of tags) {
    const { tag: name } = tag.reading.address;
    found.set(name, [...(found.get(name) ?? []), tag]);
  }
  return found;
}
