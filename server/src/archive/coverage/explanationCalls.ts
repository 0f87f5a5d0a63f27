import {
  explanationRow,
  explanationsAnswer,
  explanationsQuery,
  gapStory,
  gapStoryQuery,
  newExplanation,
  type ExplanationRow,
  type GapStory,
} from '@wide-ledger/contract';
import { formatInstant, liesIn } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { z } from 'zod';
import { findTag, type Catalogue } from '../../configuration/index.ts';
import { Calls, ProblemError, filledWindow, idIn, notFound } from '../../ground/index.ts';
import { doerOf, visitorOf, type Logbook } from '../../people/index.ts';
import { listExplanations } from './explanations.ts';
import { storyOf } from './story.ts';

/** Saying why something was not watched, afterwards or ahead. */
export function explanationCalls(home: Pool, catalogue: Catalogue, logbook: Logbook): Calls {
  const calls = new Calls();

  /** A source of another site. */
  async function arrivingSource(name: string): Promise<{ id: number; name: string } | undefined> {
    const { rows } = await home.query<{ id: number; name: string }>(
      'SELECT id, name FROM named_source WHERE id < 0 AND name = $1',
      [name],
    );
    return rows[0];
  }

  /** The source of a tag now, also where that is another site's. */
  async function sourceOf(tag: number): Promise<number | null> {
    const { rows } = await home.query<{ source: number }>(
      'SELECT source_id AS source FROM duty WHERE tag_id = $1 ORDER BY until DESC NULLS FIRST LIMIT 1',
      [tag],
    );
    return catalogue.tagById(tag)?.sourceId ?? rows[0]?.source ?? null;
  }

  async function thingOf(
    given: Pick<z.infer<typeof newExplanation>, 'tag' | 'source' | 'place'>,
  ): Promise<Pick<ExplanationRow, 'kind' | 'about'> & { id: number | null }> {
    if (given.tag !== undefined) return { kind: 'tag', about: given.tag, id: (await findTag(catalogue, given.tag)).id };
    await catalogue.refresh();
    if (given.source !== undefined) {
      const source = catalogue.sourceByName(given.source) ?? (await arrivingSource(given.source));
      if (!source) throw notFound(`There is no source "${given.source}".`);
      return { kind: 'source', about: source.name, id: source.id };
    }
    const place = given.place!;
    if (!catalogue.tags.some((tag) => liesIn(tag.place, place))) throw notFound(`No tag lies in "${place}".`);
    return { kind: 'place', about: place, id: null };
  }

  calls.on(
    {
      method: 'get',
      path: '/gaps/explanations',
      needs: 'read',
      says: 'What people said of times in which something was, or will be, not watched',
      query: explanationsQuery,
      answer: explanationsAnswer,
      example: { query: { from: 'now-1d', to: 'now' } },
    },
    async (request, response) => {
      response.json({
        explanations: await listExplanations(home, filledWindow(explanationsQuery.parse(request.query))),
      });
    },
  );
  calls.on(
    {
      method: 'get',
      path: '/gaps/story',
      needs: 'read',
      says: 'What is known to have happened around a gap: outages, values that came later, what people did and said',
      query: gapStoryQuery,
      answer: gapStory,
    },
    async (request, response) => {
      const { tag, source, ...given } = gapStoryQuery.parse(request.query);
      const { id, kind } = await thingOf({ tag, source });
      const of = kind === 'tag' ? { tag: id, source: await sourceOf(id!) } : { tag: null, source: id };
      response.json({ events: await storyOf(home, logbook, of, filledWindow(given)) } satisfies GapStory);
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/gaps/explanations',
      needs: 'correct',
      says: 'Say why something was not watched; for planned work also ahead',
      body: newExplanation,
      answer: explanationRow,
    },
    async (request, response) => {
      const given = newExplanation.parse(request.body);
      const { from, to } = filledWindow(given);
      const { kind, about, id } = await thingOf(given);
      const by = visitorOf(request).name;
      const { rows } = await home.query<{ id: number; said_at: Date }>(
        `INSERT INTO gap_explanation (kind, item_id, about, since, until, said_by, reason)
         VALUES ($1, $2, $3, $4, $5, $6, $7) RETURNING id, said_at`,
        [kind, id, about, from, to, by, given.reason],
      );
      const span = { from: formatInstant(from), to: formatInstant(to) };
      await logbook.note(doerOf(request), {
        act: 'explained',
        name: about,
        sentence: `${span.from} to ${span.to}: ${given.reason}`,
      });
      const at = rows[0]!.said_at.toISOString();
      response.status(201).json({ id: rows[0]!.id, kind, about, ...span, by, reason: given.reason, at });
    },
  );
  calls.on(
    {
      method: 'delete',
      path: '/gaps/explanations/{id}',
      needs: 'correct',
      says: 'Take an explanation back',
      answer: null,
    },
    async (request, response) => {
      const id = idIn(request, 'id');
      const { rows: elsewhere } = await home.query<{ by: string }>(
        'SELECT said_by AS by FROM gap_explanation WHERE id = $1 AND arriving_source IS NOT NULL',
        [id],
      );
      if (elsewhere[0])
        throw new ProblemError(
          409,
          'Said elsewhere',
          `This was said at another site (${elsewhere[0].by}): take it back there.`,
        );
      const { rows } = await home.query<{ about: string; reason: string }>(
        `UPDATE gap_explanation SET taken_back_at = now(), taken_back_by = $2
         WHERE id = $1 AND taken_back_at IS NULL RETURNING about, reason`,
        [id, visitorOf(request).name],
      );
      if (!rows[0]) throw notFound('There is no such explanation.');
      await logbook.note(doerOf(request), {
        act: 'took back',
        name: rows[0].about,
        sentence: `The explanation: ${rows[0].reason}`,
      });
      response.status(204).end();
    },
  );
  return calls;
}
