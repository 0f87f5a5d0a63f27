/** What the parts of the speed run are given. */
import type pg from 'pg';

export interface Surroundings {
  /** Of the server's calls. */
  readonly base: string;
  readonly authorization: string;
  /** The server's process. */
  readonly serverPid: number;
  /** A key that may collect. */
  readonly key: string;
  readonly client: pg.Client;
  /** The first port for the test bench's devices. */
  readonly devicePort: number;
  /** A folder for what the programs write. */
  readonly data: string;
  /** Prints a figure. */
  readonly row: (name: string, value: string, ratio?: string) => void;
}
