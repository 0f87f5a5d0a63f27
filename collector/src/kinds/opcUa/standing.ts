/** What every session with an OPC UA server has, however values come of it. */
import type { SourceState } from '@wide-ledger/contract';
import type { SourceAway, Traffic } from '../kind.ts';
import { awayByNetwork } from '../away.ts';
import type { Approach } from './connecting.ts';
import { readSkew } from './clockSkew.ts';

const SKEW_MILLISECONDS = 10_000;

/** A session that stands: its clock difference is looked at from time to time, and its end is told once. */
export abstract class Standing {
  clockSkew: number | null = null;
  private readonly timer: NodeJS.Timeout;
  private ended = false;

  constructor(protected readonly approach: Approach) {
    const broken = (): void => this.end(awayByNetwork(approach.place.host, approach.place.port, 'CLOSED'));
    approach.client!.on('connection_lost', broken).on('start_reconnection', broken).on('close', broken);
    approach.session!.on('session_closed', broken);
    this.timer = setInterval(() => void this.lookAtClock(), SKEW_MILLISECONDS);
    void this.lookAtClock();
  }

  get traffic(): Traffic {
    const { transactionsPerformed = 0, bytesRead = 0, bytesWritten = 0 } = this.approach.client ?? {};
    return { requests: transactionsPerformed, bytes: bytesRead + bytesWritten };
  }

  get facts(): SourceState['facts'] {
    return this.approach.facts;
  }

  /** Told when the connection is gone without having been closed. */
  protected abstract lost(error: SourceAway): void;

  protected end(error: SourceAway): void {
    if (this.ended) return;
    this.ended = true;
    clearInterval(this.timer);
    this.lost(error);
  }

  close(): void {
    this.ended = true;
    clearInterval(this.timer);
    void this.approach.close();
  }

  private async lookAtClock(): Promise<void> {
    const { session } = this.approach;
    if (session) this.clockSkew = await readSkew(session).catch(() => this.clockSkew);
  }
}
