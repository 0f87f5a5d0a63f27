/** What goes on in the stores by itself, as jobs: moves of tags, retention, and the journal's old days leaving. */
import type { Logger } from 'pino';
import { formatInstant, nameIn, type Change } from '@wide-ledger/core';
import type { PoolClient } from 'pg';
import { bodiesInForce, keyOf, type Forcing } from '../../configuration/index.ts';
import type { Jobs, Run } from '../../ground/index.ts';
import { BY_ITSELF } from '../../people/index.ts';
import type { Journal } from '../journal/journal.ts';
import { dropDay, oldestDay } from '../journal/rotation.ts';
import type { Stores } from '../stores/stores.ts';
import { moveTag, type Move } from './moves.ts';
import { dropMonth, keptSince, noteKept, oldestMonthBefore, previewRetention } from './retention.ts';

const UPKEEP_MILLISECONDS = 600_000;

interface MovePlan {
  readonly store: number;
}

interface RetentionPlan {
  readonly store: number;
}

interface RotationPlan {
  /** Days before this one (YYYYMMDD) may go. */
  readonly before: string;
}

/** Long work on stores as jobs: moves of tags, retention, and the journal's rotation. */
export class StoreKeeper {
  private timer: NodeJS.Timeout | null = null;

  /** @param journalDays for how many whole days the journal keeps what every store has posted. */
  constructor(
    private readonly stores: Stores,
    private readonly forcing: Forcing,
    private readonly jobs: Jobs,
    private readonly journal: Pick<Journal, 'neededAfter'>,
    private readonly journalDays: number,
    private readonly log: Logger,
    private readonly now: () => number = Date.now,
  ) {
    jobs.register<MovePlan, never>('move', {
      unit: 'tags',
      tries: 'again and again',
      run: (run) => this.moveAll(run),
    });
    jobs.register<RetentionPlan, never>('retention', {
      unit: 'months',
      tries: 'again and again',
      run: (run) => this.dropMonths(run),
    });
    jobs.register<RotationPlan, never>('rotation', {
      unit: 'days',
      tries: 'again and again',
      run: (run) => this.dropDays(run),
    });
  }

  /** Looks after the stores from now on, until {@link stop}. */
  start(): void {
    const look = (): void => {
      this.upkeep().catch((error: unknown) =>
        this.log.warn({ error: (error as Error).message }, 'retention and rotation are waiting'),
      );
    };
    look();
    this.goOn().catch((error: unknown) => this.log.warn({ error: (error as Error).message }, 'moves are waiting'));
    this.timer = setInterval(look, UPKEEP_MILLISECONDS);
    this.timer.unref();
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
  }

  /** Starts what is due: every store's retention, and the journal's rotation. */
  async upkeep(): Promise<void> {
    for (const { id, name, retention_months } of await this.stores.list()) {
      if (retention_months !== null) await this.keepRetention(id, name, retention_months, BY_ITSELF.who);
    }
    const first = new Date(this.now() - this.journalDays * 86_400_000).toISOString().slice(0, 10).replaceAll('-', '');
    await this.jobs.start({
      kind: 'rotation',
      key: 'journal',
      title: 'Dropping old days of the journal',
      plan: { before: first } satisfies RotationPlan,
      total: 0,
      by: BY_ITSELF.who,
      again: false,
    });
  }

  /** Lets a store's months before its retention go. @returns the job's number. */
  async keepRetention(store: number, name: string, months: number, by: string): Promise<number> {
    const since = keptSince(months, this.now() * 1000);
    await noteKept(this.stores, store, since);
    await this.forcing.catalogue.refresh();
    const { id } = await this.jobs.start({
      kind: 'retention',
      key: `store ${store}`,
      title: `Dropping old months of ${name}`,
      plan: { store } satisfies RetentionPlan,
      total: 0,
      by,
      again: true,
    });
    return id;
  }

  /** What a version brings with it: tags that are to be kept elsewhere move, and a shorter retention is kept. */
  followingConfiguration(): Parameters<Forcing['register']>[0] {
    return {
      before: async (changes) => {
        const shorter = changes.filter(keepsOtherMonths);
        return Promise.all(
          shorter.map(({ id, after }) => this.foresee(id, nameIn(after), after!.retentionMonths as number)),
        );
      },
      within: async (client, { changes }, { by }) => {
        const moving = changes.filter(isMove).map(({ id }) => id);
        if (moving.length > 0) await noteMoves(client, by.who, moving);
      },
      after: async (changes, by) => {
        const stores = new Set(changes.filter(isMove).map(({ after }) => after!.store as number));
        for (const store of stores) await this.startMove(store, by.who);
        for (const { id, after } of changes.filter(keepsOtherMonths))
          await this.keepRetention(id, nameIn(after), after!.retentionMonths as number, by.who);
      },
    };
  }

  /** What a retention would take out of a store, as a sentence. */
  private async foresee(store: number, name: string, months: number): Promise<string> {
    const since = keptSince(months, this.now() * 1000);
    const going = await previewRetention(await this.stores.pool(store), since);
    if (going.length === 0)
      return `Nothing of ${name} goes: no month lies before ${formatInstant(since).slice(0, 10)}.`;
    const samples = going.reduce((sum, month) => sum + month.samples, 0);
    return `${going.length === 1 ? '1 month' : `${going.length} months`} of ${name} before ${formatInstant(since).slice(0, 10)} ${going.length === 1 ? 'goes' : 'go'} for good, with ${samples} values.`;
  }

  /** Moves that were noted and not begun, and those that had to wait for another move of the same tag. */
  private async goOn(): Promise<void> {
    await noteMoves(this.stores.home, BY_ITSELF.who);
    const { rows } = await this.stores.home.query<{ to_store: number }>('SELECT DISTINCT to_store FROM tag_move');
    for (const { to_store } of rows) await this.startMove(to_store, BY_ITSELF.who);
  }

  private async startMove(store: number, by: string): Promise<void> {
    await this.jobs.start({
      kind: 'move',
      key: `store ${store}`,
      title: `Moving tags to ${this.forcing.catalogue.storeById(store)?.name ?? `store ${store}`}`,
      plan: { store } satisfies MovePlan,
      total: 0,
      by,
      again: true,
    });
  }

  private async moveAll({ plan: { store }, by, step }: Run<MovePlan, never>): Promise<string> {
    for (let moved = 0; ; moved++) {
      const { rows } = await this.stores.home.query<Move & { name: string; waiting: number }>(
        `SELECT m.*, t.name, count(*) OVER () AS waiting FROM tag_move m JOIN tag t ON t.id = m.tag_id
         WHERE m.to_store = $1 ORDER BY m.started_at, m.tag_id LIMIT 1`,
        [store],
      );
      const [move] = rows;
      if (!move) {
        await this.goOn();
        return moved === 1 ? 'The tag has moved with its history.' : `${moved} tags have moved with their history.`;
      }
      const total = moved + move.waiting;
      const finished = await moveTag(this.stores, move, (work) =>
        step(async () => {
          const part = await work();
          const share = part.total === 0 ? 0 : Math.min(0.99, part.done / part.total);
          return { done: moved + share, total, sentence: `${move.name}: ${part.done} of ${part.total} blocks.` };
        }),
      );
      await this.forcing.catalogue.refresh();
      if (finished) continue;
      const state = (await this.jobs.of('move', `store ${store}`))?.state;
      if (state !== 'stopping') return `${move.name} goes on later.`;
      await this.keepWhereTheyAre(store, by);
      if (await this.hasSwitched(store)) await this.startMove(store, by);
      return 'Stopped. The tags that had not moved yet stay where they are.';
    }
  }

  /** What was not begun or not finished stays in its store, also by the configuration. */
  private async keepWhereTheyAre(store: number, by: string): Promise<void> {
    const { rows } = await this.stores.home.query<{ id: number; from_store: number }>(
      "DELETE FROM tag_move WHERE state = 'copying' AND to_store = $1 RETURNING tag_id AS id, from_store",
      [store],
    );
    const bodies = await bodiesInForce(
      this.stores.home,
      rows.map(({ id }) => ({ kind: 'tag', id })),
    );
    const wishes = rows.flatMap(({ id, from_store }) => {
      const base = bodies.get(keyOf({ kind: 'tag', id }));
      return base ? [{ kind: 'tag' as const, id, base, body: { ...base, store: from_store } }] : [];
    });
    await this.forcing.force({ by: { who: by, whence: '' }, reason: 'The move was stopped.', wishes });
  }

  /** Whether the old copy of a tag that has moved is still to go. */
  private async hasSwitched(store: number): Promise<boolean> {
    const { rows } = await this.stores.home.query('SELECT FROM tag_move WHERE to_store = $1 LIMIT 1', [store]);
    return rows.length > 0;
  }

  private async dropMonths({ plan: { store }, step }: Run<RetentionPlan, never>): Promise<string | null> {
    for (let done = 0; ; done++) {
      const since = (await this.stores.list()).find(({ id }) => id === store)?.keeps_since ?? -Infinity;
      if (since === -Infinity) return null;
      const month = await oldestMonthBefore(this.stores, store, since);
      if (!month) return done === 0 ? null : `${done} ${done === 1 ? 'month has' : 'months have'} left the store.`;
      const goesOn = await step(async () => {
        await dropMonth(this.stores, store, month);
        return { done: done + 1, sentence: `${month.name.slice(0, 4)}-${month.name.slice(4)} has left.` };
      });
      if (!goesOn) return 'Stopped. The other months go with the next look at the retention.';
    }
  }

  private async dropDays({ plan: { before }, step }: Run<RotationPlan, never>): Promise<string | null> {
    for (let done = 0; ; done++) {
      const day = await oldestDay(this.stores, before, await this.journal.neededAfter());
      if (day === null) return done === 0 ? null : `${done} ${done === 1 ? 'day has' : 'days have'} left the journal.`;
      const goesOn = await step(async () => {
        await dropDay(this.stores, day);
        return { done: done + 1, sentence: `${day} has left.` };
      });
      if (!goesOn) return 'Stopped. The other days go with the next look.';
    }
  }
}

/** A store is to keep another number of months than before. */
const keepsOtherMonths = ({ kind, before, after }: Change): boolean =>
  kind === 'store' && typeof after?.retentionMonths === 'number' && after.retentionMonths !== before?.retentionMonths;

const isMove = ({ kind, before, after }: Change): boolean =>
  kind === 'tag' && before !== null && after !== null && before.store !== after.store;

/** Notes for tags whose store is another one by the configuration that they are to move; one that is on its way waits. */
async function noteMoves(client: PoolClient | Stores['home'], by: string, among?: readonly number[]): Promise<void> {
  await client.query(
    `INSERT INTO tag_move (tag_id, from_store, to_store, state, started_by)
       SELECT t.id, t.store_id, (d.body ->> 'store')::int, 'copying', $1 FROM definition d JOIN tag t ON t.id = d.id
       WHERE d.kind = 'tag' AND d.version_to IS NULL AND ($2::int[] IS NULL OR d.id = ANY($2)) AND (d.body ->> 'store')::int <> t.store_id
       ON CONFLICT DO NOTHING`,
    [by, among ?? null],
  );
}
