import {
  doubtsAnswer,
  doubtsQuery,
  examinationAnswer,
  newExamination,
  type Doubt,
  type DoubtsAnswer,
} from '@wide-ledger/contract';
import { formatInstant, liesIn, type DoubtKind } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { findTag, type Catalogue, type TagRow } from '../../configuration/index.ts';
import { Calls, LARGE_JSON, badRequest, filledWindow, notFound } from '../../ground/index.ts';
import { doerOf, visitorOf, type Logbook } from '../../people/index.ts';
import type { Examinations } from './examinations.ts';

interface Row {
  readonly id: number;
  readonly kind: DoubtKind;
  readonly tag_id: number | null;
  readonly source_id: number | null;
  readonly since: number;
  readonly until: number;
  readonly sentence: string;
  readonly evidence: Record<string, unknown>;
}

/** Looking for what the data betray, and what was found. */
export function doubtCalls(home: Pool, catalogue: Catalogue, examinations: Examinations, logbook: Logbook): Calls {
  const calls = new Calls();

  async function tagsOf(names: readonly string[] | undefined, place: string | undefined): Promise<readonly TagRow[]> {
    if (names) return Promise.all([...new Set(names)].map((name) => findTag(catalogue, name)));
    await catalogue.refresh();
    if (place === undefined) return catalogue.tags;
    const within = catalogue.tags.filter((tag) => liesIn(tag.place, place));
    if (within.length === 0) throw notFound(`There is no tag at "${place}".`);
    return within;
  }

  calls.on(
    {
      method: 'post',
      path: '/examinations',
      needs: 'admin',
      says: 'Look for what the data themselves betray: values that stand, leave their range or came twice, stamps and clocks that are wrong',
      body: newExamination,
      takes: LARGE_JSON,
      answer: examinationAnswer,
      example: { body: { from: 'now-1d', to: 'now' } },
    },
    async (request, response) => {
      const { tags: names, place, ...given } = newExamination.parse(request.body);
      const window = filledWindow(given);
      const tags = await tagsOf(names, place);
      if (tags.length === 0) throw badRequest('There is no tag that could be examined.');
      const what = tags.length === 1 ? tags[0]!.name : (place ?? `${tags.length} tags`);
      const span = `${formatInstant(window.from)} to ${formatInstant(window.to)}`;
      const job = await examinations.start(tags, window, `Examination of ${what}, ${span}`, visitorOf(request).name);
      await logbook.note(doerOf(request), { act: 'began an examination', name: what, sentence: `${span}.` });
      response.json({ job });
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/doubts',
      needs: 'read',
      says: 'What an examination found so far, with what it was seen by',
      query: doubtsQuery,
      answer: doubtsAnswer,
    },
    async (request, response) => {
      const { job, kind = null, cursor = 0, limit } = doubtsQuery.parse(request.query);
      const [{ rows }, { rows: counts }] = await Promise.all([
        home.query<Row>(
          `SELECT id, kind, tag_id, source_id, since, until, sentence, evidence FROM doubt
           WHERE job_id = $1 AND ($2::text IS NULL OR kind = $2) AND id > $3 ORDER BY id LIMIT $4`,
          [job, kind, cursor, limit + 1],
        ),
        home.query<{ kind: DoubtKind; doubts: number }>(
          'SELECT kind, count(*)::int AS doubts FROM doubt WHERE job_id = $1 GROUP BY kind',
          [job],
        ),
      ]);
      await catalogue.refresh();
      const page = rows.slice(0, limit);
      const answer: DoubtsAnswer = {
        doubts: page.map((row) => asDoubt(row, catalogue)),
        counts,
        ...(rows.length > limit ? { next: page.at(-1)!.id } : {}),
      };
      response.json(answer);
    },
  );
  return calls;
}

function asDoubt({ tag_id, source_id, since, until, ...row }: Row, catalogue: Catalogue): Doubt {
  const tag = tag_id === null ? undefined : catalogue.tagById(tag_id);
  return {
    ...row,
    tag: tag?.name ?? null,
    source: source_id === null ? null : (catalogue.sourceById(source_id)?.name ?? null),
    place: tag?.place ?? '',
    from: formatInstant(since),
    to: formatInstant(until),
  };
}
