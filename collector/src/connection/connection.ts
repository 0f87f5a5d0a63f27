/** The connection to a source: opened, lost, and tried again with growing pauses, for as long as it is wanted. */
import { Status } from '@wide-ledger/core';
import { SourceAway, type Session } from '../kinds/kind.ts';

/** Between two tries; the last one again and again. Milliseconds. */
const PAUSES = [1000, 1000, 2000, 3000, 5000];

export interface ConnectionEvents {
  /** Tries what a connection that was opened has to answer before it counts. @throws SourceAway */
  prove(session: Session): Promise<void>;
  opened(session: Session): void;
  lost(away: SourceAway): void;
}

/** Keeps a session open to one source. */
export class Connection {
  private session: Session | null = null;
  private retry: NodeJS.Timeout | null = null;
  private tries = 0;
  private stopped = false;

  constructor(
    private readonly open: () => Promise<Session>,
    private readonly events: ConnectionEvents,
  ) {}

  /** Opens it, and goes on trying until it stands or {@link stop} is called. */
  async connect(): Promise<void> {
    if (this.stopped) return;
    let session: Session | null = null;
    try {
      session = await this.open();
      // A connection that answers nothing is none.
      if (!this.stopped) await this.events.prove(session);
      // Taken out meanwhile: nobody asked for what comes now.
      if (this.stopped) return session.close();
      this.session = session;
      this.tries = 0;
      this.events.opened(session);
    } catch (error) {
      session?.close();
      this.lose(error);
    }
  }

  /** The connection is no good any more: it is closed, and tried again after a pause. */
  lose(error: unknown): void {
    if (this.stopped) return;
    this.session?.close();
    this.session = null;
    this.events.lost(
      error instanceof SourceAway
        ? error
        : new SourceAway(`Reading failed: ${(error as Error).message}`, 'UNEXPECTED', Status.BadCommunicationError),
    );
    const pause = PAUSES[Math.min(this.tries++, PAUSES.length - 1)];
    this.retry = setTimeout(() => void this.connect(), pause);
  }

  stop(): void {
    this.stopped = true;
    if (this.retry) clearTimeout(this.retry);
    this.session?.close();
    this.session = null;
  }
}
