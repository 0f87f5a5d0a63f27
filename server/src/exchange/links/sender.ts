/** One link at work: the journal from where the far end stands to its end, and on as it grows; again after every trouble. */
import type { SiteAccount } from '@wide-ledger/contract';
import { MOST_STRETCH, limitAt, nextSize, rateOf, type LinkMoment, type LinkRate } from '@wide-ledger/core';
import { DateTime } from 'luxon';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import type { Stores } from '../../archive/index.ts';
import type { Catalogue, LinkRow } from '../../configuration/index.ts';
import { tellTags, type CarriedNumbers } from './carriedTags.ts';
import { FarAway, StandsElsewhere, type FarEnd, type FarPosition, type Stretch } from './far/farEnd.ts';
import { clockFound, clocksDiffer } from './far/rungs.ts';
import type { LinkLog } from './linkLog.ts';
import type { Papers } from './papers/papers.ts';
import { noteOf, recognise, standingAt } from './standing.ts';
import { frontierOf, nextStretch, type StretchAsked } from './stretch.ts';
import type { Summarising } from './summarising.ts';

const IDLE_MILLISECONDS = 1_000;
const FIRST_PAUSE = 500;
const LAST_PAUSE = 15_000;
/** The far end hears of a link that has nothing to carry, too. */
const HEARD_EVERY_MILLISECONDS = 10_000;
/** For so long a server has a link to itself, from each step on. */
const HELD_SECONDS = 45;
/** Over so long it is said how fast a link is. */
const RATED_SECONDS = 30;
/** Samples of the first request, before the line was measured. */
const FIRST_STRETCH = MOST_STRETCH / 2;

/** Of what comes now. */
const LIVE: ReadonlySet<string> = new Set(['live', 'derived']);

/** What a sender does at the moment. */
export type SenderState = 'starting' | 'carrying' | 'level' | 'away';

export class Sender {
  state: SenderState = 'starting';
  /** Whether it has its far end, as it was written down last. */
  private has: boolean | null = null;
  /** Seconds by which the far end's clock is ahead; null where both agree, or it does not tell. */
  clockAhead: number | null = null;
  private spokeAt = -Infinity;
  private size = FIRST_STRETCH;
  private moments: LinkMoment[] = [];
  private stopped = false;
  private wakeUp: (() => void) | null = null;
  private running: Promise<void> = Promise.resolve();

  constructor(
    private readonly home: Pool,
    private readonly catalogue: Catalogue,
    private readonly link: LinkRow,
    private readonly far: FarEnd,
    private readonly summarising: Summarising,
    private readonly stores: Stores,
    /** What goes beside values; null where the far end is of a kind that knows of none. */
    private readonly papers: Papers | null,
    /** How this site is, for whoever its history goes to. */
    private readonly account: () => Promise<SiteAccount>,
    /** This server, among several of the site; the same again when it was started anew. */
    private readonly holder: string,
    /** Of the site, by whose clock limits hold. */
    private readonly zone: string,
    private readonly told: LinkLog,
    private readonly log: Logger,
  ) {}

  /** What it does, over the last half minute. */
  get rate(): LinkRate {
    return rateOf(this.moments);
  }

  /** Which of two addresses of the far end is in use; null where there is one. */
  get inUse(): string | null {
    return this.far.inUse ?? null;
  }

  /** How it stands at this moment. */
  observe(moment: LinkMoment): void {
    this.moments.push(moment);
    while (this.moments.length > 2 && moment.at - this.moments[0]!.at > RATED_SECONDS) this.moments.shift();
  }

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
    await this.far.close();
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
        await this.note('trouble = $2', [trouble]).catch(() => undefined);
        if (this.has !== false) {
          this.log.warn({ link: this.link.name, error: trouble }, 'a link does not carry');
          await this.told.note(this.link.id, 'away', trouble);
        }
        this.has = false;
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
    // Before it is written down that it was heard of.
    if (this.has === null) await this.told.begins(this.link.id);
    await recognise(this.home, this.link, asked);
    if (!this.has) await this.told.note(this.link.id, 'there', `${asked.name} is there.`);
    this.has = true;
    await this.look(asked);
    let standing = await standingAt(this.home, this.link, this.told, this.log, asked);
    // An answer that was lost is made good by this one.
    await this.note('epoch = $2, position = $3', [standing.epoch, standing.position]);
    await this.summarising.begin();
    this.papers?.begin();
    let farAt = asked.position;
    let { print } = asked;
    let numbers: CarriedNumbers = { detail: new Map(), summaries: new Map() };
    let version = -1;
    let heardAt = performance.now();
    while (!this.stopped) {
      if (!(await this.hold())) return;
      // Made of what is known by now, and told once all that is committed by then is carried.
      const papers = await this.papers?.ready(numbers, asked.site?.identity ?? '');
      // A tag is in force before anything is written of it: whose values lie before this, the catalogue knows afterwards.
      const frontier = await frontierOf(this.home);
      await this.catalogue.refresh();
      if (version !== this.catalogue.version) {
        ({ version } = this.catalogue);
        const at = { lastNumber: asked.lastNumber, position: standing.position };
        numbers = await tellTags(this.home, this.stores, this.catalogue, this.link, this.far, at);
      }
      const known = numbers;
      const { epoch } = standing;
      const far = asked.site?.identity ?? '';
      const wantedOf = (after: number, from: number): StretchAsked => {
        return { epoch, after, from, frontier, numbers: known, far, size: this.allowedSize };
      };
      let live = frontier;
      const following = async (after: number, from: number): Promise<Stretch | null> => {
        const found = await nextStretch(this.home, wantedOf(after, from));
        if (!found) return null;
        const again = await this.summarising.again(found.touched, known);
        return { ...found, entries: [...found.entries, ...again] };
      };
      let stretch = await following(farAt, standing.position);
      while (stretch && !this.stopped) {
        this.state = 'carrying';
        ({ position: farAt, print } = stretch.head);
        standing = { ...standing, position: farAt };
        // The next one is made ready while this one is on its way.
        const coming = following(farAt, farAt);
        coming.catch(() => undefined);
        await this.send(stretch);
        await this.speak();
        heardAt = performance.now();
        well();
        // A new life of the journal has begun at the far end, too.
        if (standing.epoch !== asked.epoch) throw new StandsElsewhere();
        if (!(await this.hold())) return;
        stretch = await coming;
        // What waits takes more than one request: what comes now does not wait behind it.
        if (stretch) live = await this.sendLive(wantedOf(live, live));
      }
      if (standing.epoch === asked.epoch) {
        if (papers) await this.papers?.tell(papers);
        await this.sendSummaries({ epoch, after: farAt, position: farAt, print }, known);
      }
      await this.far.settle?.();
      await this.speak();
      if (performance.now() - heardAt > HEARD_EVERY_MILLISECONDS) {
        await this.look(await this.far.position());
        await this.note('contact_at = now(), trouble = NULL', []);
        heardAt = performance.now();
      }
      this.state = 'level';
      await this.pause(IDLE_MILLISECONDS);
    }
  }

  /**
   * Sends what came live behind a place in the journal, where that is wished: beside its order, in which it is carried
   * once more. Corrections wait for their turn, since what they correct may not be there yet.
   * @returns up to where it was sent.
   */
  private async sendLive(wanted: StretchAsked): Promise<number> {
    const { compared } = this.far;
    if (!compared || !this.link.body.liveFirst) return wanted.from;
    const found = await nextStretch(this.home, { ...wanted, frontier: await frontierOf(this.home) });
    if (!found) return wanted.from;
    const entries = found.entries.filter(({ description: { origin } }) => LIVE.has(origin));
    if (entries.length > 0) {
      const began = performance.now();
      const { bytes } = await compared.history(entries);
      await this.restrain(bytes, performance.now() - began);
    }
    return found.head.position;
  }

  /** Sends the summaries of intervals that are over, at where the far end stands. */
  private async sendSummaries(head: Stretch['head'], numbers: CarriedNumbers): Promise<void> {
    const ended = this.summarising.ended(numbers);
    for (let next = await ended.next(); !this.stopped; next = await ended.next()) {
      if (next.done) {
        if (next.value !== null) await this.summarising.reached(next.value);
        return;
      }
      const entries = next.value;
      if (entries.length > 0) await this.send({ head, entries, samples: samplesIn(entries) });
      if (!(await this.hold())) return;
    }
  }

  /** Sends a stretch, writes down that the far end has it, and waits as long as is allowed. */
  private async send(stretch: Stretch): Promise<void> {
    const { head, samples } = stretch;
    const began = performance.now();
    const { bytes, setAside } = await this.far.entries(stretch);
    const took = performance.now() - began;
    this.size = nextSize(this.size, samples, took);
    await this.note(
      `epoch = $2, position = $3, samples = samples + $4, bytes = bytes + $5, set_aside = set_aside + $6, contact_at = now(),
       samples_at = CASE WHEN $4 > 0 THEN now() ELSE samples_at END, trouble = NULL`,
      [head.epoch, head.position, samples, bytes, setAside],
    );
    if (setAside > 0)
      await this.told.note(this.link.id, 'set aside', `${setAside} values were set aside there: it says why.`);
    await this.restrain(bytes, took);
  }

  /** Tells the far end how this site is, where it wants to know, every now and then. Nothing that is carried waits for it. */
  private async speak(): Promise<void> {
    if (!this.far.hear || performance.now() - this.spokeAt < HEARD_EVERY_MILLISECONDS) return;
    this.spokeAt = performance.now();
    try {
      await this.far.hear(await this.account());
    } catch (error) {
      this.log.debug({ link: this.link.name, error: (error as Error).message }, 'how this site is could not be told');
    }
  }

  /** Whether both clocks agree: what lies ahead of the one there is set aside there. */
  private async look({ clock }: FarPosition): Promise<void> {
    const before = this.clockAhead;
    this.clockAhead = clock && clocksDiffer(clock) ? clock.ahead / 1000 : null;
    if ((before === null) === (this.clockAhead === null)) return;
    const found = clock ? clockFound(clock).sentence : 'The far end does not tell its time any more.';
    await this.told.note(this.link.id, 'clock', found);
  }

  /** Bytes a second that may be sent now; null for no limit. */
  private get limit(): number | null {
    const clock = DateTime.now().setZone(this.zone).toFormat('HH:mm');
    return limitAt(this.link.body.limits, clock);
  }

  /** How many samples the next request may carry: where there is a limit, so few that it does not take minutes. */
  private get allowedSize(): number {
    const { limit, size } = this;
    return limit === null ? size : Math.min(size, Math.max(1, Math.round(limit)));
  }

  /** Waits as long as what was sent takes at the rate that is allowed now. @param took milliseconds. */
  private async restrain(bytes: number, took: number): Promise<void> {
    const { limit } = this;
    if (limit === null) return;
    const until = performance.now() + (bytes / limit) * 1000 - took;
    while (!this.stopped && performance.now() < until)
      await this.pause(Math.min(IDLE_MILLISECONDS, until - performance.now()));
  }

  private note(fields: string, values: readonly unknown[]): Promise<void> {
    return noteOf(this.home, this.link, fields, values);
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

const samplesIn = (entries: Stretch['entries']): number =>
  entries.reduce((sum, { frame }) => sum + frame.times.length, 0);
