import {
  atQuery,
  computedQuery,
  envelopeQuery,
  exportQuery,
  modifiedQuery,
  processedQuery,
  rawQuery,
  tableQuery,
  type Format,
} from '@wide-ledger/contract';
import { parseInterval } from '@wide-ledger/core';
import { Router, type Request, type Response } from 'express';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { z } from 'zod';
import type { Guard } from '../../people/index.ts';
import type { Coverage } from '../coverage/coverage.ts';
import { findTag, type Catalogue } from '../../configuration/index.ts';
import { badRequest, echoWindow, resolveWindow } from '../../ground/index.ts';
import { MEDIA_TYPES } from './formats/write.ts';
import type { ReadingPool } from './pool.ts';
import type { ReadRequest, ReadTag } from './requests.ts';
import { bucketsFor, checkAggregates, configurationFor, resolveTimes, unitOf, type Override } from './rules.ts';

/** The four ways of reading history (OPC 10000-11), what a trend draws, and files of all of it. */
export function readingRoutes(catalogue: Catalogue, coverage: Coverage, pool: ReadingPool, guard: Guard): Router {
  const router = Router();
  router.use('/history', guard.needs('read'));

  /** What the reading threads have to know of a tag. Its data end with its last sample, or with the watch beyond it. */
  async function readTag(name: string, override: Override = {}): Promise<ReadTag> {
    const tag = await findTag(catalogue, name);
    const watchedUntil = await coverage.watchedUntil(tag);
    const { id, type, unit, states, storeId: store } = tag;
    return {
      id,
      name: tag.name,
      type,
      unit,
      states,
      store,
      configuration: configurationFor(tag, override),
      watchedUntil,
    };
  }
  const readTags = (names: readonly string[], override: Override = {}): Promise<ReadTag[]> =>
    Promise.all(names.map((name) => readTag(name, override)));

  /** Passes an answer on as it is made; when the asker leaves, its making ends. */
  async function send(response: Response, request: ReadRequest, filename?: string): Promise<void> {
    const left = new AbortController();
    response.once('close', () => left.abort());
    const chunks = pool.read(request, left.signal);
    try {
      // Only when the first chunk is there is it sure that this is no error.
      const first = await chunks.next();
      response.type(MEDIA_TYPES[request.format]);
      if (filename) response.attachment(`${filename}.${request.format}`);
      await pipeline(
        Readable.from(
          (async function* () {
            if (!first.done) yield first.value;
            yield* chunks;
          })(),
          { objectMode: true },
        ),
        response,
      );
    } catch (error) {
      if (!left.signal.aborted) throw error;
    }
  }

  router.get('/history/raw', async (request, response) => {
    const query = rawQuery.parse(request.query);
    const window = resolveWindow(query);
    if (window.to < window.from) throw badRequest('The window is upside down: from lies after to.');
    const newestFirst = query.order === 'newest';
    const cursor = query.cursor ? z.coerce.number().int().parse(query.cursor) : null;
    const tags = [await readTag(query.tag)];
    await send(
      response,
      {
        kind: 'raw',
        tags,
        from: newestFirst ? window.from : (cursor ?? window.from),
        to: newestFirst ? (cursor ?? window.to) : window.to,
        bounds: query.bounds && cursor === null && !newestFirst,
        newestFirst,
        limit: query.limit,
        format: formatOf(request),
        layout: 'table',
        ...ALONE,
        echo: { tag: tags[0]!.name, ...echoWindow(window) },
      },
      attachedName(request, tags[0]!.name),
    );
  });

  router.get('/history/processed', async (request, response) => {
    const query = processedQuery.parse(request.query);
    const window = resolveWindow(query);
    const tags = [await readTag(query.tag, query)];
    const { aggregate, interval, zone, label } = query;
    checkAggregates(tags, [aggregate]);
    await send(
      response,
      {
        kind: 'processed',
        tags,
        aggregates: [aggregate],
        buckets: bucketsFor(window, interval, zone),
        labelAtEnd: label === 'end',
        names: null,
        single: true,
        format: formatOf(request),
        layout: 'table',
        ...ALONE,
        echo: { tag: tags[0]!.name, aggregate, ...echoWindow(window), interval, zone, label },
      },
      attachedName(request, `${tags[0]!.name}-${aggregate}`),
    );
  });

  router.get('/history/table', async (request, response) => {
    const query = tableQuery.parse(request.query);
    const window = resolveWindow(query);
    const tags = await readTags(query.tags, query);
    const { aggregates, interval, zone } = query;
    checkAggregates(tags, aggregates);
    await send(response, {
      kind: 'processed',
      tags,
      aggregates,
      buckets: bucketsFor(window, interval, zone),
      labelAtEnd: false,
      names: null,
      single: false,
      format: formatOf(request),
      layout: 'table',
      ...ALONE,
      echo: { ...echoWindow(window), interval, zone },
    });
  });

  router.get('/history/computed', async (request, response) => {
    const query = computedQuery.parse(request.query);
    const window = resolveWindow(query);
    if (window.to < window.from) throw badRequest('The window is upside down: from lies after to.');
    const tag = await readTag(query.tag);
    if (tag.type === 'text') throw badRequest(`${tag.name} keeps text, and this needs numbers or states.`);
    const { computation, interval, zone } = query;
    const own = (await findTag(catalogue, query.tag)).counter;
    const counter = {
      rollOver: query.rollOver ?? own?.rollOver ?? null,
      largestStep: query.largestStep ?? own?.largestStep ?? null,
    };
    const { unit, factor } = unitOf(computation, tag, query.unit);
    const echo = { tag: tag.name, computation, unit, ...echoWindow(window), interval, zone };
    const buckets = bucketsFor(window, interval, zone);
    await send(
      response,
      {
        kind: 'computed',
        tags: [tag],
        computation,
        buckets,
        counter,
        factor,
        format: formatOf(request),
        layout: 'table',
        ...ALONE,
        echo,
      },
      attachedName(request, `${tag.name}-${computation}`),
    );
  });

  router.get('/history/at', async (request, response) => {
    const { tag: name, times } = atQuery.parse(request.query);
    const instants = resolveTimes(times);
    const tags = [await readTag(name)];
    const format = formatOf(request);
    const echo = { tag: tags[0]!.name };
    await send(
      response,
      { kind: 'at', tags, times: instants, format, layout: 'table', ...ALONE, echo },
      attachedName(request, `${name}-at`),
    );
  });

  router.get('/history/modified', async (request, response) => {
    const query = modifiedQuery.parse(request.query);
    const window = resolveWindow(query);
    const tags = [await readTag(query.tag)];
    const echo = { tag: tags[0]!.name, ...echoWindow(window) };
    await send(
      response,
      { kind: 'modified', tags, ...window, format: formatOf(request), layout: 'table', ...ALONE, echo },
      attachedName(request, `${query.tag}-modified`),
    );
  });

  router.get('/history/envelope', async (request, response) => {
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
    const tags = [await readTag(tag.name)];
    await send(response, {
      kind: 'envelope',
      tags,
      ...window,
      columns: query.columns,
      format: 'json',
      layout: 'table',
      ...ALONE,
      echo,
    });
  });

  router.get('/history/export', async (request, response) => {
    const query = exportQuery.parse(request.query);
    const window = resolveWindow(query);
    const tags = await readTags(query.tags, query);
    const { kind, format, layout, interval, zone } = query;
    const name = tags.length === 1 ? `${tags[0]!.name}-${kind}` : `history-${kind}`;
    const common = {
      tags,
      format,
      layout,
      named: layout === 'table',
      localZone: query.localTime ? zone : null,
      echo: { tags: query.tags, ...echoWindow(window) },
    };
    if (kind === 'processed') {
      const { aggregates = ['TimeAverage'] } = query;
      checkAggregates(tags, aggregates);
      const buckets = bucketsFor(window, interval, zone);
      const names = query.intervalNames ? { interval: parseInterval(interval)!, zone } : null;
      await send(response, { ...common, kind, aggregates, buckets, names, labelAtEnd: false, single: false }, name);
    } else if (kind === 'at') {
      await send(response, { ...common, kind, times: resolveTimes(query.times ?? []) }, name);
    } else if (kind === 'modified') {
      await send(response, { ...common, kind, ...window }, name);
    } else {
      if (window.to < window.from) throw badRequest('The window is upside down: from lies after to.');
      await send(response, { ...common, kind, ...window, bounds: false, newestFirst: false, limit: null }, name);
    }
  });
  return router;
}

/** What an answer about one tag has in common: it does not repeat the tag's name in every row. */
const ALONE = { named: false, localZone: null } as const;

/** The format that the request's Accept header prefers. */
function formatOf(request: Request): Format {
  const chosen = request.accepts(Object.values(MEDIA_TYPES).map((type) => type.split(';')[0]!));
  const [format] = Object.entries(MEDIA_TYPES).find(([, type]) => type.startsWith(String(chosen))) ?? ['json'];
  return format as Format;
}

/** Everything but JSON is a file. */
const attachedName = (request: Request, name: string): string | undefined =>
  formatOf(request) === 'json' ? undefined : name;
