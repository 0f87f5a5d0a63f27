/** The links that leave from here: each at work as long as it is in force and not paused. */
import type { LinkBody, SendingLink, SiteAccount, SiteCard } from '@wide-ledger/contract';
import { formatInstant } from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import type { Archive } from '../../archive/index.ts';
import type { Catalogue, LinkRow } from '../../configuration/index.ts';
import { badRequest, notFound, type Jobs } from '../../ground/index.ts';
import { compareWhatIsDue } from './comparingByItself.ts';
import type { FarEnds } from './far/farEnds.ts';
import type { LinkLog } from './linkLog.ts';
import { Papers } from './papers/papers.ts';
import { Sender } from './sender.ts';
import { Summarising } from './summarising.ts';

/** How often it is looked whether another server put other links in force. */
const LOOK_MILLISECONDS = 2_000;
/** A link that is behind by more keeps the journal no longer. */
export const LONGEST_KEPT_DAYS = 30;

interface Working {
  readonly body: string;
  readonly sender: Sender;
}

interface State {
  readonly link_id: number;
  readonly far_name: string | null;
  readonly samples: number;
  readonly bytes: number;
  readonly set_aside: number;
  readonly contact_at: Date | null;
  readonly samples_at: Date | null;
  readonly trouble: string | null;
  readonly lost_until: Date | null;
  readonly summarised_until: number | null;
  readonly waiting: number;
  readonly lag: number | null;
  readonly tags: number;
}

export class Links {
  private readonly working = new Map<number, Working>();
  private looking: NodeJS.Timeout | null = null;
  private attending: Promise<void> = Promise.resolve();
  private closed = false;
  /** How this site is, as it is told where its history goes; who knows that says so once it is there. */
  account: () => Promise<SiteAccount> = () => Promise.reject(new Error('Nobody has said yet how the site is.'));

  constructor(
    private readonly home: Pool,
    private readonly catalogue: Catalogue,
    readonly ends: FarEnds,
    private readonly archive: Pick<Archive, 'journal' | 'reading' | 'coverage' | 'stores'>,
    private readonly jobs: Jobs,
    readonly told: LinkLog,
    /** This server, among several of the site; the same again when it was started anew. */
    private readonly holder: string,
    private readonly zone: string,
    private readonly log: Logger,
  ) {
    const { journal } = archive;
    journal.listen(() => {
      for (const { sender } of this.working.values()) sender.wake();
    });
    journal.keepFor(() => this.neededAfter());
  }

  start(): void {
    this.attend();
    this.looking = setInterval(() => this.attend(), LOOK_MILLISECONDS);
  }

  async close(): Promise<void> {
    this.closed = true;
    if (this.looking) clearInterval(this.looking);
    await this.attending;
    await Promise.all([...this.working.values()].map(({ sender }) => sender.stop()));
  }

  /** Sees that those are at work, and only those, that are in force as they are. */
  attend(): void {
    this.attending = this.attending
      .then(async () => {
        await this.settle();
        await this.observe();
        await compareWhatIsDue(this.home, this.catalogue, this.jobs, this.told, this.zone);
      })
      .catch((error: unknown) => this.log.warn({ error: (error as Error).message }, 'links are not looked after'));
  }

  private async settle(): Promise<void> {
    if (this.closed) return;
    await this.catalogue.refresh();
    const wanted = new Map(this.catalogue.links.filter(({ body }) => !body.paused).map((link) => [link.id, link]));
    for (const [id, { body, sender }] of this.working) {
      const link = wanted.get(id);
      if (link && JSON.stringify(link.body) === body) wanted.delete(id);
      else {
        this.working.delete(id);
        await sender.stop();
      }
    }
    for (const link of wanted.values()) {
      const sender = await this.begin(link);
      this.working.set(link.id, { body: JSON.stringify(link.body), sender });
      sender.start();
    }
  }

  private async begin(link: LinkRow): Promise<Sender> {
    const far = await this.ends.of(link);
    const { home, catalogue, archive, zone } = this;
    const summarising = new Summarising(home, { archive, catalogue, zone, visitor: `link ${link.id}` }, link);
    return new Sender(
      home,
      catalogue,
      link,
      far,
      summarising,
      archive.stores,
      far.papers ? new Papers(home, archive, catalogue, link, far.papers, this.log) : null,
      () => this.account(),
      this.holder,
      zone,
      this.told,
      this.log,
    );
  }

  /** Looks at how each stands, so that it can be said how fast it is. */
  private async observe(): Promise<void> {
    if (this.closed || this.working.size === 0) return;
    const at = performance.now() / 1000;
    for (const { link_id, waiting, samples, bytes } of await this.states())
      this.working.get(link_id)?.sender.observe({ at, waiting, samples, bytes });
  }

  private async states(): Promise<State[]> {
    const { rows } = await this.home.query<State>(
      `SELECT s.*, w.waiting, w.lag,
              (SELECT count(*)::int FROM link_tag t WHERE t.link_id = s.link_id AND t.refused IS NULL) AS tags
       FROM link_state s, LATERAL (
         SELECT coalesce(sum(j.samples), 0)::bigint AS waiting, extract(epoch FROM now() - min(j.received_at))::float8 AS lag
         FROM journal_entry j WHERE j.id > s.position) AS w`,
    );
    return rows;
  }

  /** @throws ProblemError 404 where no link in force has the number. */
  async find(id: number): Promise<LinkRow> {
    await this.catalogue.refresh();
    const link = this.catalogue.links.find((one) => one.id === id);
    if (!link) throw notFound(`There is no link number ${id}.`);
    return link;
  }

  /** A new link begins where the journal ends now: what is older is carried deliberately. */
  async begins(id: number): Promise<void> {
    await this.home.query(
      `INSERT INTO link_state (link_id, began, position) SELECT $1, journal_last(), journal_last() ON CONFLICT DO NOTHING`,
      [id],
    );
  }

  /** @throws ProblemError 400 where another site than before has joined a link. */
  async refuseAnother(id: number, site: SiteCard): Promise<void> {
    const { rows } = await this.home.query<{ far_site: string | null; far_name: string | null }>(
      'SELECT far_site, far_name FROM link_state WHERE link_id = $1',
      [id],
    );
    const before = rows[0]?.far_site ?? null;
    if (before !== null && before !== site.identity)
      throw badRequest(`This link leads to ${rows[0]!.far_name}, and the code is of ${site.name}. Make another link.`);
  }

  /** The number behind which some link needs the journal. */
  private async neededAfter(): Promise<number> {
    const { rows } = await this.home.query<{ least: number | null }>(
      `SELECT min(s.position) AS least FROM link_state s JOIN link l ON l.id = s.link_id
       WHERE l.retired_at IS NULL AND coalesce(s.contact_at, now()) > now() - interval '${LONGEST_KEPT_DAYS} days'`,
    );
    return rows[0]!.least ?? Infinity;
  }

  /** What is wrong with those that are in force and not paused. */
  async troubles(): Promise<{ readonly name: string; readonly sentence: string }[]> {
    const { rows } = await this.home.query<Pick<State, 'link_id' | 'trouble' | 'lost_until'>>(
      'SELECT link_id, trouble, lost_until FROM link_state WHERE trouble IS NOT NULL OR lost_until IS NOT NULL',
    );
    const states = new Map(rows.map((row) => [row.link_id, row]));
    return this.catalogue.links.flatMap(({ id, name, body }) => {
      const sentence = body.paused ? null : troubleOf(states.get(id));
      return sentence === null ? [] : [{ name, sentence }];
    });
  }

  /** All of them, with how they stand. */
  async list(): Promise<SendingLink[]> {
    await this.catalogue.refresh();
    const rows = await this.states();
    const { rows: refused } = await this.home.query<{ link_id: number; tag: string; farName: string; reason: string }>(
      `SELECT t.link_id, g.name AS tag, t.far_name AS "farName", t.refused AS reason
       FROM link_tag t JOIN tag g ON g.id = t.tag_id WHERE t.refused IS NOT NULL ORDER BY g.name LIMIT 1000`,
    );
    const states = new Map(rows.map((row) => [row.link_id, row]));
    return this.catalogue.links.map(({ id, name, body }): SendingLink => {
      const state = states.get(id);
      const sender = this.working.get(id)?.sender;
      const own = refused.filter(({ link_id }) => link_id === id).map(({ link_id: _id, ...one }) => one);
      return {
        id,
        name,
        kind: body.to?.kind ?? 'site',
        url: whitherOf(body),
        secondUrl: body.secondUrl,
        inUse: sender?.inUse ?? null,
        farName: state?.far_name ?? null,
        state: body.paused ? 'paused' : (sender?.state ?? 'starting'),
        trouble: body.paused ? null : troubleOf(state),
        tags: state?.tags ?? 0,
        refused: own,
        waiting: state?.waiting ?? 0,
        lagSeconds: state?.lag ?? null,
        ...(sender?.rate ?? { valuesPerSecond: 0, bytesPerSecond: 0, catchUpSeconds: null }),
        clockAheadSeconds: sender?.clockAhead ?? null,
        detail: body.detail,
        summaries: body.summaries,
        summarisedUntil: state?.summarised_until == null ? null : formatInstant(state.summarised_until),
        limits: body.limits,
        liveFirst: body.liveFirst,
        reconciles: body.reconciles,
        comparable: isComparable(body),
        samples: state?.samples ?? 0,
        bytes: state?.bytes ?? 0,
        setAside: state?.set_aside ?? 0,
        contactAt: state?.contact_at?.toISOString() ?? null,
        samplesAt: state?.samples_at?.toISOString() ?? null,
      };
    });
  }
}

/** Where a link leads, in a few words. */
function whitherOf({ url, to }: LinkBody): string {
  if (to === null) return url;
  if (to.kind === 'files') return `files in ${to.folder}`;
  if (to.kind === 'sparkplug') return `mqtt://${to.host}:${to.port}, ${to.group}/${to.edge}`;
  return to.kind === 'mqtt' ? `mqtt://${to.host}:${to.port}` : `${to.host}:${to.port}/${to.database}, ${to.table}`;
}

/** Sites tell their tallies; a table does where it has the status; files have theirs in the manifest; messages are gone. */
const isComparable = ({ to }: LinkBody): boolean =>
  to === null || to.kind === 'files' || (to.kind === 'sql-table' && to.columns.status !== null);

/** What is wrong with a link, or was and has left a gap there. */
function troubleOf(state: Pick<State, 'trouble' | 'lost_until'> | undefined): string | null {
  if (!state) return null;
  if (state.trouble !== null || state.lost_until === null) return state.trouble;
  return `The far end was behind what the journal keeps: entries before ${formatInstant(state.lost_until.getTime() * 1000)} were not carried. Compare both ends and mend the far one.`;
}
