import { registerMapAnswer, registerMapText, type RegisterMapAnswer } from '@wide-ledger/contract';
import { nameIn, type Body } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { Calls, LARGE_JSON, badRequest, idIn, notFound } from '../../ground/index.ts';
import { visitorOf } from '../../people/index.ts';
import type { Drafts } from '../drafts/drafts.ts';
import { bodiesInForce, keyOf } from '../definitions/definitions.ts';
import { mapText, readMapText } from './csv.ts';
import { settleLine, type KnownTag } from './lines.ts';

/** Register maps of sources whose values lie in registers, out and in. */
export function registerMapCalls(home: Pool, drafts: Drafts): Calls {
  const calls = new Calls();

  /** The source as it stands for somebody, in force or in the draft. */
  async function findSource(id: number, owner: string): Promise<Body> {
    const key = { kind: 'source', id } as const;
    const draft = await drafts.of(owner);
    const [drafted] = draft ? await drafts.items(draft.id, [key]) : [];
    const body = drafted ? drafted.body : (await bodiesInForce(home, [key])).get(keyOf(key));
    if (!body) throw notFound('There is no source of this number, neither in force nor in your draft.');
    if (body.kind !== 'modbus-tcp') throw badRequest('Only sources whose values lie in registers have a register map.');
    return body;
  }

  /** Its tags as they stand for somebody, and the names that other tags have, in small letters. */
  async function tagsOf(source: number, owner: string): Promise<{ own: KnownTag[]; elsewhere: Set<string> }> {
    const draft = await drafts.of(owner);
    const drafted = new Map(
      (draft ? await drafts.items(draft.id) : []).flatMap(({ kind, id, body }) =>
        kind === 'tag' ? [[id, body] as const] : [],
      ),
    );
    const { rows } = await home.query<KnownTag>(
      `SELECT id, body FROM definition WHERE kind = 'tag' AND version_to IS NULL`,
    );
    const standing = new Map<number, Body | null>([...rows.map(({ id, body }) => [id, body] as const), ...drafted]);
    const own: KnownTag[] = [];
    const elsewhere = new Set<string>();
    for (const [id, body] of standing) {
      if (body === null || typeof body.name !== 'string') continue;
      if (body.source === source) own.push({ id, body });
      else elsewhere.add(body.name.toLowerCase());
    }
    return { own, elsewhere };
  }

  calls.on(
    {
      method: 'get',
      path: '/sources/{id}/register-map',
      needs: 'read',
      says: 'The tags of a source whose values lie in registers, as CSV: a line each, as they stand in your draft',
      answer: 'file',
    },
    async (request, response) => {
      const id = idIn(request, 'id');
      const { name } = visitorOf(request);
      const source = await findSource(id, name);
      const { own } = await tagsOf(id, name);
      const file = nameIn(source).replace(/[^\w.-]+/g, '-');
      response
        .type('text/csv')
        .setHeader('content-disposition', `attachment; filename="${file}-registers.csv"`)
        .send(mapText(own.map(({ body }) => body).sort(byAddress)));
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/sources/{id}/register-map',
      needs: 'admin',
      says: 'Take a register map into your draft: a tag for each good line, and what is wrong with the others',
      body: registerMapText,
      takes: LARGE_JSON,
      answer: registerMapAnswer,
    },
    async (request, response) => {
      const id = idIn(request, 'id');
      const { name } = visitorOf(request);
      const { text, dryRun } = registerMapText.parse(request.body);
      await findSource(id, name);
      const map = readMapText(text);
      if (map.sentence !== '') throw badRequest(map.sentence);
      const { own, elsewhere } = await tagsOf(id, name);
      const known = new Map(own.map((tag) => [nameIn(tag.body).toLowerCase(), tag]));
      const settled = map.lines.map((line) => settleLine(line, id, known, elsewhere));
      const changes = settled.flatMap(({ change }) => (change ? [change] : []));
      if (!dryRun && changes.length > 0) await drafts.edit(name, changes);
      const answer: RegisterMapAnswer = {
        lines: settled.map(({ told }) => told),
        ignored: [...map.strange],
        taken: dryRun ? 0 : changes.length,
      };
      response.json(answer);
    },
  );
  return calls;
}

/** Tags in the order of their registers. */
function byAddress(one: Body, other: Body): number {
  const place = ({ address }: Body): string => {
    const { area = '', address: at = 0 } = (address ?? {}) as { area?: string; address?: number };
    return `${area} ${String(at).padStart(6, '0')}`;
  };
  return place(one) < place(other) ? -1 : 1;
}
