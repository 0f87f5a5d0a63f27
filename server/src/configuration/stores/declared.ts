/** Stores as they are declared in the site's own database. */

/** The number of the store in the site's own database. */
export const EMBEDDED = 1;

export interface DeclaredStore {
  readonly id: number;
  readonly name: string;
  /** Null for the embedded one. */
  readonly sealed_url: string | null;
  /** What the store's database says it is; null until it was first asked. */
  readonly identity: string | null;
  readonly retention_months: number | null;
  /** Values before this time, in microseconds, are not kept any more; null: everything is. */
  readonly keeps_since: number | null;
}
