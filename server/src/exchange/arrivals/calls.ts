import {
  carriedAnswer,
  carriedTags,
  carriedTagsAnswer,
  carryPosition,
  invitation,
  joined,
  joining,
  newInvitation,
  siteAccount,
} from '@wide-ledger/contract';
import type { Archive } from '../../archive/index.ts';
import type { Forcing } from '../../configuration/index.ts';
import { Calls, LARGE_JSON } from '../../ground/index.ts';
import { doerOf, visitorOf, type Logbook } from '../../people/index.ts';
import type { Arrivals } from './arrivals.ts';
import { declareTags } from './declaring.ts';
import { take } from './taking.ts';

/** Bytes. */
const LARGEST_STRETCH = 64 * 1024 * 1024;

/** The far end of links: inviting, joining, and what is carried. */
export function arrivalCalls(
  forcing: Forcing,
  { journal }: Pick<Archive, 'journal'>,
  arrivals: Arrivals,
  logbook: Logbook,
): Calls {
  const calls = new Calls();
  const { home, catalogue } = forcing;

  calls.on(
    {
      method: 'post',
      path: '/links/invitations',
      needs: 'admin',
      says: 'Invite a site to carry history here: a code, shown once',
      body: newInvitation,
      answer: invitation,
      example: { body: { name: 'North plant' } },
    },
    async (request, response) => {
      const { name, hours } = newInvitation.parse(request.body);
      const made = await arrivals.invite(name, hours, visitorOf(request).name);
      await logbook.note(doerOf(request), {
        act: 'invited a site',
        name,
        sentence: `A site may join as ${name} until ${made.ends}.`,
      });
      response.status(201).json(made);
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/links/join',
      needs: null,
      says: 'Join with a code: it becomes a key that may only carry',
      body: joining,
      answer: joined,
    },
    async (request, response) => {
      const { code, site } = joining.parse(request.body);
      const made = await arrivals.join(code, site);
      await logbook.note(
        { who: `site ${site.name}`, whence: request.ip ?? '' },
        {
          act: 'joined',
          name: made.name,
          sentence: `${site.name} joined as ${made.name}, and may carry history here.`,
        },
      );
      response.status(201).json(made);
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/carry/position',
      needs: 'carry',
      says: 'Where a link stands in the journal of its near end',
      answer: carryPosition,
    },
    async (request, response) => {
      response.json(await arrivals.position(await arrivals.of(visitorOf(request))));
    },
  );

  calls.on(
    {
      method: 'put',
      path: '/carry/account',
      needs: 'carry',
      says: 'How the site at a link’s near end is',
      body: siteAccount,
      answer: null,
    },
    async (request, response) => {
      await arrivals.hear(await arrivals.of(visitorOf(request)), siteAccount.parse(request.body));
      response.status(204).end();
    },
  );

  calls.on(
    {
      method: 'put',
      path: '/carry/tags',
      needs: 'carry',
      says: 'The tags that a link carries, by its own numbers',
      body: carriedTags,
      takes: LARGE_JSON,
      answer: carriedTagsAnswer,
    },
    async (request, response) => {
      const arrival = await arrivals.of(visitorOf(request));
      const { tags } = carriedTags.parse(request.body);
      response.json({ results: await declareTags(home, forcing, arrival, tags, request.ip ?? '') });
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/carry/entries',
      needs: 'carry',
      says: 'A stretch of the journal of a link’s near end: binary, all of it or nothing, in order',
      takes: { as: 'bytes', most: LARGEST_STRETCH },
      answer: carriedAnswer,
    },
    async (request, response) => {
      const arrival = await arrivals.of(visitorOf(request));
      const body = request.body instanceof Uint8Array ? request.body : new Uint8Array(0);
      const bytes = Number(request.headers['content-length'] ?? body.length);
      response.json(await take(home, journal, catalogue, arrival, arrivals.card.identity, body, bytes));
    },
  );
  return calls;
}
