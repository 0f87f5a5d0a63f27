import { entryDescription, newSamples, type EntryAnswer } from '@wide-ledger/contract';
import { FrameError, tagsIn, unpackEntry, type UnpackedEntry } from '@wide-ledger/core';
import { Router, raw } from 'express';
import { z } from 'zod';
import { visitorOf, type Guard } from '../../people/index.ts';
import { badRequest, nowMicros } from '../../ground/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import { admitFrame, admitSamples } from './admission.ts';
import type { Journal } from './journal.ts';

const LARGEST_ENTRY = '64mb';

/** Entries from collectors and links, and samples as JSON from programs and people. */
export function journalRoutes(catalogue: Catalogue, journal: Journal, guard: Guard): Router {
  const router = Router();

  /** Entries as collectors and links deliver them: binary, numbered by their writer, exactly once. */
  router.post(
    '/entries',
    guard.needs('collect'),
    raw({ type: () => true, limit: LARGEST_ENTRY }),
    async (request, response) => {
      const unpacked = unpack(request.body);
      const description = entryDescription.parse(unpacked.description);
      if (unpacked.frame && !unpacked.frame.tags)
        throw badRequest('The frame has no tag column: an entry says of each sample whose it is.');
      const strangers =
        unpacked.frame && tagsIn(unpacked.frame.tags!).some((tag) => catalogue.tagById(tag) === undefined);
      if (strangers) await catalogue.refresh();
      const { frames, refused } = unpacked.frame
        ? admitFrame(
            unpacked.frame,
            catalogue.tagById,
            catalogue.keepsSince,
            nowMicros(),
            description.origin === 'corrected',
          )
        : { frames: [], refused: [] };
      const frame = frames[0] ?? null;
      const entry = await journal.append({
        ...description,
        frame,
        frameBytes: refused.length === 0 ? unpacked.frameBytes : null,
        refused,
      });
      const answer: EntryAnswer = {
        entry,
        accepted: frame?.times.length ?? 0,
        setAside: refused.length,
        repeated: entry === null,
      };
      response.json(answer);
    },
  );

  /** The last sequence number that a writer has committed: where it goes on after a restart. */
  router.get('/entries/position', guard.needs('collect'), async (request, response) => {
    response.json({ sequence: await journal.position(z.string().parse(request.query.writer)) });
  });

  router.post('/samples', guard.needs('write'), async (request, response) => {
    const { samples } = newSamples.parse(request.body);
    await catalogue.refresh();
    const { frames, refused } = admitSamples(samples, catalogue.tagByName, catalogue.keepsSince, nowMicros());
    const common = {
      writer: visitorOf(request).name,
      sequence: null,
      origin: 'entered',
      watches: [],
      outages: [],
    } as const;
    response.json(await journal.appendAdmitted({ frames, refused }, common));
  });
  return router;
}

function unpack(body: unknown): UnpackedEntry {
  try {
    return unpackEntry(body instanceof Uint8Array ? body : new Uint8Array(0));
  } catch (error) {
    if (error instanceof FrameError) throw badRequest(error.message, 'NOT_A_FRAME');
    throw error;
  }
}
