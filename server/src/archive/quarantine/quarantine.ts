/** Entries that could not be posted: kept whole, with what was wrong, until somebody decides. */
import type { QUARANTINE_DECISIONS, QuarantinedEntry } from '@wide-ledger/contract';
import { decodeFrame, formatInstant, originName, textAt, wholeAt, type Frame } from '@wide-ledger/core';
import type { Catalogue } from '../../configuration/index.ts';
import { nowMicros, type Database } from '../../ground/index.ts';
import { admitFrame, type RefusedSample } from '../journal/admission.ts';
import type { Journal } from '../journal/journal.ts';

export type Decision = (typeof QUARANTINE_DECISIONS)[number];

interface QuarantineRow {
  readonly id: number;
  readonly entry: number;
  readonly store_id: number;
  readonly writer: string;
  readonly origin: number;
  readonly received_at: Date;
  readonly samples: number;
  readonly first_time: number | null;
  readonly last_time: number | null;
  readonly tags: number[] | null;
  readonly frame: Buffer | null;
  readonly reason: string | null;
  readonly failure: string;
  readonly at: Date;
}

/** Entries that could not be posted, kept whole until a person decides. */
export class Quarantine {
  constructor(
    private readonly database: Database,
    private readonly catalogue: Catalogue,
    private readonly journal: Journal,
  ) {}

  /** Entries about which nobody has decided yet, newest first. */
  async open(limit: number): Promise<QuarantinedEntry[]> {
    const { rows } = await this.database.pool.query<QuarantineRow>(
      `SELECT id, entry, store_id, writer, origin, received_at, samples, first_time, last_time, tags, failure, at
         FROM quarantine WHERE decision IS NULL ORDER BY id DESC LIMIT $1`,
      [limit],
    );
    const shown = (time: number | null): string | null => (time === null ? null : formatInstant(time));
    return rows.map((row) => ({
      id: row.id,
      entry: row.entry,
      store: this.catalogue.storeById(row.store_id)?.name ?? '',
      writer: row.writer,
      receivedAt: row.received_at.toISOString(),
      samples: row.samples,
      from: shown(row.first_time),
      to: shown(row.last_time),
      tags: (row.tags ?? []).map((tag) => this.catalogue.tagById(tag)?.name ?? `number ${tag}`),
      failure: row.failure,
      at: row.at.toISOString(),
    }));
  }

  /**
   * Posts an entry again as a new one, with what no tag can hold set aside, or sets all of it aside. Its original stays.
   * @returns false when there is no such entry, or somebody has decided already.
   */
  async decide(id: number, decision: Decision, by: string): Promise<boolean> {
    const { rows } = await this.database.pool.query<QuarantineRow>(
      'SELECT * FROM quarantine WHERE id = $1 AND decision IS NULL',
      [id],
    );
    const [row] = rows;
    if (!row) return false;
    // First the entry, whose writer and number let it come once only, then the note that it was decided.
    await this.carryOut(row, decision);
    await this.database.pool.query(
      'UPDATE quarantine SET decision = $2, decided_by = $3, decided_at = now() WHERE id = $1 AND decision IS NULL',
      [id, decision, by],
    );
    return true;
  }

  private async carryOut(row: QuarantineRow, decision: Decision): Promise<void> {
    const frame = readable(row.frame);
    const { frames, refused } =
      decision === 'post again' && frame
        ? admitFrame(frame, this.catalogue.tagById, this.catalogue.keepsSince, nowMicros(), true)
        : { frames: [], refused: this.everySample(row, frame) };
    await this.journal.appendAll([
      {
        writer: `${row.writer} (quarantine ${row.id})`,
        sequence: 1,
        origin: originName(row.origin),
        frame: frames[0] ?? null,
        watches: [],
        outages: [],
        refused,
        reason: row.reason ?? `Entry ${row.entry}, out of quarantine`,
      },
    ]);
  }

  private everySample(row: QuarantineRow, frame: Frame | null): RefusedSample[] {
    const reason = `Entry ${row.entry} could not be posted: ${row.failure}`;
    if (!frame) {
      const value = `${row.samples} values that cannot be decoded`;
      return [{ index: 0, tag: '', time: row.first_time, value, status: null, reason }];
    }
    return Array.from(frame.times, (time, index) => ({
      index,
      tag: this.catalogue.tagById(frame.tags![index]!)?.name ?? `number ${frame.tags![index]!}`,
      time,
      value: String(textAt(frame, index) ?? wholeAt(frame, index) ?? frame.values[index]!),
      status: frame.status[index]!,
      reason,
    }));
  }
}

function readable(bytes: Buffer | null): Frame | null {
  try {
    return bytes && decodeFrame(bytes);
  } catch {
    return null;
  }
}
