/**
 * Files as the far end of a link: one for each day, written when the day is over, and again when something late or
 * corrected comes for it; so a file holds what stands, and reading it twice doubles nothing. The manifest says how far the
 * link is, which days wait, and of each file how many rows it has and its digest.
 */
import type { CarriedTag, CarriedTagsAnswer, FilesEnd as Given, LinkRung } from '@wide-ledger/contract';
import { DAY, MINUTE, formatInstant, type Span } from '@wide-ledger/core';
import { createHash, type Hash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, open, readFile, readdir, rename, rm, writeFile, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { freeBytes, nowMicros } from '../../../ground/index.ts';
import {
  FarAway,
  StandsElsewhere,
  type ComparedByDays,
  type ComparedDay,
  type FarEnd,
  type FarPosition,
  type Stretch,
  type Taken,
} from './farEnd.ts';
import { walkRungs } from './rungs.ts';

const MANIFEST = 'manifest.json';

const manifestShape = z.object({
  link: z.string(),
  epoch: z.number(),
  position: z.number(),
  print: z.string(),
  tags: z.record(z.string(), z.string()),
  /** Days that have to be written, `YYYY-MM-DD` in UTC. */
  waiting: z.array(z.string()),
  files: z.record(
    z.string(),
    z.object({
      file: z.string(),
      bytes: z.number(),
      sha256: z.string(),
      samples: z.number(),
      tally: z.string(),
      written: z.string(),
    }),
  ),
});
type Manifest = z.infer<typeof manifestShape>;

/** Of a tag that is carried: its number at the link, and what it is called in the files. */
export interface NamedTag {
  readonly number: number;
  readonly farName: string;
}

/** A day of all tags of a link as the bytes of a file, and how many values with which tally it holds. */
export interface DayOfHistory {
  readonly chunks: AsyncIterable<Uint8Array | string>;
  holds(): Promise<{ readonly samples: number; readonly tally: string }>;
}
/** Reads a day out of the ledger. @param tags by the link's numbers, as they are called in the file. */
export type ReadDay = (tags: readonly NamedTag[], day: Span, format: Given['format']) => Promise<DayOfHistory>;

export class FilesEnd implements FarEnd {
  readonly byDays: ComparedByDays = {
    daysIn: async ({ from, to }) => {
      const { waiting } = await this.known();
      const days: Span[] = [];
      for (let day = Math.ceil(from / DAY) * DAY; day + DAY <= Math.min(to, this.settled); day += DAY)
        if (!waiting.includes(dayOf(day))) days.push({ from: day, to: day + DAY });
      return days;
    },
    compare: (day) => this.compare(day),
    mend: (day) => this.write(dayOf(day.from), day),
  };
  private readonly folder: string;
  private manifest: Manifest | null = null;
  /** The manifest is changed by one after the other. */
  private changing: Promise<unknown> = Promise.resolve();

  /** @param dataFolder of the server. @param link by which the link is known there. */
  constructor(
    private readonly given: Given,
    private readonly dataFolder: string,
    private readonly link: string,
    private readonly readDay: ReadDay,
    private readonly now: () => number = nowMicros,
  ) {
    this.folder = join(dataFolder, 'carried', given.folder);
  }

  async position(): Promise<FarPosition> {
    const { epoch, position, print, tags } = await this.known();
    const lastNumber = Object.keys(tags).reduce((most, number) => Math.max(most, Number(number)), 0);
    return { epoch, position, print, lastNumber, site: null, name: this.folder };
  }

  /** One that is called otherwise by now is so in the files that are written from then on. */
  async tags(tags: readonly CarriedTag[]): Promise<CarriedTagsAnswer> {
    const named = Object.fromEntries(tags.map(({ number, name }) => [String(number), name]));
    await this.change((manifest) => ({ ...manifest, tags: { ...manifest.tags, ...named } }));
    return { results: tags.map(({ number }) => ({ number, refused: null })) };
  }

  async entries({ head, entries, samples }: Stretch): Promise<Taken> {
    const { epoch, after, position, print } = head;
    const days = new Set<string>();
    for (const { frame } of entries) for (const time of frame.times) days.add(dayOf(time));
    await this.change((manifest) => {
      const goesOn = epoch === manifest.epoch ? after === manifest.position : epoch === manifest.epoch + 1;
      if (!goesOn) throw new StandsElsewhere();
      const waiting = [...new Set([...manifest.waiting, ...days])].sort();
      return { ...manifest, epoch, position, print, waiting };
    });
    return { accepted: samples, setAside: 0, bytes: 0 };
  }

  /** Writes the days that are over and wait. */
  async settle(): Promise<void> {
    for (const day of (await this.known()).waiting) {
      const span = spanOf(day);
      if (span.to > this.settled) continue;
      await this.write(day, span);
    }
  }

  async *check(): AsyncGenerator<LinkRung> {
    yield* walkRungs([
      [
        'permission',
        async () => {
          const probe = join(this.folder, '.probe');
          await this.filing(async () => {
            const made = await mkdir(this.folder, { recursive: true, mode: 0o700 });
            await writeFile(probe, '');
            // Walking leaves nothing behind.
            await rm(made ?? probe, { recursive: true });
          });
          return { sentence: `${this.folder} can be written to.` };
        },
      ],
      [
        'space',
        async () => {
          const free = await freeBytes(this.dataFolder);
          return {
            sentence:
              free === null ? 'How much room there is, is not told.' : `${(free / 1e9).toFixed(1)} GB are free.`,
          };
        },
      ],
    ]);
  }

  close(): Promise<void> {
    return Promise.resolve();
  }

  /** Days that end before this are written. */
  private get settled(): number {
    return this.now() - this.given.settleMinutes * MINUTE;
  }

  private async named(): Promise<NamedTag[]> {
    const { tags } = await this.known();
    return Object.entries(tags).map(([number, farName]) => ({ number: Number(number), farName }));
  }

  /** The manifest says what was written, and its digest whether that is what lies there. */
  private async compare(day: Span): Promise<ComparedDay> {
    const name = dayOf(day.from);
    const history = await this.readDay(await this.named(), day, this.given.format);
    const here = await history.holds();
    const kept = (await this.known()).files[name];
    if (!kept) return { name, here, there: null };
    const { samples, tally, sha256, file } = kept;
    const digest = await this.filing(() => digestOf(join(this.folder, file)));
    if (digest === null) return { name: file, here, there: null };
    return { name: file, here, there: { samples, tally, altered: digest !== sha256 } };
  }

  private async write(day: string, span: Span): Promise<void> {
    const { format } = this.given;
    const named = await this.named();
    const file = `${day}.${format}`;
    const beside = join(this.folder, `.${file}.new`);
    const history = await this.readDay(named, span, format);
    const hash = createHash('sha256');
    const bytes = await this.filing(async () => {
      const written = await allOf(history.chunks, beside, hash);
      await rename(beside, join(this.folder, file));
      return written;
    });
    const entry = {
      file,
      bytes,
      sha256: hash.digest('hex'),
      ...(await history.holds()),
      written: formatInstant(this.now()),
    };
    await this.change((manifest) => ({
      ...manifest,
      waiting: manifest.waiting.filter((one) => one !== day),
      files: { ...manifest.files, [day]: entry },
    }));
  }

  private change(how: (manifest: Manifest) => Manifest): Promise<void> {
    const changed = this.changing.then(async () => this.keep(how(await this.known())));
    this.changing = changed.catch(() => undefined);
    return changed;
  }

  private async known(): Promise<Manifest> {
    if (this.manifest) return this.manifest;
    return this.filing(async () => {
      await mkdir(this.folder, { recursive: true, mode: 0o700 });
      // What was being written when the machine went down.
      for (const name of await readdir(this.folder)) if (name.endsWith('.new')) await rm(join(this.folder, name));
      const text = await readFile(join(this.folder, MANIFEST), 'utf8').catch((error: NodeJS.ErrnoException) => {
        if (error.code === 'ENOENT') return null;
        throw error;
      });
      const empty = { link: this.link, epoch: 0, position: 0, print: '', tags: {}, waiting: [], files: {} };
      const manifest = text === null ? empty : manifestShape.safeParse(readJson(text)).data;
      if (!manifest)
        throw new FarAway(`${join(this.folder, MANIFEST)} cannot be read. Put it right, or choose another folder.`);
      if (manifest.link !== this.link)
        throw new FarAway(`${this.folder} holds the files of another link. Choose another folder.`);
      return (this.manifest = manifest);
    });
  }

  /** The manifest is there whole, as it was or as it is to be. */
  private async keep(manifest: Manifest): Promise<void> {
    await this.filing(async () => {
      const beside = join(this.folder, `.${MANIFEST}.new`);
      const handle = await open(beside, 'w', 0o600);
      try {
        await handle.writeFile(`${JSON.stringify(manifest, null, 1)}\n`);
        await handle.sync();
      } finally {
        await handle.close();
      }
      await rename(beside, join(this.folder, MANIFEST));
    });
    this.manifest = manifest;
  }

  /** @throws FarAway with what the system said. */
  private async filing<Result>(work: () => Promise<Result>): Promise<Result> {
    try {
      return await work();
    } catch (error) {
      const { code, message } = error as NodeJS.ErrnoException;
      if (code === undefined) throw error;
      const says = code === 'ENOSPC' ? 'there is no room left. Make room; it goes on by itself' : message;
      throw Object.assign(new FarAway(`${this.folder} cannot be written: ${says}.`), { code });
    }
  }
}

function readJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

const dayOf = (micros: number): string => formatInstant(Math.floor(micros / DAY) * DAY).slice(0, 10);
function spanOf(day: string): Span {
  const from = Date.parse(`${day}T00:00:00Z`) * 1000;
  return { from, to: from + DAY };
}

/** Of a file as it lies there; null where there is none. */
async function digestOf(path: string): Promise<string | null> {
  const hash = createHash('sha256');
  try {
    for await (const part of createReadStream(path)) hash.update(part as Buffer);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw error;
  }
  return hash.digest('hex');
}

/** Writes everything, synced. @returns bytes. */
async function allOf(chunks: AsyncIterable<Uint8Array | string>, path: string, hash: Hash): Promise<number> {
  const handle: FileHandle = await open(path, 'w', 0o600);
  let bytes = 0;
  try {
    for await (const chunk of chunks) {
      const part = typeof chunk === 'string' ? Buffer.from(chunk) : chunk;
      hash.update(part);
      await handle.writeFile(part);
      bytes += part.length;
    }
    await handle.sync();
  } finally {
    await handle.close();
  }
  return bytes;
}
