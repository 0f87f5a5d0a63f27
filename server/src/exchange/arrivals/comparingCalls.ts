import {
  carriedAnswer,
  carriedSamplesAsked,
  carriedTallies,
  carriedTalliesAsked,
  type CarriedTallies,
} from '@wide-ledger/contract';
import { DAY, packEntry } from '@wide-ledger/core';
import { standingOf, talliesOf, type Archive } from '../../archive/index.ts';
import type { Forcing } from '../../configuration/index.ts';
import { Calls, LARGE_JSON, badRequest } from '../../ground/index.ts';
import { visitorOf } from '../../people/index.ts';
import type { Arrivals } from './arrivals.ts';
import { numbersOf } from './declaring.ts';
import { takeHistory } from './taking.ts';

/** Bytes. */
const LARGEST_HISTORY = 64 * 1024 * 1024;

/** The far end of a comparison: what it holds of a link's tags, and taking what it lacks. */
export function comparingCalls(
  { home, catalogue }: Forcing,
  { journal, stores, reading }: Pick<Archive, 'journal' | 'stores' | 'reading'>,
  arrivals: Arrivals,
): Calls {
  const calls = new Calls();

  calls.on(
    {
      method: 'post',
      path: '/carry/tallies',
      needs: 'carry',
      says: 'What this end holds of a link’s tags, cell by cell',
      body: carriedTalliesAsked,
      takes: LARGE_JSON,
      answer: carriedTallies,
    },
    async (request, response) => {
      const visitor = visitorOf(request);
      const arrival = await arrivals.of(visitor);
      const { numbers, by, ...window } = carriedTalliesAsked.parse(request.body);
      const known = await numbersOf(home, arrival, numbers);
      await catalogue.refresh();
      const rows: CarriedTallies['rows'] = [];
      const asked = numbers.flatMap((number) => {
        const tag = catalogue.tagById(known.get(number) ?? 0);
        return tag ? [{ number, tag }] : [];
      });
      const numberOf = new Map(asked.map(({ number, tag }) => [tag.id, number]));
      const tags = asked.map(({ tag }) => tag);
      for await (const { tag, cells } of talliesOf(reading, tags, window, by, visitor.name))
        rows.push({ number: numberOf.get(tag)!, cells: cells.map((cell) => [...cell]) });
      response.json({ rows } satisfies CarriedTallies);
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/carry/samples',
      needs: 'carry',
      says: 'What this end holds of one tag of a link within a day, binary',
      query: carriedSamplesAsked,
      answer: 'file',
    },
    async (request, response) => {
      const arrival = await arrivals.of(visitorOf(request));
      const { number, from, to } = carriedSamplesAsked.parse(request.query);
      const known = await numbersOf(home, arrival, [number]);
      if (to <= from || to - from > DAY) throw badRequest('The window has to be a day at most, and not empty.');
      await catalogue.refresh();
      const tag = catalogue.tagById(known.get(number) ?? 0);
      if (!tag) throw badRequest(`Number ${number} is no tag of this link.`);
      const standing = await standingOf(stores, tag, { from, to });
      response.type('application/octet-stream').send(Buffer.from(packEntry({}, standing)));
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/carry/history',
      needs: 'carry',
      says: 'History that this end lacks, or has otherwise: binary; done again it changes nothing',
      takes: { as: 'bytes', most: LARGEST_HISTORY },
      answer: carriedAnswer,
    },
    async (request, response) => {
      const arrival = await arrivals.of(visitorOf(request));
      const body = request.body instanceof Uint8Array ? request.body : new Uint8Array(0);
      response.json(await takeHistory(home, journal, catalogue, arrival, body));
    },
  );
  return calls;
}
