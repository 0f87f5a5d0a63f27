/** An empty database of a test's own, on the test cluster. */
import { randomBytes } from 'node:crypto';
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
