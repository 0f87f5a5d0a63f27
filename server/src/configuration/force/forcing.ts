/** The one way in: whatever changes the configuration goes through here, and whoever has to know is told. */
import type { Change } from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';
import type { Doer } from '../../people/index.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { putInForce, type ForceOrder, type Forced } from './force.ts';

/** Work that a version brings with it, in its own transaction: noted with it or not at all. */
export type WithVersion = (client: PoolClient, forced: Forced, order: ForceOrder) => Promise<void>;
/** What is begun once a version is in force. It may be lost with the server, so it is also looked for at its start. */
export type AfterVersion = (changes: readonly Change[], by: Doer) => Promise<void>;
/** What changes would bring with them, in sentences: what the review says beside what changes. */
export type BeforeVersion = (changes: readonly Change[]) => Promise<string[]>;

/** Puts changes in force and tells the rest of the site. */
export class Forcing {
  private readonly within: WithVersion[] = [];
  private readonly last: WithVersion[] = [];
  private readonly after: AfterVersion[] = [];
  private readonly before: BeforeVersion[] = [];

  constructor(
    readonly home: Pool,
    readonly catalogue: Catalogue,
  ) {}

  /** Registers work for every version, in the order of registration; `last` comes at the end of the transaction. */
  register({
    before,
    within,
    last,
    after,
  }: {
    before?: BeforeVersion;
    within?: WithVersion;
    last?: WithVersion;
    after?: AfterVersion;
  }): void {
    if (before) this.before.push(before);
    if (within) this.within.push(within);
    if (last) this.last.push(last);
    if (after) this.after.push(after);
  }

  /** What changes would bring with them beyond themselves. */
  async foresee(changes: readonly Change[]): Promise<string[]> {
    return (await Promise.all(this.before.map((look) => look(changes)))).flat();
  }

  /** As {@link putInForce}; the catalogue knows it when this resolves. @throws Unforceable */
  async force(order: ForceOrder, also: WithVersion = () => Promise.resolve()): Promise<Forced> {
    const forced = await putInForce(this.home, order, async (client, made) => {
      for (const work of [...this.within, also, ...this.last]) await work(client, made, order);
    });
    await this.catalogue.refresh();
    for (const work of this.after) await work(forced.changes, order.by);
    return forced;
  }
}
