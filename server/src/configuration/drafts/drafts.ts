/** Drafts in the database: one a person, visible to others, kept until it is put in force or discarded. */
import type { DraftChange, DraftSummary } from '@wide-ledger/contract';
import {
  applyDiff,
  fieldAt,
  type Body,
  type DefinitionKey,
  type DefinitionKind,
  type FieldPath,
} from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';
import { inTransaction } from '../../ground/index.ts';
import { bodiesInForce, bodiesUnder, changedBetween, keyOf, newIds, type Asked } from '../definitions/definitions.ts';
import type { Wish } from '../force/settle.ts';
import { edit, subjectOf, type Items } from './items.ts';

interface DraftRow {
  readonly id: number;
  readonly owner: string;
  readonly created_at: Date;
  readonly updated_at: Date;
  readonly changes: number;
  readonly undone: number;
  readonly version: number;
}

/** A draft without changes is none: it is kept while something in it may be made again. */
const SUMMARY = `SELECT d.*, i.changes, c.version,
    (SELECT count(*) FROM draft_step s WHERE s.draft_id = d.id AND undone)::int AS undone
  FROM draft d JOIN (SELECT draft_id, count(*)::int AS changes FROM draft_item GROUP BY draft_id) AS i ON i.draft_id = d.id,
    configuration c`;

/** A field in conflict, and whose value stands. */
export interface Settlement extends DefinitionKey {
  readonly path: FieldPath;
  readonly take: 'mine' | 'theirs';
}

/** Everybody's drafts. */
export class Drafts {
  constructor(private readonly home: Pool) {}

  async list(): Promise<DraftSummary[]> {
    const { rows } = await this.home.query<DraftRow>(`${SUMMARY} ORDER BY d.updated_at DESC`);
    return rows.map(summaryOf);
  }

  /** @returns null when there is no such draft. */
  async find(id: number): Promise<DraftSummary | null> {
    const { rows } = await this.home.query<DraftRow>(`${SUMMARY} WHERE d.id = $1`, [id]);
    return rows[0] ? summaryOf(rows[0]) : null;
  }

  async of(owner: string): Promise<DraftSummary | null> {
    const { rows } = await this.home.query<DraftRow>(`${SUMMARY} WHERE d.owner = $1`, [owner]);
    return rows[0] ? summaryOf(rows[0]) : null;
  }

  /** What a draft changes, or the part of it that concerns some definitions. */
  async items(id: number, among?: readonly DefinitionKey[]): Promise<Wish[]> {
    return readItems(this.home, id, among);
  }

  /** What a draft changes, and the bodies in force of all that: one object where nothing has moved since. */
  async itemsBesideForce(id: number): Promise<{ wishes: Wish[]; inForce: Map<string, Body> }> {
    const { rows } = await this.home.query<Wish & { now: Body | null; moved: boolean }>(
      `SELECT i.kind, i.id, i.body, d.body AS now, moved, CASE WHEN moved THEN i.base END AS base
       FROM draft_item i LEFT JOIN definition d ON d.kind = i.kind AND d.id = i.id AND d.version_to IS NULL,
            LATERAL (SELECT i.base IS DISTINCT FROM d.body AS moved) AS m WHERE i.draft_id = $1`,
      [id],
    );
    const wishes = rows.map(({ kind, id: of, body, base, now, moved }) => ({
      kind,
      id: of,
      body,
      base: moved ? base : now,
    }));
    return { wishes, inForce: new Map(rows.flatMap((row) => (row.now ? [[keyOf(row), row.now]] : []))) };
  }

  /**
   * Makes edits in a person's draft, all of them or none; the draft is begun where there is none.
   * @returns the numbers of new definitions, in the order of the edits that made them.
   * @throws UneditableError
   */
  async edit(owner: string, changes: readonly DraftChange[]): Promise<{ draft: number; created: number[] }> {
    return this.change(owner, async (client, draft) => {
      const subjects = changes.flatMap((change) => subjectOf(change) ?? []);
      const inForce = await bodiesInForce(client, subjects);
      const items: Items = new Map((await readItems(client, draft, subjects)).map((item) => [keyOf(item), item]));
      for (const subject of subjects) if (!items.has(keyOf(subject))) items.set(keyOf(subject), null);
      const found = new Map(items);
      const numbers = await numbersFor(client, changes);
      const created: number[] = [];
      for (const change of changes) {
        edit(items, change, inForce, (kind) => {
          const id = numbers.get(kind)!.shift()!;
          created.push(id);
          return id;
        });
      }
      await this.write(client, draft, found, items);
      return { draft, created };
    });
  }

  /** Takes a version back: a draft of all that has changed since, as it was then. */
  async takeBack(owner: string, version: number): Promise<number> {
    return this.change(owner, async (client, draft) => {
      const { rows } = await client.query<{ version: number }>('SELECT version FROM configuration');
      const keys = await changedBetween(client, version, rows[0]!.version);
      const [then, now] = [await bodiesUnder(client, version, keys), await bodiesInForce(client, keys)];
      const items: Items = new Map();
      for (const key of keys) {
        const [body, base] = [then.get(keyOf(key)) ?? null, now.get(keyOf(key)) ?? null];
        if (body || base) items.set(keyOf(key), { ...key, base, body });
      }
      await this.write(client, draft, new Map([...items.keys()].map((key) => [key, null])), items);
      return draft;
    });
  }

  /** Takes the last edit back. @returns false when there is none. */
  async undo(owner: string): Promise<boolean> {
    return this.change(owner, (client, draft) => this.turn(client, draft, 'undo'));
  }

  /** Makes the edit again that was taken back last. @returns false when there is none, or others were made since. */
  async redo(owner: string): Promise<boolean> {
    return this.change(owner, (client, draft) => this.turn(client, draft, 'redo'));
  }

  /** Puts back what a step found, and keeps in it what was there: so the same step turns both ways. */
  private async turn(client: PoolClient, draft: number, way: 'undo' | 'redo'): Promise<boolean> {
    const { rows } = await client.query<{ number: number; found: (DefinitionKey & { item: Wish | null })[] }>(
      `SELECT number, found FROM draft_step WHERE draft_id = $1 AND undone = $2
       ORDER BY CASE WHEN $2 THEN number ELSE -number END LIMIT 1`,
      [draft, way === 'redo'],
    );
    const step = rows[0];
    if (!step) return false;
    const now = new Map((await readItems(client, draft, step.found)).map((item) => [keyOf(item), item]));
    const there = step.found.map(({ kind, id }) => ({ kind, id, item: now.get(keyOf({ kind, id })) ?? null }));
    await client.query('UPDATE draft_step SET undone = NOT undone, found = $3 WHERE draft_id = $1 AND number = $2', [
      draft,
      step.number,
      JSON.stringify(there),
    ]);
    await writeItems(client, draft, new Map(step.found.map(({ kind, id, item }) => [keyOf({ kind, id }), item])));
    return true;
  }

  /** Settles conflicts: the draft holds the chosen value, and knows what is in force by now. */
  async settle(owner: string, settlements: readonly Settlement[]): Promise<void> {
    await this.change(owner, async (client, draft) => {
      const inForce = await bodiesInForce(client, settlements);
      const items: Items = new Map((await readItems(client, draft, settlements)).map((item) => [keyOf(item), item]));
      const found = new Map(items);
      for (const { path, take, ...key } of settlements) {
        const item = items.get(keyOf(key));
        if (item) items.set(keyOf(key), settled(item, path, take, inForce.get(keyOf(key)) ?? null));
      }
      await this.write(client, draft, found, items);
    });
  }

  /** What a draft changes, so that nobody edits it until the end of the transaction. */
  async claim(client: PoolClient, id: number): Promise<Wish[]> {
    await client.query('SELECT FROM draft WHERE id = $1 FOR UPDATE', [id]);
    return readItems(client, id);
  }

  async discard(id: number, client: Asked = this.home): Promise<void> {
    await client.query('DELETE FROM draft WHERE id = $1', [id]);
  }

  /** Work on a person's draft that nobody else can be at. */
  private change<Result>(owner: string, work: (client: PoolClient, draft: number) => Promise<Result>): Promise<Result> {
    return inTransaction(this.home, async (client) => {
      const { rows } = await client.query<{ id: number }>(
        'INSERT INTO draft (owner) VALUES ($1) ON CONFLICT (owner) DO UPDATE SET updated_at = now() RETURNING id',
        [owner],
      );
      const { id } = rows[0]!;
      const result = await work(client, id);
      // A draft without changes is none; what could be undone in it is gone with it, but not what may be made again.
      await client.query(
        `DELETE FROM draft d WHERE id = $1 AND NOT EXISTS (SELECT FROM draft_item WHERE draft_id = d.id)
           AND NOT EXISTS (SELECT FROM draft_step WHERE draft_id = d.id AND undone)`,
        [id],
      );
      return result;
    });
  }

  /** Writes items, and notes what was found so that it can be undone; what was taken back before is gone. */
  private async write(client: PoolClient, draft: number, found: Items, items: Items): Promise<void> {
    const before = [...items.keys()].map((key) => {
      const [kind, id] = key.split(' ');
      return { kind, id: Number(id), item: found.get(key) ?? null };
    });
    await client.query('DELETE FROM draft_step WHERE draft_id = $1 AND undone', [draft]);
    await client.query(
      `INSERT INTO draft_step (draft_id, number, found)
         SELECT $1, coalesce(max(number), 0) + 1, $2 FROM draft_step WHERE draft_id = $1`,
      [draft, JSON.stringify(before)],
    );
    await writeItems(client, draft, items);
  }
}

function summaryOf({ id, owner, created_at, updated_at, changes, undone, version }: DraftRow): DraftSummary {
  return {
    id,
    owner,
    basedOn: version,
    changes,
    undone,
    createdAt: created_at.toISOString(),
    updatedAt: updated_at.toISOString(),
  };
}

async function readItems(asked: Asked, draft: number, among?: readonly DefinitionKey[]): Promise<Wish[]> {
  const { rows } = await asked.query<Wish>(
    `SELECT i.kind, i.id, i.base, i.body FROM draft_item i WHERE i.draft_id = $1
       AND ($2::text[] IS NULL OR (i.kind, i.id) IN (SELECT * FROM unnest($2::text[], $3::int[])))`,
    [draft, among?.map(({ kind }) => kind) ?? null, among?.map(({ id }) => id) ?? null],
  );
  return rows;
}

async function writeItems(client: PoolClient, draft: number, items: Items): Promise<void> {
  const keys = [...items.keys()].map((key) => key.split(' ') as [DefinitionKind, string]);
  await client.query(
    'DELETE FROM draft_item WHERE draft_id = $1 AND (kind, id) IN (SELECT * FROM unnest($2::text[], $3::int[]))',
    [draft, keys.map(([kind]) => kind), keys.map(([, id]) => Number(id))],
  );
  const kept = [...items.values()].filter((item): item is Wish => item !== null);
  const json = (body: Body | null): string | null => (body ? JSON.stringify(body) : null);
  await client.query(
    `INSERT INTO draft_item (draft_id, kind, id, base, body)
       SELECT $1, * FROM unnest($2::text[], $3::int[], $4::jsonb[], $5::jsonb[])`,
    [
      draft,
      kept.map(({ kind }) => kind),
      kept.map(({ id }) => id),
      kept.map(({ base }) => json(base)),
      kept.map(({ body }) => json(body)),
    ],
  );
}

async function numbersFor(asked: Asked, changes: readonly DraftChange[]): Promise<Map<DefinitionKind, number[]>> {
  const wanted = new Map<DefinitionKind, number>();
  for (const change of changes) {
    if ('create' in change || 'copy' in change) wanted.set(change.kind, (wanted.get(change.kind) ?? 0) + 1);
  }
  const numbers = new Map<DefinitionKind, number[]>();
  for (const [kind, count] of wanted) numbers.set(kind, await newIds(asked, kind, count));
  return numbers;
}

/** An item whose conflict in a field is settled; null where nothing of it is left. */
function settled(item: Wish, path: FieldPath, take: 'mine' | 'theirs', inForce: Body | null): Wish | null {
  if (path.length === 0 || !item.body || !inForce) return take === 'theirs' ? null : { ...item, base: inForce };
  const theirs = fieldAt(inForce, path);
  const base = applyDiff(item.base ?? {}, [{ path, to: theirs }]);
  return { ...item, base, body: take === 'theirs' ? applyDiff(item.body, [{ path, to: theirs }]) : item.body };
}
