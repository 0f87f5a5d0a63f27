/** Corrections and removals: entries of origin `corrected`, with who and why. What they displace stays readable. */
import { newCorrection, newRemoval, removalAnswer, samplesResult } from '@wide-ledger/contract';
import {
  MAXIMUM_FRAME_SAMPLES,
  MAXIMUM_TIME,
  REMOVED,
  emptyFrame,
  formatInstant,
  selectSamples,
  type Frame,
  type Plain,
  type Span,
} from '@wide-ledger/core';
import { doerOf, visitorOf, type Logbook } from '../../people/index.ts';
import type { CurrentValues } from '../current/currentValues.ts';
import { Calls, SAMPLES_JSON, badRequest, nowMicros, filledWindow } from '../../ground/index.ts';
import { standingFrames } from '../reading/standing.ts';
import type { Stores } from '../stores/stores.ts';
import { findTag, type Catalogue, type TagRow } from '../../configuration/index.ts';
import { admitSamples } from '../journal/sampleAdmission.ts';
import type { Journal } from '../journal/journal.ts';

/** Correcting and removing samples, with a reason; what stood before goes to the modified history. */
export function correctionCalls(
  catalogue: Catalogue,
  stores: Stores,
  journal: Journal,
  current: CurrentValues,
  logbook: Logbook,
): Calls {
  const calls = new Calls();
  const entryOf = (name: string, reason: string) =>
    ({ writer: name, sequence: null, origin: 'corrected', watches: [], outages: [], reason }) as const;

  calls.on(
    {
      method: 'post',
      path: '/history/corrections',
      needs: 'correct',
      says: 'Put new values in the place of old ones, which stay readable',
      body: newCorrection,
      takes: SAMPLES_JSON,
      answer: samplesResult,
      example: {
        body: { tag: 'D1', reason: 'read again by hand', samples: [{ time: '2026-01-01T00:00:00Z', value: 21.7 }] },
      },
    },
    async (request, response) => {
      const { tag: name, reason, samples } = newCorrection.parse(request.body);
      const tag = await findTag(catalogue, name);
      const own = samples.map((given, index) => {
        // What is no sample at all is set aside like one with everything missing.
        const sample: { tag?: unknown } = typeof given === 'object' && given !== null ? given : {};
        const { tag: other = tag.name } = sample;
        if (other !== tag.name) throw badRequest(`samples.${index}.tag: a correction is of one tag, ${tag.name}.`);
        return { ...sample, tag: tag.name };
      });
      const admission = admitSamples(own, catalogue.tagByName, catalogue.keepsSince, nowMicros());
      const entry = entryOf(visitorOf(request).name, reason);
      const old = await standingBefore(stores, tag, admission.frames);
      response.json(
        await journal.appendAdmitted(admission, entry, (client) =>
          logbook.note(
            doerOf(request),
            {
              act: 'corrected',
              ...aboutTag(tag),
              sentence: `${own.length} ${own.length === 1 ? 'value' : 'values'} of ${tag.name}: ${reason}`,
              ...(old ? { old } : {}),
              new: saidOf(admission.frames),
            },
            client,
          ),
        ),
      );
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/history/removals',
      needs: 'correct',
      says: 'Remove the values of a window; they stay readable as modified',
      body: newRemoval,
      answer: removalAnswer,
    },
    async (request, response) => {
      const { tag: name, reason, ...window } = newRemoval.parse(request.body);
      const tag = await findTag(catalogue, name);
      const { from, to } = filledWindow(window);
      const times = await timesOf(stores, tag, { from, to });
      const frames: Frame[] = [];
      for (let at = 0; at < times.length; at += MAXIMUM_FRAME_SAMPLES) {
        frames.push(removalOf(tag.id, times.slice(at, at + MAXIMUM_FRAME_SAMPLES)));
      }
      const common = entryOf(visitorOf(request).name, reason);
      const numbers = await journal.appendAll(
        frames.map((frame) => ({ ...common, frame, refused: [] })),
        (client) =>
          logbook.note(
            doerOf(request),
            {
              act: 'removed',
              ...aboutTag(tag),
              sentence: `${times.length} values of ${tag.name}: ${reason}`,
              old: { from: formatInstant(from), to: formatInstant(to), values: times.length },
            },
            client,
          ),
      );
      const entry = numbers[numbers.length - 1] ?? null;
      current.replace(tag.id, await lastOf(stores, tag));
      response.json({ entry, removed: times.length });
    },
  );
  return calls;
}

/** The times at which a tag has a value now: a removal names each, so that later entries in the window are not hit. */
const timesOf = async (stores: Stores, tag: TagRow, window: Span): Promise<number[]> =>
  (await standingFrames(stores, tag, window)).flatMap(({ times }) => [...times]);

/** What stands last of a tag; null for nothing. */
async function lastOf(stores: Stores, tag: TagRow): Promise<{ frame: Frame; index: number } | null> {
  const [from, to] = [-MAXIMUM_TIME, MAXIMUM_TIME];
  const frame = (
    await standingFrames(stores, tag, async (ledger) => ({ from: await ledger.startOfLast(1, from, to), to }))
  ).at(-1);
  return frame ? { frame, index: frame.times.length - 1 } : null;
}

function removalOf(tag: number, times: readonly number[]): Frame {
  const frame = emptyFrame(times.length, { tags: true });
  frame.tags!.fill(tag);
  frame.times.set(times);
  frame.values.fill(NaN);
  frame.status.fill(REMOVED);
  return frame;
}

/** So many values at most stand in the logbook; the modified history has all of them. */
const MOST_SAID = 50;
/** Beyond such a stretch what stood before is not looked up for the logbook. */
const LONGEST_SAID = 86_400_000_000;

const aboutTag = ({ id, name }: TagRow) => ({ kind: 'tag', item: id, name });

const saidOf = (frames: readonly Frame[]): Plain =>
  frames
    .flatMap(({ times, values, status }) =>
      Array.from(times, (time, i): Plain => ({
        time: formatInstant(time),
        value: Number.isFinite(values[i]) ? values[i]! : String(values[i]),
        status: status[i]!,
      })),
    )
    .slice(0, MOST_SAID);

/** What stood at the times of a correction; null where that is too much to look up. */
async function standingBefore(stores: Stores, tag: TagRow, frames: readonly Frame[]): Promise<Plain | null> {
  const times = new Set(frames.flatMap((frame) => [...frame.times]));
  const [from, to] = [Math.min(...times), Math.max(...times) + 1];
  if (times.size === 0 || times.size > MOST_SAID || to - from > LONGEST_SAID) return null;
  const standing = await standingFrames(stores, tag, { from, to });
  return saidOf(standing.map((frame) => selectSamples(frame, (i) => times.has(frame.times[i]!))));
}
