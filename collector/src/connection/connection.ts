/**
 * The connection to a source: opened, lost, and tried again with growing pauses, for as long as it is wanted. Where there
 * are several ways to it, another one is tried once the one in use has not answered for a while.
 */
import { Status } from '@wide-ledger/core';
import { SourceAway, type Session } from '../kinds/kind.ts';

/** Between two tries; the last one again and again. Milliseconds. */
const PAUSES = [1000, 1000, 2000, 3000, 5000];
/** How often it is tried whether the first way leads to the source again. Milliseconds. */
const BACK_EVERY = 30_000;

export interface ConnectionEvents {
  /** Tries what a connection that was opened has to answer before it counts. @throws SourceAway */
  prove(session: Session): Promise<void>;
  /** A connection stands. @param before the one whose place it takes, which is closed then; null where there was none. */
  opened(session: Session, before: Session | null): void;
  lost(away: SourceAway): void;
}

/** The ways to a source, by their places in a list: 0 is the first. */
export interface Ways {
  /** How many there are, at this moment. */
  count(): number;
  /** @throws SourceAway */
  open(way: number): Promise<Session>;
  /** So long the one in use does not answer before another one is tried. Milliseconds. */
  readonly after: number;
  /** Whether the first is taken again by itself once it answers. */
  readonly back: boolean;
}

/** Keeps a session open to one source. */
export class Connection {
  /** The way that is in use, or is tried. */
  way = 0;
  private session: Session | null = null;
  private retry: NodeJS.Timeout | null = null;
  private goingBack: NodeJS.Timeout | null = null;
  private tries = 0;
  /** The attempt that counts: one that was given up may still open a connection, which nobody wants then. */
  private attempt = 0;
  private awaySince: number | null = null;
  /** Whether somebody wants the way in use, whatever the others are like. */
  private isWanted = false;
  private stopped = false;

  constructor(
    private readonly ways: Ways,
    private readonly events: ConnectionEvents,
  ) {}

  /** Opens it, and goes on trying until it stands or {@link stop} is called. */
  async connect(): Promise<void> {
    if (this.stopped) return;
    const attempt = ++this.attempt;
    let session: Session | null = null;
    try {
      session = await this.opened(this.way);
      // Taken out, or given up, meanwhile: nobody asked for what comes now.
      if (this.stopped || attempt !== this.attempt) return session.close();
      this.take(session, this.way);
    } catch (error) {
      session?.close();
      if (attempt === this.attempt) this.lose(error);
    }
  }

  /**
   * Takes another way, while the one in use goes on until that stands; nothing is read twice or missed in between. Who
   * wants it so stays there, until that way is lost.
   * @throws SourceAway where it does not lead to the source: then all stays as it was.
   */
  async use(way: number): Promise<void> {
    await this.changeOver(way, true);
  }

  private async changeOver(way: number, isWanted: boolean): Promise<void> {
    const session = await this.opened(way);
    if (this.stopped) return session.close();
    this.isWanted = isWanted;
    this.take(session, way);
  }

  /** The connection is no good any more: it is closed, and tried again after a pause. */
  lose(error: unknown): void {
    if (this.stopped) return;
    this.attempt++;
    this.discard(this.session);
    this.session = null;
    this.awaySince ??= performance.now();
    this.isWanted = false;
    this.events.lost(
      error instanceof SourceAway
        ? error
        : new SourceAway(`Reading failed: ${(error as Error).message}`, 'UNEXPECTED', Status.BadCommunicationError),
    );
    let pause = PAUSES[Math.min(this.tries++, PAUSES.length - 1)]!;
    if (this.ways.count() > 1) {
      const left = this.awaySince + this.ways.after - performance.now();
      // In time for the other way; then one and the other by turns.
      if (left > 0) pause = Math.min(pause, left);
      else this.way = (this.way + 1) % this.ways.count();
      if (left <= 0 && this.way !== 0) pause = 0;
    }
    if (this.retry) clearTimeout(this.retry);
    this.retry = setTimeout(() => void this.connect(), pause);
  }

  stop(): void {
    this.stopped = true;
    if (this.retry) clearTimeout(this.retry);
    if (this.goingBack) clearTimeout(this.goingBack);
    this.discard(this.session);
    this.session = null;
  }

  /** Closes a session. What its library throws then changes nothing: nobody uses it any more. */
  private discard(session: Session | null): void {
    try {
      session?.close();
    } catch {
      // It is closed as far as this collector is concerned.
    }
  }

  private async opened(way: number): Promise<Session> {
    const session = await this.ways.open(way);
    try {
      // A connection that answers nothing is none.
      if (!this.stopped) await this.events.prove(session);
      return session;
    } catch (error) {
      session.close();
      throw error;
    }
  }

  private take(session: Session, way: number): void {
    const before = this.session;
    if (this.retry) clearTimeout(this.retry);
    this.session = session;
    this.way = way;
    this.tries = 0;
    this.awaySince = null;
    this.events.opened(session, before);
    this.discard(before);
    this.goBackLater();
  }

  /** By another way than the first it is looked every now and then whether that leads to the source again. */
  private goBackLater(): void {
    if (this.goingBack) clearTimeout(this.goingBack);
    if (this.stopped || this.way === 0 || this.isWanted || !this.ways.back) return;
    this.goingBack = setTimeout(() => {
      // While there is no connection at all the first way has its turn anyway.
      if (!this.session) return;
      this.changeOver(0, false).catch(() => this.goBackLater());
    }, BACK_EVERY);
  }
}
