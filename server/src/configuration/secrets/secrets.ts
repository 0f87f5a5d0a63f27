/** Secrets that definitions refer to: taken in once, sealed, opened only for the collector that needs them. */
import { secretsOf } from '@wide-ledger/contract';
import type { Seal } from '@wide-ledger/vault';
import type { Pool } from 'pg';

/** Secrets by the numbers under which definitions refer to them. */
export type OpenSecrets = Record<string, string>;

export class Secrets {
  constructor(
    private readonly home: Pool,
    private readonly seal: Seal,
  ) {}

  /** Takes a secret in. @returns its number. It is never shown again. */
  async keep(value: string, by: string): Promise<number> {
    const { rows } = await this.home.query<{ id: number }>(
      'INSERT INTO secret (sealed, kept_by) VALUES ($1, $2) RETURNING id',
      [this.seal.close(value), by],
    );
    return rows[0]!.id;
  }

  /** The secrets that connections refer to. One that was sealed under another key is left out: it cannot be opened. */
  async openFor(connections: readonly object[]): Promise<OpenSecrets> {
    const ids = [...new Set(connections.flatMap(secretsOf))];
    if (ids.length === 0) return {};
    const { rows } = await this.home.query<{ id: number; sealed: string }>(
      'SELECT id, sealed FROM secret WHERE id = ANY($1)',
      [ids],
    );
    return Object.fromEntries(rows.flatMap(({ id, sealed }) => this.opened(id, sealed)));
  }

  private opened(id: number, sealed: string): [string, string][] {
    try {
      return [[String(id), this.seal.open(sealed)]];
    } catch {
      return [];
    }
  }
}
