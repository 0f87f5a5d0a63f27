/** What got into the archive through outages, and what is wrong with it, measured by what the plant produced. */
import type { OutageSpan, RecoverySpan, WatchSpan } from '@wide-ledger/contract';
import { REMOVED, SourceCoverage, Status, type ExplainedGap, type Recovery, type Span } from '@wide-ledger/core';
import type { Gathered, WatcherNotes } from '../src/index.ts';
import { TAGS, valueOf, type PlantDevice } from './outagePlant.ts';

/** What a collector's runs have in common: what is on its disk, and what got into the archive. */
export class Archive {
  /** Nothing can be written: the disk between here and there is full. */
  full = false;
  /** What was held meanwhile was more than memory can hold. */
  overflown = false;
  notes: WatcherNotes | null = null;
  readonly samples = new Map<number, Map<number, { value: number; status: number }>>(
    TAGS.map((tag) => [tag, new Map()]),
  );
  readonly watches: WatchSpan[] = [];
  readonly outages = new Map<string, OutageSpan>();
  private recoveries: RecoverySpan[] = [];

  take({ frames, watches, outages, recoveries }: Gathered): void {
    for (const { tags, times, values, status } of frames)
      times.forEach((time, i) => {
        const own = this.samples.get(tags![i]!)!;
        if (status[i] === REMOVED) own.delete(time);
        else own.set(time, { value: values[i]!, status: status[i]! });
      });
    this.watches.push(...watches);
    for (const outage of outages) this.outages.set(`${outage.tag} ${outage.from}`, outage);
    for (const span of recoveries) {
      this.recoveries.push(span);
      if (span.outcome === 'settled')
        this.recoveries = this.recoveries.filter(
          (one) => one.outcome !== 'wanted' || one.tag !== span.tag || one.from < span.from || one.to > span.to,
        );
    }
  }

  /** What the archive says is missing of a tag between two moments, by the collector's clock. */
  missing(tag: number, window: Span): ExplainedGap[] {
    const coverage = new SourceCoverage(window, {
      watches: this.watches.map((watch) => ({ ...watch, origin: 'live' as const })),
      outages: [...this.outages.values()].map((outage) => ({
        ...outage,
        tag: outage.tag ?? 0,
        to: outage.to ?? window.to,
      })),
      recoveries: this.recoveries.map((span) => ({ ...span, tag: span.tag ?? 0 }) as Recovery),
      explanations: [],
      groups: [{ spans: [window], tags: TAGS }],
      until: window.to,
    });
    return coverage.gapsOf(tag, [window]).filter(({ state }) => state !== 'recovered');
  }

  /** The value that stands at a moment: what a trend would draw. */
  standing(tag: number, time: number): { value: number; status: number } | undefined {
    let best = -Infinity;
    for (const at of this.samples.get(tag)!.keys()) if (at <= time && at > best) best = at;
    return this.samples.get(tag)!.get(best);
  }
}

/** What is wrong with an archive, measured by what the plant produced; nothing, where all is well. */
export function faultsOf(archive: Archive, device: PlantDevice, window: Span): string[] {
  const faults: string[] = [];
  const shift = device.clockError * 1000;
  for (const tag of TAGS) {
    const own = archive.samples.get(tag)!;
    const missing = archive.missing(tag, window);
    const edge = 1_100_000;
    const gaps = missing.map(({ from, to }) => ({ from: from - edge, to: to + edge }));
    for (const second of device.seconds) {
      const time = second * 1e6;
      const here = time - shift;
      if (here < window.from || here >= window.to) continue;
      const kept = own.get(time);
      if (kept) {
        if (kept.value !== valueOf(tag, second)) faults.push(`${tag} at ${second}: ${kept.value} is no value of it`);
      } else if (!gaps.some(({ from, to }) => here >= from && here < to))
        faults.push(`${tag} at ${second} is missing, and no gap says so`);
    }
    for (const [time, { value, status }] of own)
      if (status === Status.Good && !device.seconds.has(time / 1e6))
        faults.push(`${tag} at ${time}: ${value} was never measured`);
    for (const [time, { status }] of own)
      if (status !== Status.Good && !gaps.some(({ from, to }) => time - shift >= from && time - shift < to))
        if (time - shift >= window.from && time - shift < window.to)
          faults.push(`${tag} at ${time} says that there is no value, and nothing is missing there`);
    // What it still holds could have been had.
    for (const second of device.held(tag)) {
      const here = second * 1e6 - shift;
      if (here >= window.from && here < window.to && !own.has(second * 1e6))
        faults.push(`${tag} at ${second} is still held by the device, and missing`);
    }
    for (const gap of missing) {
      if (gap.to - gap.from < 2_000_000) continue;
      const standing = archive.standing(tag, (gap.from + gap.to) / 2 + shift);
      if (standing?.status === Status.Good)
        faults.push(
          `${tag}: in the gap ${gap.from} to ${gap.to} the value ${standing.value} stands as if it were measured`,
        );
      if (gap.sentence === '') faults.push(`${tag}: the gap ${gap.from} to ${gap.to} does not say why`);
      if (gap.state === 'being recovered') faults.push(`${tag}: the gap ${gap.from} to ${gap.to} is never settled`);
    }
  }
  return faults;
}
