/** Corrections and removals: entries of origin `corrected`, with who and why. What they displace stays readable. */
import { newCorrection, newRemoval } from '@wide-ledger/contract';
import { MAXIMUM_FRAME_SAMPLES, REMOVED, emptyFrame, type Frame } from '@wide-ledger/core';
import { Router } from 'express';
import { visitorOf, type Guard } from '../access/guard.ts';
import { badRequest } from '../http/problem.ts';
import type { Present } from '../live/present.ts';
import { findTag, nowMicros, resolveWindow } from '../reading/query.ts';
import { EVERY_SAMPLE, openTagLedger } from '../reading/tagLedger.ts';
import type { Stores } from '../stores/stores.ts';
import type { Catalogue, TagRow } from '../tags/store.ts';
import { admitSamples } from './admission.ts';
import type { Journal } from './journal.ts';

export function correctionRoutes(
  catalogue: Catalogue,
  stores: Stores,
  journal: Journal,
  present: Present,
  guard: Guard,
): Router {
  const router = Router();
  const entryOf = (name: string, reason: string) =>
    ({ writer: name, sequence: null, origin: 'corrected', watches: [], outages: [], reason }) as const;

  router.post('/history/corrections', guard.needs('write'), async (request, response) => {
    const { tag: name, reason, samples } = newCorrection.parse(request.body);
    const tag = await findTag(catalogue, name);
    const keepsSince = (): number | null => catalogue.storeById(tag.storeId)?.keepsSince ?? null;
    const own = samples.map((sample) => ({ ...(sample as object), tag: tag.name }));
    const admission = admitSamples(own, catalogue.tagByName, keepsSince, nowMicros());
    const entry = entryOf(visitorOf(request).name, reason);
    response.json(await journal.appendAdmitted(admission, entry, (frame) => present.note(frame)));
  });

  router.post('/history/removals', guard.needs('write'), async (request, response) => {
    const { tag: name, reason, ...window } = newRemoval.parse(request.body);
    const tag = await findTag(catalogue, name);
    const { from, to } = resolveWindow(window);
    if (to <= from) throw badRequest('The window is empty or upside down: from has to lie before to.');
    const times = await timesOf(stores, tag, from, to);
    let entry: number | null = null;
    for (let at = 0; at < times.length; at += MAXIMUM_FRAME_SAMPLES) {
      const frame = removalOf(tag.id, times.slice(at, at + MAXIMUM_FRAME_SAMPLES));
      entry = await journal.append({ ...entryOf(visitorOf(request).name, reason), frame, refused: [] });
    }
    present.forget(tag.id);
    response.json({ entry, removed: times.length });
  });
  return router;
}

/** The times at which a tag has a value now: a removal names each, so that later entries in the window are not hit. */
async function timesOf(stores: Stores, tag: TagRow, from: number, to: number): Promise<number[]> {
  const times: number[] = [];
  const ledger = await openTagLedger(stores, { id: tag.id, store: tag.storeId });
  let broken = true;
  try {
    const reader = { ...EVERY_SAMPLE, neighbours: false, usesUncertain: true };
    for await (const piece of ledger.pieces(from, to, reader)) {
      if (piece.kind !== 'samples') continue;
      for (const time of piece.frame.times) if (time >= from && time < to) times.push(time);
    }
    broken = false;
  } finally {
    await ledger.close(broken);
  }
  return times;
}

function removalOf(tag: number, times: readonly number[]): Frame {
  const frame = emptyFrame(times.length, { tags: true });
  frame.tags!.fill(tag);
  frame.times.set(times);
  frame.values.fill(NaN);
  frame.status.fill(REMOVED);
  return frame;
}
