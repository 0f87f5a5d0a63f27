import {
  atAnswer,
  atQuery,
  computedAnswer,
  computedQuery,
  envelopeAnswer,
  envelopeQuery,
  modifiedAnswer,
  modifiedQuery,
  processedAnswer,
  processedQuery,
  rawAnswer,
  rawQuery,
  tableAnswer,
  tableQuery,
  type Format,
} from '@wide-ledger/contract';
import type { Request, Response } from 'express';
import { z } from 'zod';
import type { Coverage } from '../coverage/coverage.ts';
import { findTag, type Catalogue } from '../../configuration/index.ts';
import { Calls, badRequest, echoWindow, forwardWindow, resolveWindow } from '../../ground/index.ts';
import type { AskedTags } from './askedTags.ts';
import { MEDIA_TYPES } from './formats/write.ts';
import type { ReadingPool } from './pool.ts';
import { sendReading } from './sending.ts';
import type { AskedRequest } from './requests.ts';
import { checkAggregates, cutFor, resolveTimes, unitOf } from './rules.ts';

/** The four ways of reading history (OPC 10000-11), and what a trend draws. */
export function readingCalls(catalogue: Catalogue, coverage: Coverage, asked: AskedTags, pool: ReadingPool): Calls {
  const calls = new Calls();

  /** Answers in the format that is asked for; everything but JSON is a file of that name. */
  const answer = (request: Request, response: Response, reading: Unlaid, name?: string): Promise<void> => {
    const format = formatOf(request);
    return sendReading(pool, request, response, { ...reading, ...PLAIN, format }, format === 'json' ? undefined : name);
  };

  calls.on(
    {
      method: 'get',
      path: '/history/raw',
      needs: 'read',
      says: 'Samples as they were archived',
      query: rawQuery,
      answer: rawAnswer,
      example: { query: { tag: 'D1', from: 'now-1d', to: 'now', limit: '100' } },
    },
    async (request, response) => {
      const query = rawQuery.parse(request.query);
      const window = forwardWindow(query);
      const newestFirst = query.order === 'newest';
      const cursor = query.cursor ? z.coerce.number().int().parse(query.cursor) : null;
      const tags = [await asked.one(query.tag)];
      await answer(
        request,
        response,
        {
          kind: 'raw',
          tags,
          from: newestFirst ? window.from : (cursor ?? window.from),
          to: newestFirst ? (cursor ?? window.to) : window.to,
          bounds: query.bounds && cursor === null && !newestFirst,
          newestFirst,
          limit: query.limit,
          echo: { tag: tags[0]!.name, ...echoWindow(window) },
        },
        tags[0]!.name,
      );
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/history/processed',
      needs: 'read',
      says: 'An aggregate of OPC 10000-13 per interval',
      query: processedQuery,
      answer: processedAnswer,
      example: { query: { tag: 'D1', aggregate: 'TimeAverage', interval: 'PT1H', from: 'now-1d', to: 'now' } },
    },
    async (request, response) => {
      const query = processedQuery.parse(request.query);
      const window = resolveWindow(query);
      const tags = [await asked.one(query.tag, query)];
      const { aggregate, interval, zone, label } = query;
      checkAggregates(tags, [aggregate]);
      await answer(
        request,
        response,
        {
          kind: 'processed',
          tags,
          aggregates: [aggregate],
          cut: cutFor(window, interval, zone),
          labelAtEnd: label === 'end',
          names: null,
          single: true,
          echo: { tag: tags[0]!.name, aggregate, ...echoWindow(window), interval, zone, label },
        },
        `${tags[0]!.name}-${aggregate}`,
      );
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/history/table',
      needs: 'read',
      says: 'Aggregates of several tags over the same intervals',
      query: tableQuery,
      answer: tableAnswer,
      example: {
        query: {
          tags: 'D1',
          aggregates: 'Minimum,Maximum',
          interval: 'P1D',
          zone: 'Europe/Berlin',
          from: 'now-1d',
          to: 'now',
        },
      },
    },
    async (request, response) => {
      const query = tableQuery.parse(request.query);
      const window = resolveWindow(query);
      const tags = await asked.many(query.tags, query);
      const { aggregates, interval, zone } = query;
      checkAggregates(tags, aggregates);
      await answer(request, response, {
        kind: 'processed',
        tags,
        aggregates,
        cut: cutFor(window, interval, zone),
        labelAtEnd: false,
        names: null,
        single: false,
        echo: { ...echoWindow(window), interval, zone },
      });
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/history/computed',
      needs: 'read',
      says: 'Counters, integrals, rates of change, state times, time on',
      query: computedQuery,
      answer: computedAnswer,
      example: { query: { tag: 'D1', computation: 'integral', interval: 'P1D', from: 'now-1d', to: 'now' } },
    },
    async (request, response) => {
      const query = computedQuery.parse(request.query);
      const window = forwardWindow(query);
      const tag = await asked.one(query.tag);
      if (tag.type === 'text') throw badRequest(`${tag.name} keeps text, and this needs numbers or states.`);
      const { computation, interval, zone } = query;
      const own = (await findTag(catalogue, query.tag)).counter;
      const counter = {
        rollOver: query.rollOver ?? own?.rollOver ?? null,
        largestStep: query.largestStep ?? own?.largestStep ?? null,
      };
      const { unit, factor } = await unitOf(computation, tag, query.unit);
      const echo = { tag: tag.name, computation, unit, ...echoWindow(window), interval, zone };
      const cut = cutFor(window, interval, zone);
      await answer(
        request,
        response,
        {
          kind: 'computed',
          tags: [tag],
          computation,
          cut,
          counter,
          factor,
          echo,
        },
        `${tag.name}-${computation}`,
      );
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/history/at',
      needs: 'read',
      says: 'Interpolated values at given times',
      query: atQuery,
      answer: atAnswer,
      example: { query: { tag: 'D1', times: 'now-2h,now-1h' } },
    },
    async (request, response) => {
      const { tag: name, times } = atQuery.parse(request.query);
      const instants = resolveTimes(times);
      const tags = [await asked.one(name)];
      const echo = { tag: tags[0]!.name };
      await answer(request, response, { kind: 'at', tags, times: instants, echo }, `${name}-at`);
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/history/modified',
      needs: 'read',
      says: 'What was replaced or removed: old values with when, by whom and why',
      query: modifiedQuery,
      answer: modifiedAnswer,
      example: { query: { tag: 'D1', from: 'now-1d', to: 'now' } },
    },
    async (request, response) => {
      const query = modifiedQuery.parse(request.query);
      const window = resolveWindow(query);
      const tags = [await asked.one(query.tag)];
      const echo = { tag: tags[0]!.name, ...echoWindow(window) };
      await answer(request, response, { kind: 'modified', tags, ...window, echo }, `${query.tag}-modified`);
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/history/envelope',
      needs: 'read',
      says: 'Least and greatest per pixel column, with gaps',
      query: envelopeQuery,
      answer: envelopeAnswer,
      example: { query: { tag: 'D1', columns: '800', from: 'now-1d', to: 'now' } },
    },
    async (request, response) => {
      const query = envelopeQuery.parse(request.query);
      const tag = await findTag(catalogue, query.tag);
      const window = resolveWindow(query);
      const gaps = await coverage.gapsOf(tag, window);
      const echo = {
        tag: tag.name,
        from: window.from / 1000,
        to: window.to / 1000,
        gaps: gaps.map(({ from, to, sentence }) => ({ from: from / 1000, to: to / 1000, sentence })),
      };
      const tags = [await asked.one(tag.name)];
      await sendReading(pool, request, response, {
        kind: 'envelope',
        tags,
        ...window,
        columns: query.columns,
        ...PLAIN,
        format: 'json',
        echo,
      });
    },
  );

  return calls;
}

/** How an answer about what was asked for by name is laid out: it does not repeat a tag's name in every row. */
const PLAIN = { layout: 'table', named: false, localZone: null } as const;

/** What to read, without how it is laid out. */
type Unlaid = Without<AskedRequest, 'format' | keyof typeof PLAIN>;
type Without<Request, Keys extends PropertyKey> = Request extends unknown ? Omit<Request, Keys> : never;

/** The format that the request's Accept header prefers. */
function formatOf(request: Request): Format {
  const chosen = request.accepts(Object.values(MEDIA_TYPES).map((type) => type.split(';')[0]!));
  const [format] = Object.entries(MEDIA_TYPES).find(([, type]) => type.startsWith(String(chosen))) ?? ['json'];
  return format as Format;
}
