/** What the server's threads are started with. */
export interface ThreadSettings {
  readonly databaseUrl: string;
  /** Opens the sealed addresses of further stores. */
  readonly sealKey: Uint8Array;
  readonly logLevel: string;
}

/** Where the threads' programs lie: bundles beside the server's own. */
export interface ThreadPrograms {
  readonly reading: string;
  readonly posting: string;
  readonly deriving: string;
}
