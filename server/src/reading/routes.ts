import {
  atQuery,
  envelopeQuery,
  processedQuery,
  rawQuery,
  type EnvelopeAnswer,
  type RawAnswer,
} from '@wide-ledger/contract';
import {
  DEFAULT_CONFIGURATION,
  TEXT_AGGREGATES,
  computeAggregate,
  cutIntoBuckets,
  envelopeOf,
  firstAtOrAfter,
  interpolatedBound,
  isValidConfiguration,
  originName,
  parseInterval,
  resolveTime,
  seriesOf,
  textAt,
  type AggregateConfiguration,
  type AggregateName,
} from '@wide-ledger/core';
import { Router } from 'express';
import { z } from 'zod';
import type { Guard } from '../access/guard.ts';
import type { Coverage } from '../coverage/coverage.ts';
import type { Database } from '../database/connect.ts';
import { badRequest } from '../http/problem.ts';
import type { Catalogue, TagRow } from '../tags/store.ts';
import { presentSample, presentValue } from './present.ts';
import { echoWindow, findTag, nowMicros, resolveWindow, sendRows } from './query.ts';
import { loadFrame, pageEnd } from './series.ts';

/** Aggregates whose result is a value of the tag itself, to be shown in the tag's own type. */
const OWN_VALUE: ReadonlySet<AggregateName> = new Set<AggregateName>([
  'Interpolative',
  'Start',
  'End',
  'StartBound',
  'EndBound',
  'Minimum',
  'Maximum',
  'MinimumActualTime',
  'MaximumActualTime',
  'Minimum2',
  'Maximum2',
  'MinimumActualTime2',
  'MaximumActualTime2',
]);

/** The four ways of reading history (OPC 10000-11) but the modified one, and what a trend draws. */
export function readingRoutes(database: Database, catalogue: Catalogue, coverage: Coverage, guard: Guard): Router {
  const router = Router();
  router.use('/history', guard.needs('read'));

  /** Where a tag's data end: its last sample, or the end of the watch that goes on beyond it. */
  const watchedUntil = (tag: TagRow): Promise<number> =>
    tag.sourceId === null ? Promise.resolve(-Infinity) : coverage.watchedUntil(tag.sourceId);

  router.get('/history/raw', async (request, response) => {
    const query = rawQuery.parse(request.query);
    const tag = await findTag(catalogue, query.tag);
    const window = resolveWindow(query);
    const from = query.cursor ? z.coerce.number().int().parse(query.cursor) : window.from;
    if (window.to < window.from) throw badRequest('The window is upside down: from lies after to.');
    const until = await pageEnd(database, tag.id, from, window.to, query.limit + 1);
    const frame = await loadFrame(database, tag.id, from, until);
    let first = firstAtOrAfter(frame.times, from);
    let end = firstAtOrAfter(frame.times, until);
    const more = end - first > query.limit || until < window.to;
    end = Math.min(end, first + query.limit);
    const next = more ? { next: String(end < frame.times.length ? frame.times[end]! : until) } : {};
    if (query.bounds && !query.cursor && frame.times[first] !== from && first > 0) first--;
    if (query.bounds && !more && end < frame.times.length) end++;
    const samples: RawAnswer['samples'] = [];
    for (let i = first; i < end; i++) {
      const sample = presentSample(tag, frame.times[i]!, frame.values[i]!, textAt(frame, i), frame.status[i]!);
      samples.push({ ...sample, origin: originName(frame.origins![i]!) });
    }
    sendRows(
      request,
      response,
      { tag: tag.name, ...echoWindow(window), samples, ...next },
      samples,
      ['time', 'value', 'status', 'quality', 'origin'],
      tag.name,
    );
  });

  router.get('/history/processed', async (request, response) => {
    const query = processedQuery.parse(request.query);
    const tag = await findTag(catalogue, query.tag);
    const window = resolveWindow(query);
    const interval = parseInterval(query.interval);
    if (!interval)
      throw badRequest(`interval: "${query.interval}" is no ISO 8601 duration of one kind, such as PT1H, P1D or P1M.`);
    if (tag.type === 'text' && !TEXT_AGGREGATES.has(query.aggregate)) {
      throw badRequest(
        `${tag.name} keeps text, and ${query.aggregate} needs numbers. Text has ${[...TEXT_AGGREGATES].join(', ')}.`,
        'Bad_AggregateNotSupported',
      );
    }
    const configuration = configurationFor(tag, query);
    const buckets = bucketsFor(window, interval, query.zone);
    const frame = await loadFrame(database, tag.id, Math.min(window.from, window.to), Math.max(window.from, window.to));
    const series = seriesOf(frame, await watchedUntil(tag));
    const rows = computeAggregate(series, buckets, query.aggregate, configuration).map(({ time, value, status }) => {
      const own = OWN_VALUE.has(query.aggregate);
      const shown = own
        ? presentValue(tag, value, Number.isNaN(value) ? null : (frame.texts[value] ?? null))
        : presentValue({ type: 'real', states: null }, value, null);
      return { ...presentSample(tag, time, value, null, status), value: shown };
    });
    const body = {
      tag: tag.name,
      aggregate: query.aggregate,
      ...echoWindow(window),
      interval: query.interval,
      zone: query.zone,
      rows,
    };
    sendRows(request, response, body, rows, ['time', 'value', 'status', 'quality'], `${tag.name}-${query.aggregate}`);
  });

  router.get('/history/at', async (request, response) => {
    const { tag: name, times } = atQuery.parse(request.query);
    const tag = await findTag(catalogue, name);
    const now = nowMicros();
    const instants = times.map((text) => {
      const time = resolveTime(text, now);
      if (time === undefined)
        throw badRequest(`times: "${text}" is neither a date-time with its offset nor a relative one, such as now-6h.`);
      return time;
    });
    const frame = await loadFrame(database, tag.id, Math.min(...instants), Math.max(...instants) + 1);
    const series = seriesOf(frame, await watchedUntil(tag));
    const configuration = configurationFor(tag, {});
    const samples = instants.map((time) => {
      const { value, status } = interpolatedBound(series, time, configuration);
      return presentSample(tag, time, value, Number.isNaN(value) ? null : (frame.texts[value] ?? null), status);
    });
    sendRows(
      request,
      response,
      { tag: tag.name, samples },
      samples,
      ['time', 'value', 'status', 'quality'],
      `${tag.name}-at`,
    );
  });

  router.get('/history/envelope', async (request, response) => {
    const query = envelopeQuery.parse(request.query);
    const tag = await findTag(catalogue, query.tag);
    const window = resolveWindow(query);
    const [frame, gaps] = await Promise.all([
      loadFrame(database, tag.id, window.from, window.to),
      coverage.gapsOf(tag, window),
    ]);
    const envelope = envelopeOf(frame, window.from, window.to, query.columns);
    const answer: EnvelopeAnswer = {
      tag: tag.name,
      from: window.from / 1000,
      to: window.to / 1000,
      samples: frame.times.length,
      times: Array.from(envelope.times, (time) => time / 1000),
      values: Array.from(envelope.values, (value) => (Number.isFinite(value) ? value : null)),
      gaps: gaps.map(({ from, to, sentence }) => ({ from: from / 1000, to: to / 1000, sentence })),
    };
    response.json(answer);
  });
  return router;
}

type ConfigurationOverride = { [Key in keyof AggregateConfiguration]?: AggregateConfiguration[Key] | undefined };

function configurationFor(tag: TagRow, override: ConfigurationOverride): AggregateConfiguration {
  const configuration = {
    stepped: override.stepped ?? tag.stepped,
    treatUncertainAsBad: override.treatUncertainAsBad ?? DEFAULT_CONFIGURATION.treatUncertainAsBad,
    percentDataBad: override.percentDataBad ?? DEFAULT_CONFIGURATION.percentDataBad,
    percentDataGood: override.percentDataGood ?? DEFAULT_CONFIGURATION.percentDataGood,
    useSlopedExtrapolation: override.useSlopedExtrapolation ?? DEFAULT_CONFIGURATION.useSlopedExtrapolation,
  };
  if (!isValidConfiguration(configuration)) {
    throw badRequest(
      'percentDataGood has to be at least 100 − percentDataBad, both between 0 and 100.',
      'Bad_AggregateInvalidInputs',
    );
  }
  return configuration;
}

function bucketsFor(
  window: { from: number; to: number },
  interval: Parameters<typeof cutIntoBuckets>[2],
  zone: string,
): ReturnType<typeof cutIntoBuckets> {
  try {
    return cutIntoBuckets(window.from, window.to, interval, zone);
  } catch (error) {
    if (error instanceof RangeError) throw badRequest(error.message, 'Bad_InvalidArgument');
    throw error;
  }
}
