/** Opening the far end of a link, whatever kind it is of. */
import type { CarriedTag, Joined, OtherEnd, SiteCard } from '@wide-ledger/contract';
import { EMPTY_TALLY, addTallies, parseTally, tallyText } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { rawFile, talliesOf, type Archive } from '../../../archive/index.ts';
import type { Catalogue, LinkRow, Secrets } from '../../../configuration/index.ts';
import { BrokerEnd, type KeptPosition } from './brokerEnd.ts';
import type { FarEnd } from './farEnd.ts';
import { FilesEnd, type ReadDay } from './filesEnd.ts';
import type { Outward } from './outward.ts';
import { SiteEnd } from './siteEnd.ts';
import { SparkplugEnd } from './sparkplugEnd.ts';
import { SqlTableEnd } from './sqlTableEnd.ts';

export class FarEnds {
  private readonly files = new Map<string, FilesEnd>();

  /** @param card this site, as it says who it is. @param dataFolder in which files are put. @param outward how other sites are called. */
  constructor(
    private readonly home: Pool,
    private readonly catalogue: Catalogue,
    private readonly secrets: Secrets,
    private readonly archive: Pick<Archive, 'reading'>,
    readonly card: SiteCard,
    private readonly dataFolder: string,
    private readonly outward: Outward,
  ) {}

  /** Joins a site that invited this one. @throws FarAway with what it said. */
  join(url: string, code: string): Promise<Joined> {
    return this.site([url], null).join(code, this.card);
  }

  /** The far end of a link in force. */
  async of({ id, body: { url, secondUrl, key, to } }: LinkRow): Promise<FarEnd> {
    if (to !== null) return this.other(to, id);
    const opened = await this.secrets.openFor([{ key }]);
    return this.site(secondUrl === '' ? [url] : [url, secondUrl], opened[String(key)] ?? '');
  }

  /** A far end that no link leads to yet: to walk to it, not to carry. */
  async proposed(given: { readonly url: string } | { readonly to: OtherEnd }): Promise<FarEnd> {
    return 'to' in given ? this.other(given.to, 0) : this.site([given.url], null);
  }

  private site(urls: readonly string[], key: string | null): SiteEnd {
    return new SiteEnd(urls, key, this.card.version, this.outward);
  }

  private async other(to: OtherEnd, id: number): Promise<FarEnd> {
    const known = `${this.card.identity} ${id}`;
    if (to.kind === 'files') return this.filesOf(to, known, id);
    const opened = await this.secrets.openFor([{ password: to.password }]);
    const password = opened[String(to.password)] ?? '';
    if (to.kind === 'sql-table') return new SqlTableEnd(to, password, known);
    const kept = (): Promise<KeptPosition> => this.keptPosition(id);
    const told = (): Promise<Map<number, CarriedTag>> => this.told(id);
    return to.kind === 'mqtt' ? new BrokerEnd(to, password, kept, told) : new SparkplugEnd(to, password, kept, told);
  }

  /** Who carries and who compares have the same one: its manifest is changed by one after the other. */
  private filesOf(to: OtherEnd & { kind: 'files' }, known: string, id: number): FilesEnd {
    const key = JSON.stringify([id, to]);
    const end = this.files.get(key) ?? new FilesEnd(to, this.dataFolder, known, this.readDay(id));
    if (id !== 0) this.files.set(key, end);
    return end;
  }

  private async keptPosition(id: number): Promise<KeptPosition> {
    const { rows } = await this.home.query<KeptPosition>(
      `SELECT epoch, position, (SELECT coalesce(max(number), 0) FROM link_tag WHERE link_id = $1) AS "lastNumber"
       FROM link_state WHERE link_id = $1`,
      [id],
    );
    return rows[0] ?? { epoch: 0, position: 0, lastNumber: 0 };
  }

  private async told(id: number): Promise<Map<number, CarriedTag>> {
    const { rows } = await this.home.query<{ number: number; told: CarriedTag }>(
      'SELECT number, told FROM link_tag WHERE link_id = $1 AND refused IS NULL',
      [id],
    );
    return new Map(rows.map(({ number, told }) => [number, told]));
  }

  private readDay(id: number): ReadDay {
    return async (named, day, format) => {
      await this.catalogue.refresh();
      const { rows } = await this.home.query<{ number: number; tag: number }>(
        'SELECT number, tag_id AS tag FROM link_tag WHERE link_id = $1',
        [id],
      );
      const tagOf = new Map(rows.map(({ number, tag }) => [number, this.catalogue.tagById(tag)]));
      const tags = named.flatMap(({ number, farName: name }) => {
        const tag = tagOf.get(number);
        return tag ? [{ tag, name }] : [];
      });
      const visitor = `link ${id}`;
      return {
        chunks: rawFile(this.archive.reading, tags, day, format, visitor),
        holds: async () => {
          let sum = EMPTY_TALLY;
          const asked = tags.map(({ tag }) => tag);
          for await (const { cells } of talliesOf(this.archive.reading, asked, day, 'day', visitor))
            for (const [, , count, tally] of cells) sum = addTallies(sum, parseTally(count, tally));
          return { samples: sum.count, tally: tallyText(sum) };
        },
      };
    };
  }
}
