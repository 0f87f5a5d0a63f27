/** Writes the demo's configuration and past through the server's public interface; goes on where it was broken off. */
import { MINUTE, formatInstant, parseInstant } from '@wide-ledger/core';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { setTimeout as wait } from 'node:timers/promises';
import { KILNBANK } from '../plant/kilnbank/controller.ts';
import type { Point } from '../plant/points.ts';
import { THORNMERE } from '../plant/thornmere.ts';
import { THORNMERE_CONTROLLER } from '../plant/thornmereController.ts';
import { untilAllAnswer } from './answering.ts';
import { chaptersOf, frameOf, outageMarks, pastStart, pastWatches } from './chapters.ts';
import type { ServerCalls } from './delivery.ts';
import { computedTags } from './computed.ts';
import { controllerSource, controllerTags } from './controllers.ts';
import { itselfSource, itselfTags } from './itself.ts';
import { pastOutages } from './story.ts';

/** So many deliver at a time: the server commits one entry while the next is made. */
const AT_A_TIME = 2;
const REPORT_EVERY = 12;

/** How a point is described to the server as a tag. */
export function tagOf(point: Point, inForceSince: string | undefined, source: string): object {
  const { tag, area, address, register, order, scaling, intervalMilliseconds, at: _formula, ...rest } = point;
  const { deadband = { kind: 'none' }, longestSilenceSeconds = null, ...described } = rest;
  return {
    name: tag,
    ...described,
    inForceSince,
    collection: {
      source,
      address: { area, address, type: register, order },
      intervalMilliseconds,
      aligned: true,
      scaling,
      deadband,
      longestSilenceSeconds,
    },
  };
}

/** What the demo has beside the plant's own past: where the other devices are, and who reads them. */
export interface Present {
  readonly kilnbankPort: number;
  readonly thornmerePort: number;
  /** The name of the collector. */
  readonly collector: string;
}

/** Sources and tags of the demo; those that exist are left as they are. */
async function configure(
  calls: Pick<ServerCalls, 'json' | 'entry'>,
  connection: object,
  present: Present | null,
): Promise<void> {
  // While others start, those that are there already answer late.
  if (present !== null) await untilAllAnswer([present.kilnbankPort, present.thornmerePort]);
  await calls.json('PUT', '/sources', { name: THORNMERE.name, kind: 'modbus-tcp', connection });
  const inForceSince = formatInstant(pastStart(Date.now() * 1000) + 2 * MINUTE);
  const tags = THORNMERE.points.map((point) => tagOf(point, inForceSince, THORNMERE.name));
  if (present !== null) {
    const { kilnbankPort, thornmerePort, collector } = present;
    await calls.json('PUT', '/sources', controllerSource(KILNBANK, kilnbankPort));
    await calls.json('PUT', '/sources', controllerSource(THORNMERE_CONTROLLER, thornmerePort));
    await calls.json('PUT', '/sources', itselfSource(collector));
    tags.push(...controllerTags(KILNBANK), ...controllerTags(THORNMERE_CONTROLLER), ...itselfTags(collector));
  }
  await calls.json('POST', '/tags', tags);
  // Of tags that are there.
  if (present !== null) await calls.json('POST', '/tags', computedTags());
}

interface CoverageRows {
  rows: { sourceId: number; spans: { from: string }[] }[];
}

/** The moment at which the first watch of a source starts: the past ends there. Without a collector, now. */
async function presentBegins(calls: Pick<ServerCalls, 'json' | 'entry'>, source: number): Promise<number> {
  for (let attempt = 0; attempt < 40; attempt++) {
    const { rows } = await calls.json<CoverageRows>('GET', '/coverage?from=now-1h&to=now');
    const starts = rows.flatMap(({ sourceId, spans }) =>
      sourceId === source && spans[0] ? [parseInstant(spans[0].from)!] : [],
    );
    if (starts.length > 0) return Math.min(...starts);
    await wait(250);
  }
  return Date.now() * 1000;
}

interface KnownTag {
  readonly id: number;
  readonly name: string;
  readonly sourceId: number;
}

/** Every tag of the site, page by page: people may have made thousands beside those of the demo. */
async function allTags(calls: Pick<ServerCalls, 'json'>): Promise<KnownTag[]> {
  const tags: KnownTag[] = [];
  for (let cursor = '0'; ;) {
    const page = await calls.json<{ tags: KnownTag[]; next?: string }>('GET', `/tags?limit=1000&cursor=${cursor}`);
    tags.push(...page.tags);
    if (page.next === undefined) return tags;
    cursor = page.next;
  }
}

/** The source that the past is of. */
const thornmereOf = (tags: readonly KnownTag[]): number =>
  tags.find((tag) => tag.name === THORNMERE.points[0]!.tag)!.sourceId;

/** Seeds the demo. `noteFile` remembers where the past ends, so that a second start continues the same past. */
export async function seedPast(
  calls: Pick<ServerCalls, 'json' | 'entry'>,
  connection: object,
  noteFile: string,
  present: Present | null = null,
): Promise<void> {
  if (!existsSync(noteFile)) {
    await configure(calls, connection, present);
    const now = await presentBegins(calls, thornmereOf(await allTags(calls)));
    writeFileSync(noteFile, JSON.stringify({ now }));
  }
  const { now } = JSON.parse(readFileSync(noteFile, 'utf8')) as { now: number };
  const tags = await allTags(calls);
  const ids = new Map(tags.map((tag) => [tag.name, tag.id]));
  const source = thornmereOf(tags);
  const points = THORNMERE.points.filter((point) => ids.has(point.tag));
  const chapters = chaptersOf(points, now);
  const corrections = chapters.splice(-2);

  await calls.entry(
    {
      writer: 'past',
      sequence: 1,
      origin: 'live',
      watches: pastWatches(now).map(({ from, to, origin }) => ({ source, version: 1, from, to, origin })),
      outages: pastOutages(now).map(({ from, to, cause, sentence, code }) => ({
        source,
        tag: null,
        from,
        to,
        cause,
        sentence,
        code,
        recoverable: false,
      })),
    },
    // Only the plant's own points: a tag that a person made meanwhile has no such past.
    outageMarks(
      points.map(({ tag }) => ids.get(tag)!),
      now,
    ),
  );

  const total = chapters.length + corrections.length;
  let done = 0;
  let stop = false;
  const report = async (state: 'running' | 'stopped' | 'done'): Promise<void> => {
    const answer = await calls.json<{ stop: boolean }>('PUT', '/jobs', {
      key: 'demo-past',
      title: 'Writing the demo’s past',
      state,
      done,
      total,
      unit: 'entries',
      sentence:
        state === 'done'
          ? 'Thirteen months of one-minute values and three days of one-second values are in the ledger.'
          : '',
    });
    stop = answer.stop;
  };
  await report('running');
  const deliver = async (writer: string, mine: typeof chapters): Promise<void> => {
    const { sequence: delivered } = await calls.json<{ sequence: number }>('GET', `/entries/position?writer=${writer}`);
    for (const [index, chapter] of mine.entries()) {
      if (stop) return;
      const sequence = index + 1;
      if (sequence > delivered) {
        const frame = frameOf(chapter, ids.get(chapter.point.tag)!, now);
        await calls.entry({ writer, sequence, origin: chapter.origin }, frame.times.length > 0 ? frame : null);
      }
      done++;
      if (done % REPORT_EVERY === 0) await report('running');
    }
  };
  // A writer's values are in the order of their time; the newest stretch comes first, so each has a writer of its own.
  const stretches = [...new Set(chapters.map(({ from }) => from))];
  const deliverNext = async (): Promise<void> => {
    for (let from = stretches.shift(); from !== undefined; from = stretches.shift())
      await deliver(
        `past/${from}`,
        chapters.filter((chapter) => chapter.from === from),
      );
  };
  await Promise.all(Array.from({ length: AT_A_TIME }, deliverNext));
  // The correction has to come after what it corrects.
  await deliver('past/corrections', corrections);
  await report(stop ? 'stopped' : 'done');
}
