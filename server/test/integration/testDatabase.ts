/** An empty database of a test's own, on the test cluster. */
import { execFileSync, spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import pg from 'pg';

export interface TestDatabase {
  readonly url: string;
  readonly drop: () => Promise<void>;
}

export async function createDatabase(): Promise<TestDatabase> {
  const cluster = process.env.TEST_DATABASE_URL;
  if (!cluster) throw new Error('TEST_DATABASE_URL is not set: run the tests with "npm test".');
  const name = `test_${randomBytes(6).toString('hex')}`;
  const admin = new pg.Client(`${cluster}/postgres`);
  await admin.connect();
  await admin.query(`CREATE DATABASE ${name}`);
  return {
    url: `${cluster}/${name}`,
    drop: async () => {
      await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
      await admin.end();
    },
  };
}

const programs = (): string => process.env.TEST_POSTGRES_PROGRAMS!;

/** A database as it is at this moment, as statements. */
export const backup = (url: string): string =>
  execFileSync(join(programs(), 'pg_dump'), ['--no-owner', '--no-privileges', url], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });

/** A database made from a backup. */
export async function restore(dump: string, clusterUrl: string): Promise<TestDatabase> {
  const name = `restored_${randomBytes(5).toString('hex')}`;
  const admin = new pg.Client(`${clusterUrl}/postgres`);
  await admin.connect();
  await admin.query(`CREATE DATABASE ${name}`);
  const url = `${clusterUrl}/${name}`;
  const { status, stderr } = spawnSync(join(programs(), 'psql'), ['-q', '-v', 'ON_ERROR_STOP=1', url], {
    input: dump,
    encoding: 'utf8',
  });
  if (status !== 0) throw new Error(stderr);
  return {
    url,
    drop: async () => {
      await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
      await admin.end();
    },
  };
}
