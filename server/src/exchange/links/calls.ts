import {
  linkChange,
  linkNames,
  linkNamesAsked,
  linksAnswer,
  newLink,
  sendingLink,
  type Joined,
  type LinkNames,
} from '@wide-ledger/contract';
import { carriedKinds, chosenTags, farNames, type Body } from '@wide-ledger/core';
import { newIds, type Forcing, type Secrets } from '../../configuration/index.ts';
import { Calls, badRequest, idIn } from '../../ground/index.ts';
import { doerOf, type Logbook } from '../../people/index.ts';
import type { Arrivals } from '../arrivals/arrivals.ts';
import { FarAway } from './far/farEnd.ts';
import { LONGEST_KEPT_DAYS, type Links } from './links.ts';

/** Names that are shown side by side; the counts are of all. */
const MOST_NAMES = 5_000;

/** @throws ProblemError 400 with what the far end, or the way to it, said. */
const joinAt = (url: string, code: string, { ends }: Links): Promise<Joined> =>
  ends.join(url, code).catch((error: unknown) => {
    throw error instanceof FarAway ? badRequest(error.message, 'NOT_JOINED') : error;
  });

/** The near end of links, and how links of both ends stand. */
export function linkCalls(
  forcing: Forcing,
  secrets: Secrets,
  links: Links,
  arrivals: Arrivals,
  logbook: Logbook,
): Calls {
  const calls = new Calls();
  const { catalogue } = forcing;

  calls.on(
    {
      method: 'get',
      path: '/links',
      needs: 'read',
      says: 'Links that leave from here and that arrive here, with how they stand',
      answer: linksAnswer,
      example: {},
    },
    async (_request, response) => {
      const [sending, arriving] = await Promise.all([links.list(), arrivals.list()]);
      response.json({ sending, arriving, keptDays: LONGEST_KEPT_DAYS });
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/links',
      needs: 'admin',
      says: 'Make a link to a site that invited this one: what comes from now on is carried',
      body: newLink,
      answer: sendingLink,
    },
    async (request, response) => {
      const { name, url, code, to, ...rest } = newLink.parse(request.body);
      await catalogue.refresh();
      if (catalogue.links.some((link) => link.name === name))
        throw badRequest(`There is a link named ${name}. Choose another name.`);
      const by = doerOf(request);
      let body: Body = { name, url: '', key: null, to: to ?? null, ...(rest as Body), paused: false };
      let sentence = `To ${to?.kind}.`;
      if (to === undefined) {
        const joined = await joinAt(url!, code!, links);
        body = { ...body, url: url!, key: await secrets.keep(joined.key, by.who) };
        sentence = `To ${joined.site.name}, which knows it as ${joined.name}.`;
      }
      const [id] = await newIds(forcing.home, 'link', 1);
      await links.begins(id!);
      await forcing.force({ by, reason: sentence, wishes: [{ kind: 'link', id: id!, base: null, body }] });
      await logbook.note(by, { act: 'made a link', name, sentence });
      await links.told.note(id!, 'made', `Made by ${by.who}. ${sentence}`);
      links.attend();
      response.status(201).json((await links.list()).find((link) => link.id === id));
    },
  );

  calls.on(
    {
      method: 'patch',
      path: '/links/{id}',
      needs: 'admin',
      says: 'Change a link: pause it, let it go on, what it carries, where it leads, or its key by another invitation',
      body: linkChange,
      answer: sendingLink,
    },
    async (request, response) => {
      const { code, ...change } = linkChange.parse(request.body);
      const id = idIn(request, 'id');
      const link = await links.find(id);
      const by = doerOf(request);
      const base = link.body as unknown as Body;
      let body: Body = { ...base, ...(change as Body) };
      if (code !== undefined) {
        const joined = await joinAt(change.url ?? link.body.url, code, links);
        await links.refuseAnother(id, joined.site);
        body = { ...body, key: await secrets.keep(joined.key, by.who) };
      }
      const what = [...Object.keys(change), ...(code === undefined ? [] : ['key'])];
      await forcing.force({
        by,
        reason: `${link.name}: ${what.join(', ')}.`,
        wishes: [{ kind: 'link', id, base, body }],
      });
      const paused = change.paused === true ? 'paused' : 'changed';
      await links.told.note(id, paused, `Changed by ${by.who}: ${what.join(', ')}.`);
      links.attend();
      response.json((await links.list()).find((one) => one.id === id));
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/links/names',
      needs: 'read',
      says: 'What a link would carry, and by what names, before anything is carried',
      body: linkNamesAsked,
      answer: linkNames,
      example: { body: { carries: [{ search: '', place: '' }], naming: { rules: [], single: {} } } },
    },
    async (request, response) => {
      const { carries, naming, detail, summaries } = linkNamesAsked.parse(request.body);
      await catalogue.refresh();
      const named = farNames(chosenTags(catalogue.tags, carries), naming, carriedKinds(detail, summaries));
      const rows = named.map(({ tag, summary, ...rest }) => ({
        ...rest,
        tag: tag.name,
        summary: summary && `${summary.aggregate} over ${summary.interval}`,
      }));
      // Those that cannot be carried come first.
      rows.sort((a, b) => Number(b.problem !== null) - Number(a.problem !== null));
      response.json({
        tags: rows.length,
        renamed: rows.filter(({ renamed }) => renamed).length,
        problems: rows.filter(({ problem }) => problem !== null).length,
        rows: rows.slice(0, MOST_NAMES),
      } satisfies LinkNames);
    },
  );
  return calls;
}
