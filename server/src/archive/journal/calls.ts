import {
  entryAnswer,
  entryDescription,
  entryPosition,
  newSamples,
  samplesResult,
  type EntryAnswer,
  type Scope,
} from '@wide-ledger/contract';
import { isBundle, tagsIn, unpackBundle, unpackEntry, type Origin } from '@wide-ledger/core';
import { z } from 'zod';
import { visitorOf, type Keys, type Visitor } from '../../people/index.ts';
import {
  Calls,
  SAMPLES_JSON,
  ProblemError,
  Turns,
  badRequest,
  listAsJson,
  nowMicros,
  refuseUnwritable,
} from '../../ground/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import { admitFrame, mayRemove } from './admission.ts';
import type { Journal, NewEntry } from './journal.ts';
import { readable } from './readable.ts';
import { admitManySamples } from './sampleAdmission.ts';

const positionQuery = z.object({ writer: z.string().min(1).max(200) });

/** Bytes. */
const LARGEST_ENTRY = 64 * 1024 * 1024;
/** In one bundle. */
const MOST_ENTRIES = 1000;
/** Samples that are looked at before others have their turn. */
const SAMPLES_A_TURN = 20_000;

/** Entries from collectors and links, and samples as JSON from programs and people. */
export function journalCalls(catalogue: Catalogue, journal: Journal, keys: Keys): Calls {
  const calls = new Calls();

  /** An entry as it may be written: who delivers it may speak for its writer, and what of it cannot be kept is told apart. */
  async function admitted(packed: Uint8Array, visitor: Visitor): Promise<NewEntry> {
    const unpacked = readable(() => unpackEntry(packed));
    refuseUnwritable(unpacked.description, '');
    const description = entryDescription.parse(unpacked.description);
    await keys.speakAs(visitor, collectorOf(description.writer));
    refuseUnsayable(visitor, description.origin);
    if (unpacked.frame && !unpacked.frame.tags)
      throw badRequest('The frame has no tag column: an entry says of each sample whose it is.');
    const strangers =
      unpacked.frame && tagsIn(unpacked.frame.tags!).some((tag) => catalogue.tagById(tag) === undefined);
    if (strangers) await catalogue.refresh();
    const { frames, refused } = unpacked.frame
      ? admitFrame(unpacked.frame, catalogue.tagById, catalogue.keepsSince, nowMicros(), mayRemove(description.origin))
      : { frames: [], refused: [] };
    return {
      ...description,
      frame: frames[0] ?? null,
      frameBytes: refused.length === 0 ? unpacked.frameBytes : null,
      refused,
    };
  }

  /** Entries as collectors and links deliver them: binary, numbered by their writer, exactly once. */
  calls.on(
    {
      method: 'post',
      path: '/entries',
      needs: 'collect',
      says: 'An entry, or a bundle of them, as collectors and links deliver it: binary, numbered by its writer, exactly once',
      takes: { as: 'bytes', most: LARGEST_ENTRY },
      answer: entryAnswer,
    },
    async (request, response) => {
      const visitor = visitorOf(request);
      const entries: NewEntry[] = [];
      const turns = new Turns(SAMPLES_A_TURN);
      for (const packed of entriesIn(request.body)) {
        const entry = await admitted(packed, visitor);
        entries.push(entry);
        await turns.after(entry.frame?.times.length ?? 0);
      }
      const numbers = await journal.appendAll(entries);
      const answer: EntryAnswer = {
        entry: numbers.findLast((number) => number !== null) ?? null,
        accepted: entries.reduce((sum, { frame }) => sum + (frame?.times.length ?? 0), 0),
        setAside: entries.reduce((sum, { refused }) => sum + refused.length, 0),
        repeated: numbers.every((number) => number === null),
        numbers,
      };
      response.json(answer);
    },
  );

  /** The last sequence number that a writer has committed: where it goes on after a restart. */
  calls.on(
    {
      method: 'get',
      path: '/entries/position',
      needs: 'collect',
      says: 'The last number that a writer has delivered',
      query: positionQuery,
      answer: entryPosition,
    },
    async (request, response) => {
      const { writer } = positionQuery.parse(request.query);
      await keys.speakAs(visitorOf(request), collectorOf(writer));
      response.json({ sequence: await journal.position(writer) });
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/samples',
      needs: 'write',
      says: 'Archive samples; committed when it answers',
      body: newSamples,
      takes: SAMPLES_JSON,
      answer: samplesResult,
      example: { body: { samples: [{ tag: 'D1', time: '2026-01-01T00:00:00Z', value: 21.5, status: 'Good' }] } },
    },
    async (request, response) => {
      const { samples } = newSamples.parse(request.body);
      await catalogue.refresh();
      const { frames, refused } = await admitManySamples(
        samples,
        catalogue.tagByName,
        catalogue.keepsSince,
        nowMicros(),
      );
      const common = {
        writer: visitorOf(request).name,
        sequence: null,
        origin: 'entered',
        watches: [],
        outages: [],
      } as const;
      const { setAside, ...taken } = await journal.appendAdmitted({ frames, refused }, common);
      // As many may be set aside as came.
      const list = await listAsJson(setAside, (one) => one);
      response.type('json').send(`${JSON.stringify(taken).slice(0, -1)},"setAside":${list}}`);
    },
  );
  return calls;
}

/** Collectors write under their name and what tells their spools apart. */
const collectorOf = (writer: string): string => writer.split('/')[0]!;

/** How values got here that are no collector's to say: each with the scope that it takes. */
const SCOPE_OF_ORIGIN: Readonly<Partial<Record<Origin, Scope>>> = {
  entered: 'write',
  corrected: 'correct',
  derived: 'write',
  carried: 'carry',
};

/** @throws ProblemError 403 where whoever delivers may not say so of its values. */
function refuseUnsayable({ name, scopes }: Visitor, origin: Origin): void {
  const needed = SCOPE_OF_ORIGIN[origin];
  if (needed === undefined || scopes.includes(needed) || scopes.includes('admin')) return;
  throw new ProblemError(
    403,
    'Not allowed',
    `Values that are ${origin} need the scope "${needed}"; ${name} has ${scopes.join(', ')}.`,
  );
}

/** The packed entries of a request: one, or those of a bundle. */
function entriesIn(body: unknown): Uint8Array[] {
  const bytes = body instanceof Uint8Array ? body : new Uint8Array(0);
  if (!isBundle(bytes)) return [bytes];
  const entries = readable(() => unpackBundle(bytes));
  if (entries.length === 0 || entries.length > MOST_ENTRIES)
    throw badRequest(`A bundle holds 1 to ${MOST_ENTRIES} entries; this one has ${entries.length}.`);
  return entries;
}
