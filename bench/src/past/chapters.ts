/** The demo's past cut into entries: which samples of which tags, in an order that never changes. Pure but for nothing. */
import { DAY, MINUTE, SECOND, Status, subtract, union, type Frame, type Origin, type Span } from '@wide-ledger/core';
import { normal } from '../plant/noise.ts';
import { archivedAt } from '../plant/registers.ts';
import type { Point } from '../plant/points.ts';
import { corrected, noisy, pastOutages, stuck } from './story.ts';

/** Thirteen months of one-minute values, the last three days of one-second values. */
const LENGTH = 396 * DAY;
const FINE = 3 * DAY;
const CHAPTER_SAMPLES = 20_000;

/** One entry of the past. */
export interface Chapter {
  readonly point: Point;
  readonly origin: Origin;
  readonly from: number;
  readonly to: number;
  readonly step: number;
  /** Added to every value: the error that a correction takes back. */
  readonly wrongBy: number;
}

/** Start of the past that ends at `now`, on a whole minute. */
export const pastStart = (now: number): number => Math.floor((now - LENGTH) / MINUTE) * MINUTE;

/** When the past turns from one value a minute to one a second. */
export const fineStart = (now: number): number => Math.floor((now - FINE) / MINUTE) * MINUTE;

/** What was watched live in the past, and what was recovered later. */
export function pastWatches(now: number): (Span & { origin: Origin })[] {
  const outages = pastOutages(now);
  const live = subtract([{ from: pastStart(now), to: now }], union(outages)).map((span) => ({
    ...span,
    origin: 'live' as const,
  }));
  return [...live, ...outages.flatMap(({ recovered }) => (recovered ? [recovered] : []))];
}

/** All chapters, newest first within a tag's turn, so that what people look at first is there first. */
export function chaptersOf(points: readonly Point[], now: number): Chapter[] {
  const chapters: Chapter[] = [];
  const wrong = corrected(now);
  // The beat on which the present began is the collector's.
  const lastBeat = Math.floor(now / SECOND) * SECOND;
  for (const { origin, from, to: until } of pastWatches(now)) {
    const to = Math.min(until, lastBeat);
    for (const point of points) {
      const fine = fineStart(now);
      const stretches = [
        { from, to: Math.min(to, fine), step: MINUTE },
        { from: Math.max(from, fine), to, step: Math.max(SECOND, point.intervalMilliseconds * 1000) },
      ];
      for (const { from: start, to: end, step } of stretches) {
        for (let at = Math.ceil(start / step) * step; at < end; at += CHAPTER_SAMPLES * step) {
          chapters.push({ point, origin, from: at, to: Math.min(end, at + CHAPTER_SAMPLES * step), step, wrongBy: 0 });
        }
      }
    }
  }
  chapters.sort((a, b) => b.from - a.from);
  const right = points.find((point) => point.tag === wrong.tag);
  if (right) {
    const span = { from: Math.ceil(wrong.from / MINUTE) * MINUTE, to: wrong.to, step: MINUTE };
    chapters.push({ point: right, origin: 'live', ...span, wrongBy: wrong.wrongBy });
    chapters.push({ point: right, origin: 'corrected', ...span, wrongBy: 0 });
  }
  return chapters;
}

/** The samples of a chapter, filtered as the collector would: a deadband keeps what moved. */
export function frameOf({ point, from, to, step, wrongBy }: Chapter, tag: number, now: number): Frame {
  const frozen = stuck(now);
  const loose = noisy(now);
  const times: number[] = [];
  const values: number[] = [];
  let kept = NaN;
  let keptAt = -Infinity;
  const width = point.deadband?.kind === 'absolute' ? point.deadband.width : 0;
  const silence = (point.longestSilenceSeconds ?? Infinity) * SECOND;
  for (let time = from; time < to; time += step) {
    let seconds = time / SECOND;
    if (point.tag === frozen.tag && time >= frozen.from && time < frozen.to) seconds = frozen.from / SECOND;
    let value = archivedAt(point, seconds) + wrongBy;
    if (point.tag === loose.tag && time >= loose.from && time < loose.to)
      value = Math.round((value + loose.amplitude * normal(99, seconds)) * 100) / 100;
    if (width > 0 && Math.abs(value - kept) <= width && time - keptAt < silence) continue;
    kept = value;
    keptAt = time;
    times.push(time);
    values.push(value);
  }
  return {
    tags: new Uint32Array(times.length).fill(tag),
    times: Float64Array.from(times),
    values: Float64Array.from(values),
    status: new Uint32Array(times.length).fill(Status.Good),
    origins: null,
    texts: [],
  };
}

/** Bad_NoCommunication for every tag where an outage starts that was not recovered whole, as a collector leaves it. */
export function outageMarks(tags: readonly number[], now: number): Frame {
  const starts = pastOutages(now).flatMap((outage) =>
    subtract([outage], outage.recovered ? [outage.recovered] : []).map(({ from }) => from),
  );
  const n = starts.length * tags.length;
  return {
    tags: Uint32Array.from({ length: n }, (_, i) => tags[i % tags.length]!),
    times: Float64Array.from({ length: n }, (_, i) => starts[Math.floor(i / tags.length)]!),
    values: new Float64Array(n).fill(NaN),
    status: new Uint32Array(n).fill(Status.BadNoCommunication),
    origins: null,
    texts: [],
  };
}
