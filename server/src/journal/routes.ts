import { entryDescription, newSamples, type EntryAnswer, type SetAsideRow } from '@wide-ledger/contract';
import { FrameError, formatInstant, tagsIn, unpackEntry, type UnpackedEntry } from '@wide-ledger/core';
import { Router, raw } from 'express';
import { z } from 'zod';
import { visitorOf, type Guard } from '../access/guard.ts';
import type { Database } from '../database/connect.ts';
import { badRequest } from '../http/problem.ts';
import type { Present } from '../live/present.ts';
import type { Catalogue, TagRow } from '../tags/store.ts';
import { admitFrame, admitSamples } from './admission.ts';
import type { Journal } from './journal.ts';

const LARGEST_ENTRY = '64mb';

const nowMicros = (): number => Date.now() * 1000;

export function journalRoutes(catalogue: Catalogue, journal: Journal, present: Present, guard: Guard): Router {
  const router = Router();
  const keepsSince = (tag: TagRow): number | null => catalogue.storeById(tag.storeId)?.keepsSince ?? null;

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
        ? admitFrame(unpacked.frame, catalogue.tagById, keepsSince, nowMicros(), description.origin === 'corrected')
        : { frames: [], refused: [] };
      const frame = frames[0] ?? null;
      const entry = await journal.append({
        ...description,
        frame,
        frameBytes: refused.length === 0 ? unpacked.frameBytes : null,
        refused,
      });
      if (entry !== null && frame) present.note(frame);
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
    const { frames, refused } = admitSamples(samples, catalogue.tagByName, keepsSince, nowMicros());
    const common = {
      writer: visitorOf(request).name,
      sequence: null,
      origin: 'entered',
      watches: [],
      outages: [],
    } as const;
    response.json(await journal.appendAdmitted({ frames, refused }, common, (frame) => present.note(frame)));
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

/** What was set aside, newest first. */
export async function newestSetAside(
  { pool }: Database,
  limit: number,
): Promise<{ total: number; newest: SetAsideRow[] }> {
  const [count, rows] = await Promise.all([
    pool.query<{ total: number }>('SELECT count(*) AS total FROM set_aside'),
    pool.query<{
      id: number;
      at: Date;
      writer: string;
      tag: string;
      time: number | null;
      value: string;
      reason: string;
    }>('SELECT id, at, writer, tag, time, value, reason FROM set_aside ORDER BY id DESC LIMIT $1', [limit]),
  ]);
  const newest = rows.rows.map((row) => ({
    ...row,
    at: row.at.toISOString(),
    time: row.time === null ? null : formatInstant(row.time),
  }));
  return { total: count.rows[0]!.total, newest };
}
