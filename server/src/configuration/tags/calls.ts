import { newTag, newTags, tag, tagChange, tagList, tagResult, type NewTag } from '@wide-ledger/contract';
import { applyDiff, fieldAt, liesIn, searchedText, wordsOf, type Body } from '@wide-ledger/core';
import { z } from 'zod';
import { Calls, LARGE_JSON, Turns, badRequest, notFound, sentenceOf } from '../../ground/index.ts';
import { doerOf } from '../../people/index.ts';
import type { TagRow } from '../catalogue/catalogue.ts';
import { bodiesInForce, keyOf, newIds } from '../definitions/definitions.ts';
import type { Forcing } from '../force/forcing.ts';
import { describeTag, type LatestValues } from './describe.ts';
import { TAGS_A_TURN, unknownName } from './given.ts';
import { createTags } from './making.ts';

const listQuery = z.object({
  search: z.string().default(''),
  source: z.coerce.number().optional(),
  place: z.string().default(''),
  cursor: z.coerce.number().int().nonnegative().default(0),
  limit: z.coerce.number().int().min(1).max(1000).default(200),
});

/** The name of a row that may be wrong in every other way. */
const nameIn = (row: unknown): string => {
  const name = typeof row === 'object' && row !== null && 'name' in row ? row.name : '';
  return typeof name === 'string' ? name : '';
};

/** What each row is searched by: a row never changes, it is replaced. */
const searchTexts = new WeakMap<TagRow, string>();

/** Every word has to occur in name, description, place or unit. */
function matches(row: TagRow, words: readonly string[]): boolean {
  if (words.length === 0) return true;
  let text = searchTexts.get(row);
  if (text === undefined) {
    text = searchedText(row);
    searchTexts.set(row, text);
  }
  return words.every((word) => text.includes(word));
}

/** Tags: searching by pages, reading one, creating many at once with a result for each, changing one. */
export function tagCalls(forcing: Forcing, values: LatestValues): Calls {
  const calls = new Calls();
  const { catalogue } = forcing;

  async function find(name: string): Promise<TagRow> {
    await catalogue.refresh();
    const row = catalogue.tagByName(name) ?? catalogue.tagOnceNamed(name);
    if (!row) throw notFound(`There is no tag "${name}".`);
    return row;
  }

  calls.on(
    {
      method: 'get',
      path: '/tags',
      needs: 'read',
      says: 'Tags by search, in pages',
      query: listQuery,
      answer: tagList,
      example: { query: { search: 'temperature', limit: '50' } },
    },
    async (request, response) => {
      const { search, source, place, cursor, limit } = listQuery.parse(request.query);
      await catalogue.refresh();
      const words = wordsOf(search);
      const found = catalogue.tags.filter(
        (row) => matches(row, words) && (source === undefined || row.sourceId === source) && liesIn(row.place, place),
      );
      const page = found.slice(cursor, cursor + limit);
      await values.recall(page);
      const next = cursor + limit < found.length ? { next: String(cursor + limit) } : {};
      response.json({ tags: page.map((row) => describeTag(row, catalogue, values)), total: found.length, ...next });
    },
  );

  calls.on(
    { method: 'get', path: '/tags/{name}', needs: 'read', says: 'One tag', answer: tag },
    async (request, response) => {
      const row = await find(String(request.params.name));
      await values.recall([row]);
      response.json(describeTag(row, catalogue, values));
    },
  );

  calls.on(
    {
      method: 'patch',
      path: '/tags/{name}',
      needs: 'admin',
      says: 'Change how a tag is described, held and aggregated',
      body: tagChange,
      answer: tag,
    },
    async (request, response) => {
      const change = tagChange.parse(request.body);
      const row = await find(String(request.params.name));
      const key = { kind: 'tag', id: row.id } as const;
      const base = (await bodiesInForce(forcing.home, [key])).get(keyOf(key));
      if (!base) throw badRequest(`${row.name} is retired. Take it back before you change it.`);
      const fields = Object.entries(change).map(([name, to]) => ({ path: [name], to: to as Body[string] }));
      const body = applyDiff(base, fields);
      const what = fields.filter(({ path, to }) => fieldAt(base, path) !== to).map(({ path }) => path[0]);
      await forcing.force({
        by: doerOf(request),
        reason: `${row.name}: ${what.join(', ')}.`,
        wishes: [{ ...key, base, body }],
      });
      response.json(describeTag(await find(row.name), catalogue, values));
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/tags',
      needs: 'admin',
      says: 'Create one tag or many',
      body: newTags,
      takes: LARGE_JSON,
      answer: z.object({ results: z.array(tagResult) }),
      example: { body: [{ name: 'D1', type: 'real', unit: '°C', description: 'an example' }] },
    },
    async (request, response) => {
      const given: unknown = newTags.parse(request.body);
      await catalogue.refresh();
      const rows: unknown[] = Array.isArray(given) ? given : [given];
      const refused = new Map<number, string>();
      const accepted: { index: number; tag: NewTag }[] = [];
      const names = new Set<string>();
      const turns = new Turns(TAGS_A_TURN);
      for (const [index, row] of rows.entries()) {
        await turns.after(1);
        const parsed = newTag.safeParse(row);
        if (!parsed.success) {
          refused.set(index, sentenceOf(parsed.error));
          continue;
        }
        const { name } = parsed.data;
        const unknown = unknownName(parsed.data, catalogue);
        if (names.has(name)) refused.set(index, `The name ${name} occurs twice in this request.`);
        else if (unknown !== null) refused.set(index, unknown);
        else if (catalogue.tagByName(name)) refused.set(index, takenName(catalogue.tagByName(name)!));
        else accepted.push({ index, tag: parsed.data });
        names.add(name);
      }
      const ids = await newIds(forcing.home, 'tag', accepted.length);
      const wanted = accepted.map((one, i) => ({ ...one, id: ids[i]! }));
      const created = await createTags(forcing, doerOf(request), wanted, refused);
      if (!Array.isArray(given) && refused.size > 0) throw badRequest(refused.get(0)!);
      const results = rows.map((row, index) => {
        const name = nameIn(row);
        const reason = refused.get(index);
        return reason === undefined
          ? { name, id: created.get(index), outcome: 'created' }
          : { name, outcome: 'refused', reason };
      });
      response.status(created.size > 0 ? 201 : 200).json({ results });
    },
  );
  return calls;
}

const takenName = ({ name, retiredAt }: TagRow): string =>
  retiredAt === null
    ? `A tag named ${name} exists already.`
    : `A tag named ${name} was retired; its history is here. Take it back, or choose another name.`;
