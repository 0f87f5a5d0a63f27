import {
  linkCheck,
  linkCheckAsked,
  linkLog,
  linkStrips,
  linkStripsQuery,
  linkTry,
  linkTryAsked,
  networkOverlaps,
  networkRanges,
  type LinkRung,
  type LinkStrips,
  type LinkTry,
} from '@wide-ledger/contract';
import { Calls, filledWindow, idIn } from '../../ground/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import type { Archive } from '../../archive/index.ts';
import type { Arrivals } from '../arrivals/arrivals.ts';
import type { FarEnd } from './far/farEnd.ts';
import type { Links } from './links.ts';
import { overlapsOf } from './ranges.ts';
import { triedRows } from './trying.ts';

const EVENTS_SHOWN = 200;

/** The way to a far end, before and after a link is made; rows as it would get them; and what befell a link. */
export function pathCalls(
  catalogue: Catalogue,
  archive: Pick<Archive, 'stores'>,
  links: Links,
  arrivals: Arrivals,
): Calls {
  const calls = new Calls();

  calls.on(
    {
      method: 'post',
      path: '/links/check',
      needs: 'admin',
      says: 'Walk the way to a far end, rung by rung: of a link, to an address, or to another kind of far end',
      body: linkCheckAsked,
      answer: linkCheck,
    },
    async (request, response) => {
      const { link, url, to } = linkCheckAsked.parse(request.body);
      const end: FarEnd =
        link !== undefined
          ? await links.ends.of(await links.find(link))
          : await links.ends.proposed(to ? { to } : { url: url! });
      const rungs: LinkRung[] = [];
      try {
        for await (const rung of end.check()) rungs.push(rung);
      } finally {
        await end.close();
      }
      response.json({ rungs, passed: rungs.every(({ outcome }) => outcome.startsWith('passed')) });
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/links/try',
      needs: 'admin',
      says: 'Ten rows as another kind of far end would get them; nothing is sent',
      body: linkTryAsked,
      answer: linkTry,
    },
    async (request, response) => {
      response.json((await triedRows(catalogue, archive, linkTryAsked.parse(request.body))) satisfies LinkTry);
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/links/ranges',
      needs: 'read',
      says: 'Whether the address ranges of two networks that are to be joined overlap, and what to change',
      body: networkRanges,
      answer: networkOverlaps,
      example: { body: { here: ['10.1.0.0/16'], there: ['10.1.4.0/24'] } },
    },
    (request, response) => {
      const { here, there } = networkRanges.parse(request.body);
      response.json({ overlaps: overlapsOf(here, there) });
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/links/strips',
      needs: 'read',
      says: 'When links that leave from here had their far ends, and when those that arrive were heard of',
      query: linkStripsQuery,
      answer: linkStrips,
      example: { query: { from: 'now-1d', to: 'now' } },
    },
    async (request, response) => {
      const window = filledWindow(linkStripsQuery.parse(request.query));
      await catalogue.refresh();
      const ids = catalogue.links.map(({ id }) => id);
      const [rows, arriving] = await Promise.all([links.told.strips(ids, window), arrivals.strips(window)]);
      response.json({ rows, arriving } satisfies LinkStrips);
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/links/{id}/log',
      needs: 'read',
      says: 'What befell a link, the newest first',
      answer: linkLog,
    },
    async (request, response) => {
      const { id } = await links.find(idIn(request, 'id'));
      response.json({ events: await links.told.of(id, EVENTS_SHOWN) });
    },
  );
  return calls;
}
