/** Annotations: what people write on a tag at a time. They lie in the tag's store and go where its history goes. */
import { annotation, annotationsAnswer, annotationsQuery, newAnnotation, type Annotation } from '@wide-ledger/contract';
import { formatInstant } from '@wide-ledger/core';
import { doerOf, visitorOf, type Logbook } from '../../people/index.ts';
import { Calls, ProblemError, idIn, instantOf, notFound, nowMicros, resolveWindow } from '../../ground/index.ts';
import type { Stores } from '../stores/stores.ts';
import { findTag, type Catalogue } from '../../configuration/index.ts';

interface AnnotationRow {
  readonly id: number;
  readonly tag_id: number;
  readonly time: number;
  readonly text: string;
  readonly written_by: string;
  readonly written_at: Date;
}

/** Reading (scope `read`) and adding annotations, which stand in the store of their tag. */
export function annotationCalls(catalogue: Catalogue, stores: Stores, logbook: Logbook): Calls {
  const calls = new Calls();

  const show = (row: AnnotationRow, tag: string): Annotation => ({
    id: row.id,
    tag,
    time: formatInstant(row.time),
    text: row.text,
    writtenBy: row.written_by,
    writtenAt: row.written_at.toISOString(),
  });

  calls.on(
    {
      method: 'get',
      path: '/annotations',
      needs: 'read',
      says: 'Annotations on tags in a window',
      query: annotationsQuery,
      answer: annotationsAnswer,
      example: { query: { tags: 'D1', from: 'now-1d', to: 'now' } },
    },
    async (request, response) => {
      const query = annotationsQuery.parse(request.query);
      const { from, to } = resolveWindow(query);
      const found = await Promise.all(
        query.tags.map(async (name) => {
          const tag = await findTag(catalogue, name);
          const pool = await stores.pool(tag.storeId);
          const { rows } = await pool.query<AnnotationRow>(
            'SELECT * FROM annotation WHERE tag_id = $1 AND time >= $2 AND time < $3 ORDER BY time, id LIMIT 1000',
            [tag.id, from, to],
          );
          return rows.map((row) => show(row, tag.name));
        }),
      );
      response.json({ annotations: found.flat() });
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/annotations',
      needs: 'write',
      says: 'Annotate a tag at a time',
      body: newAnnotation,
      answer: annotation,
      example: { body: { tag: 'D1', time: '2026-01-01T00:00:00Z', text: 'meter exchanged' } },
    },
    async (request, response) => {
      const { tag: name, time: given, text } = newAnnotation.parse(request.body);
      const tag = await findTag(catalogue, name);
      const time = instantOf('time', given, nowMicros());
      const pool = await stores.pool(tag.storeId);
      const { rows } = await pool.query<AnnotationRow>(
        'INSERT INTO annotation (tag_id, time, text, written_by) VALUES ($1, $2, $3, $4) RETURNING *',
        [tag.id, time, text, visitorOf(request).name],
      );
      await logbook.note(doerOf(request), {
        act: 'annotated',
        kind: 'tag',
        item: tag.id,
        name: tag.name,
        sentence: `${tag.name} at ${formatInstant(time)}: ${text}`,
      });
      response.status(201).json(show(rows[0]!, tag.name));
    },
  );

  calls.on(
    {
      method: 'delete',
      path: '/annotations/{tag}/{id}',
      needs: 'write',
      says: 'Take an annotation away',
      answer: null,
    },
    async (request, response) => {
      const tag = await findTag(catalogue, String(request.params.tag));
      const pool = await stores.pool(tag.storeId);
      const id = idIn(request, 'id');
      const { rows } = await pool.query<Pick<AnnotationRow, 'time' | 'text' | 'written_by'> & { carried: boolean }>(
        `WITH gone AS (DELETE FROM annotation WHERE tag_id = $1 AND id = $2 AND carried_id IS NULL RETURNING *)
         SELECT time, text, written_by, false AS carried FROM gone UNION ALL
         SELECT time, text, written_by, true FROM annotation WHERE tag_id = $1 AND id = $2 AND carried_id IS NOT NULL`,
        [tag.id, id],
      );
      const [written] = rows;
      if (!written) throw notFound('There is no such annotation.');
      if (written.carried)
        throw new ProblemError(
          409,
          'Written elsewhere',
          `This was written at another site (${written.written_by}): take it away there.`,
        );
      await logbook.note(doerOf(request), {
        act: 'took back',
        kind: 'tag',
        item: tag.id,
        name: tag.name,
        sentence: `The annotation on ${tag.name} at ${formatInstant(written.time)}: ${written.text}`,
      });
      response.status(204).end();
    },
  );
  return calls;
}
