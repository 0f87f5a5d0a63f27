/** One link at work: the journal from where the far end stands to its end, and on as it grows; again after every trouble. */
import type { CarryPosition } from '@wide-ledger/contract';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import type { Catalogue, LinkRow } from '../../configuration/index.ts';
import { tellTags } from './carriedTags.ts';
import { FarAway, StandsElsewhere, type FarEnd } from './farEnd.ts';
import { nextStretch, printOf } from './stretch.ts';

const IDLE_MILLISECONDS = 1_000;
const FIRST_PAUSE = 500;
const LAST_PAUSE = 15_000;
/** The far end hears of a link that has nothing to carry, too. */
const HEARD_EVERY_MILLISECONDS = 10_000;
/** For so long a server has a link to itself, from each step on. */
const HELD_SECONDS = 45;

/** What a sender does at the moment. */
export type SenderState = 'starting' | 'carrying' | 'level' | 'away';

interface Standing {
  readonly epoch: number;
  readonly position: number;
}

export class Sender {
  state: SenderState = 'starting';
  private stopped = false;
  private wakeUp: (() => void) | null = null;
  private running: Promise<void> = Promise.resolve();

  constructor(
    private readonly home: Pool,
    private readonly catalogue: Catalogue,
    private readonly link: LinkRow,
    private readonly far: FarEnd,
    /** This server, among several of the site; the same again when it was started anew. */
    private readonly holder: string,
    private readonly log: Logger,
  ) {}

  start(): void {
    this.running = this.loop();
  }

  /** The journal has grown. */
  wake(): void {
    this.wakeUp?.();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    this.wake();
    await this.running;
    await this.home
      .query('UPDATE link_state SET holder = NULL WHERE link_id = $1 AND holder = $2', [this.link.id, this.holder])
      .catch(() => undefined);
  }

  private async loop(): Promise<void> {
    for (let failures = 0; !this.stopped;) {
      try {
        if (await this.hold()) await this.carry(() => (failures = 0));
        else await this.pause(IDLE_MILLISECONDS);
      } catch (error) {
        if (error instanceof StandsElsewhere) {
          await this.pause(FIRST_PAUSE);
          continue;
        }
        this.state = 'away';
        const trouble = error instanceof FarAway ? error.message : `The link met an error: ${(error as Error).message}`;
        this.log.warn({ link: this.link.name, error: trouble }, 'a link does not carry');
        await this.note('trouble = $2', [trouble]).catch(() => undefined);
        await this.pause(Math.min(LAST_PAUSE, FIRST_PAUSE * 2 ** Math.min(failures++, 10)));
      }
    }
  }

  /** Takes the link for this server for a while. @returns whether it has it. */
  private async hold(): Promise<boolean> {
    const { rowCount } = await this.home.query(
      `INSERT INTO link_state AS known (link_id, holder, held_until) VALUES ($1, $2, now() + interval '${HELD_SECONDS} s')
       ON CONFLICT (link_id) DO UPDATE SET holder = excluded.holder, held_until = excluded.held_until
         WHERE known.holder IS NULL OR known.holder = excluded.holder OR known.held_until < now()`,
      [this.link.id, this.holder],
    );
    return rowCount === 1;
  }

  /** Carries as long as nothing goes wrong. @param well called whenever the far end took something. */
  private async carry(well: () => void): Promise<void> {
    const asked = await this.far.position();
    await this.recognise(asked);
    let standing = await this.standingAt(asked);
    let farAt = asked.position;
    let numbers = new Map<number, number>();
    let version = -1;
    let heardAt = performance.now();
    while (!this.stopped) {
      if (!(await this.hold())) return;
      await this.catalogue.refresh();
      if (version !== this.catalogue.version) {
        ({ version } = this.catalogue);
        numbers = await tellTags(this.home, this.catalogue, this.link, this.far, asked.lastNumber);
      }
      const stretch = await nextStretch(
        this.home,
        { epoch: standing.epoch, after: farAt },
        standing.position,
        numbers,
        asked.site.identity,
      );
      if (stretch) {
        this.state = 'carrying';
        const { bytes, setAside } = await this.far.entries(stretch.bundle);
        standing = { ...standing, position: stretch.position };
        farAt = stretch.position;
        await this.note(
          `epoch = $2, position = $3, samples = samples + $4, bytes = bytes + $5, set_aside = set_aside + $6, contact_at = now(),
           samples_at = CASE WHEN $4 > 0 THEN now() ELSE samples_at END, trouble = NULL`,
          [standing.epoch, standing.position, stretch.samples, bytes, setAside],
        );
        heardAt = performance.now();
        well();
        // A new life of the journal has begun at the far end, too.
        if (standing.epoch !== asked.epoch) throw new StandsElsewhere();
        continue;
      }
      if (performance.now() - heardAt > HEARD_EVERY_MILLISECONDS) {
        await this.far.position();
        await this.note('contact_at = now(), trouble = NULL', []);
        heardAt = performance.now();
      }
      this.state = 'level';
      await this.pause(IDLE_MILLISECONDS);
    }
  }

  /** The far end is the one that it was. @throws FarAway where another site answers at its address. */
  private async recognise({ site }: CarryPosition): Promise<void> {
    const { rows } = await this.home.query<{ far_site: string | null }>(
      'SELECT far_site FROM link_state WHERE link_id = $1',
      [this.link.id],
    );
    const before = rows[0]?.far_site ?? null;
    if (before !== null && before !== site.identity)
      throw new FarAway(
        `Another site (${site.name}) answers at ${this.link.body.url}: nothing is carried to it. Correct the address, or make another link.`,
      );
    await this.note('far_site = $2, far_name = $3, far_version = $4, contact_at = now(), trouble = NULL', [
      site.identity,
      site.name,
      site.version,
    ]);
  }

  /**
   * Where to go on. The far end knows best what it has; but a journal that was restored from a backup gives numbers a
   * second time. It is known by an entry that the far end has and the journal has not, or has another one of. What was
   * acknowledged when the backup was made stands in the backup: from there on the journal is carried in another life,
   * which changes nothing where it stands.
   */
  private async standingAt({ epoch, position, print }: CarryPosition): Promise<Standing> {
    const { rows } = await this.home.query<{ last: number; first: number | null; began: number; known: number }>(
      `SELECT journal_last() AS last, (SELECT min(id) FROM journal_entry) AS first, began, position AS known
       FROM link_state WHERE link_id = $1`,
      [this.link.id],
    );
    const { last, first, began, known } = rows[0]!;
    // Nothing was carried yet: it begins where the link was made.
    if (print === '') return { epoch, position: Math.max(position, began) };
    const here = position <= last ? await printOf(this.home, position) : null;
    if (position > last || (here !== null && here !== print)) {
      this.log.warn({ link: this.link.name, position, last }, 'the journal is another one than the far end has');
      await this.home.query("SELECT setval('journal_entry_id', greatest($1::bigint, journal_last(), 1))", [position]);
      return { epoch: epoch + 1, position: Math.min(known, last) };
    }
    // Entries have left before they were carried: comparing both ends brings what they held.
    if (here === null && first !== null && first > position + 1)
      await this.note('lost_until = (SELECT received_at FROM journal_entry WHERE id = $2)', [first]);
    return { epoch, position };
  }

  private async note(fields: string, values: readonly unknown[]): Promise<void> {
    await this.home.query(`UPDATE link_state SET ${fields} WHERE link_id = $1`, [this.link.id, ...values]);
  }

  private pause(milliseconds: number): Promise<void> {
    if (this.stopped) return Promise.resolve();
    return new Promise((resolve) => {
      const done = (): void => {
        clearTimeout(timer);
        this.wakeUp = null;
        resolve();
      };
      const timer = setTimeout(done, milliseconds);
      this.wakeUp = done;
    });
  }
}
