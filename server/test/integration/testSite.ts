/** A site on a database of its own, on the test cluster. */
import { Status, packEntry, type Frame } from '@wide-ledger/core';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { pino } from 'pino';
import { freePort, ROOT } from '../../../launch/ground.mjs';
import { openSite, readSettings, type Site } from '../../src/index.ts';
import { Seal, keyFile } from '@wide-ledger/vault';
import { createDatabase, type TestDatabase } from './testDatabase.ts';

export const PASSWORD = 'only-for-tests';

export interface Answer<Body> {
  readonly status: number;
  readonly body: Body;
  readonly headers: Headers;
}

async function startSite(databaseUrl: string, folder: string, over: NodeJS.ProcessEnv = {}): Promise<Site> {
  const settings = readSettings({
    DATABASE_URL: databaseUrl,
    WIDE_LEDGER_DATA: folder,
    WIDE_LEDGER_PORT: String(await freePort()),
    WIDE_LEDGER_ADMIN_PASSWORD: PASSWORD,
    WIDE_LEDGER_READER_PASSWORD: 'reader-for-tests',
    WIDE_LEDGER_LOG: 'silent',
    ...over,
  });
  const programs = {
    reading: join(ROOT, 'server/dist/readingLoader.cjs'),
    posting: join(ROOT, 'server/dist/posting.mjs'),
    deriving: join(ROOT, 'server/dist/deriving.mjs'),
  };
  return openSite(settings, join(ROOT, 'server'), programs, pino({ level: 'silent' }));
}

export class TestSite {
  cookie = '';

  private constructor(
    public site: Site,
    private readonly own: TestDatabase,
    /** Its data folder. */
    readonly folder: string,
    private readonly over: NodeJS.ProcessEnv,
  ) {}

  /** @param over settings that are other than usual. */
  static async open(over: NodeJS.ProcessEnv = {}): Promise<TestSite> {
    return TestSite.on(await createDatabase(), {}, over);
  }

  /** A second server of the same site, on the same database and data folder. To be closed by whoever opened it. */
  beside(): Promise<Site> {
    return startSite(this.own.url, this.folder, this.over);
  }

  /**
   * A site on a database that is there already, with a data folder of its own.
   * @param addresses of further stores that the database knows by name, under a seal of another folder.
   */
  static async on(
    own: TestDatabase,
    addresses: Readonly<Record<string, string>> = {},
    over: NodeJS.ProcessEnv = {},
  ): Promise<TestSite> {
    const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-site-'));
    const seal = new Seal(keyFile(folder, 'seal.key'));
    const client = new pg.Client(own.url);
    await client.connect();
    for (const [name, url] of Object.entries(addresses)) {
      await client.query('UPDATE store SET sealed_url = $2 WHERE name = $1', [name, seal.close(url)]);
    }
    await client.end();
    const test = new TestSite(await startSite(own.url, folder, over), own, folder, over);
    const signedIn = await test.call('POST', '/session', { name: 'admin', password: PASSWORD });
    test.cookie = signedIn.headers.getSetCookie()[0]!.split(';')[0]!;
    return test;
  }

  /** The site after its database was replaced: with its data folder, on another database. To be stopped before. */
  async movedTo(database: TestDatabase): Promise<TestSite> {
    const test = new TestSite(await startSite(database.url, this.folder, this.over), database, this.folder, this.over);
    test.cookie = this.cookie;
    return test;
  }

  /** Forgets the database of a site that was stopped. */
  drop(): Promise<void> {
    return this.own.drop();
  }

  /** Stops the site in peace and starts it again with the same database and data folder. */
  async restart(): Promise<void> {
    await this.site.close();
    this.site = await startSite(this.own.url, this.folder, this.over);
  }

  get databaseUrl(): string {
    return this.own.url;
  }

  async call<Body = never>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer<Body>> {
    const binary = body instanceof Uint8Array;
    const answer = await fetch(`${this.site.url}/api/v1${path}`, {
      method,
      headers: {
        cookie: this.cookie,
        ...(body === undefined ? {} : { 'content-type': binary ? 'application/octet-stream' : 'application/json' }),
        ...headers,
      },
      ...(body === undefined ? {} : { body: binary ? Buffer.from(body) : JSON.stringify(body) }),
    });
    const text = await answer.text();
    const json = (answer.headers.get('content-type') ?? '').includes('json');
    return { status: answer.status, body: (json ? JSON.parse(text) : text) as Body, headers: answer.headers };
  }

  entry(
    description: object,
    frame: Frame | null,
  ): Promise<Answer<{ entry: number | null; accepted: number; setAside: number; repeated: boolean }>> {
    return this.call('POST', '/entries', packEntry(description, frame));
  }

  /** Another administrator, signed in. */
  async person(name: string): Promise<Pick<TestSite, 'call'>> {
    await this.query(
      "INSERT INTO account (name, password_hash, scopes) SELECT $1, password_hash, scopes FROM account WHERE name = 'admin'",
      [name],
    );
    const signedIn = await this.call('POST', '/session', { name, password: PASSWORD });
    const cookie = signedIn.headers.getSetCookie()[0]!.split(';')[0]!;
    return {
      call: (method, path, body, headers = {}) => this.call(method, path, body, { cookie, ...headers }),
    };
  }

  async tag(tag: object): Promise<number> {
    const { body } = await this.call<{ results: { id: number }[] }>('POST', '/tags', tag);
    return body.results[0]!.id;
  }

  async query<Row>(sql: string, values: unknown[] = []): Promise<Row[]> {
    return (await this.site.database.pool.query(sql, values)).rows as Row[];
  }

  /** Waits until no job of a kind is left to do. */
  async jobsDone(kind: string): Promise<void> {
    for (;;) {
      const { body } = await this.call<{ jobs: { kind: string; state: string }[] }>('GET', '/jobs');
      const over = ['done', 'stopped', 'paused', 'failed'];
      if (body.jobs.every((job) => job.kind !== kind || over.includes(job.state))) return;
      await new Promise((done) => setTimeout(done, 50));
    }
  }

  async close(): Promise<void> {
    await this.site.close();
    await this.own.drop();
    rmSync(this.folder, { recursive: true, force: true });
  }
}

/** A frame of one tag. */
export function frameOf(
  tag: number,
  rows: readonly (readonly [micros: number, value: number, status?: number])[],
  texts: string[] = [],
): Frame {
  return {
    tags: new Uint32Array(rows.length).fill(tag),
    times: Float64Array.from(rows, (row) => row[0]),
    values: Float64Array.from(rows, (row) => row[1]),
    status: Uint32Array.from(rows, (row) => row[2] ?? 0),
    origins: null,
    texts,
  };
}

/**
 * Samples in ledger and journal compared by SQL's own eyes: what the journal holds must stand in the ledger, once, and
 * what it says was removed must not.
 * @param except a tag whose months were dropped.
 */
export const journalAgainstLedger = (except = 0): string => `
  WITH journal AS (
    SELECT DISTINCT ON (d.tag, d.micros) d.tag, d.micros, d.value, d.status FROM journal_entry e, history.decode_frame(e.frame) d
    WHERE e.frame IS NOT NULL AND d.tag <> ${except} ORDER BY d.tag, d.micros, e.id DESC),
  standing AS (SELECT * FROM journal WHERE status <> ${Status.BadNoEntryExists}),
  ledger AS (SELECT b.tag_id::bigint AS tag, d.micros, d.value, d.status FROM every_block b, history.decode_frame(b.frame) d
    WHERE b.tag_id <> ${except})
  SELECT (SELECT count(*) FROM standing) AS journal, (SELECT count(*) FROM ledger) AS ledger,
         (SELECT count(*) FROM (SELECT * FROM standing EXCEPT ALL SELECT * FROM ledger) AS missing) AS missing,
         (SELECT count(*) FROM (SELECT * FROM ledger EXCEPT ALL SELECT * FROM standing) AS extra) AS extra`;

/** What a collector with nothing to say reports, but its name. */
export const SILENT_REPORT = {
  version: null,
  startedAt: 0,
  spooledEntries: 0,
  spooledSamples: 0,
  valuesPerSecond: 0,
  sources: [],
};
