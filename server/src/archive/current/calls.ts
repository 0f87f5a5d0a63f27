import { Calls, Lane, badRequest } from '../../ground/index.ts';
import { z } from 'zod';
import { visitorOf } from '../../people/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import type { CurrentValues } from './currentValues.ts';
import { LiveStream } from './liveStream.ts';

/** Tags that one stream follows: more than any screen shows. */
const MOST_TAGS = 1000;
const STREAMS = { most: 1000, ofOne: 50, patience: 0 };

const liveQuery = z.object({ tags: z.string().default('').meta({ description: 'numbers of tags, with commas' }) });

/** Current values as server-sent events: first what is known of the tags asked for, then what changes. */
export function liveCalls(catalogue: Catalogue, current: CurrentValues): Calls {
  const calls = new Calls();
  const lane = new Lane('streams of current values', STREAMS);
  calls.on(
    {
      method: 'get',
      path: '/live',
      needs: 'read',
      says: 'Current values as server-sent events',
      query: liveQuery,
      answer: 'events',
    },
    async (request, response) => {
      const wanted = new Set(liveQuery.parse(request.query).tags.split(',').filter(Boolean).map(Number));
      if (wanted.size > MOST_TAGS)
        throw badRequest(`tags: ${wanted.size} tags; at most ${MOST_TAGS} are followed at once.`);
      const rows = [...wanted].map(catalogue.tagById).filter((row) => row !== undefined);
      const leave = await lane.enter(visitorOf(request).name);
      response.once('close', leave);
      await current.recall(rows);
      const stream = new LiveStream(response, (tag) => {
        const row = catalogue.tagById(tag);
        return row ? current.toLive(row) : null;
      });
      stream.send(rows.map(({ id }) => id));
      const stop = current.listen((changed) => stream.send([...changed.keys()].filter((tag) => wanted.has(tag))));
      response.once('close', stop);
    },
  );
  return calls;
}
