/** Sessions for looking through servers: kept open for a while, since who opens one folder opens the next. */
import type { OpcUaConnection } from '@wide-ledger/contract';
import type { Surroundings } from '../kind.ts';
import { connect, type Approach } from './connecting.ts';

/** After the last question. Milliseconds. */
const KEPT_MILLISECONDS = 20_000;

interface Kept {
  readonly approach: Promise<Approach>;
  users: number;
  timer: NodeJS.Timeout | null;
}

const kept = new Map<string, Kept>();

/** Does something with a session of a connection. @throws SourceAway; the session is then not used again. */
export async function whileBrowsing<Result>(
  connection: OpcUaConnection,
  around: Surroundings,
  work: (approach: Approach) => Promise<Result>,
): Promise<Result> {
  const key = JSON.stringify([connection, around.secret(connection.password)]);
  const one = kept.get(key) ?? { approach: connect(connection, around), users: 0, timer: null };
  kept.set(key, one);
  one.users++;
  if (one.timer) clearTimeout(one.timer);
  const close = (): void => {
    if (kept.get(key) === one) kept.delete(key);
    one.approach.then((approach) => approach.close()).catch(() => undefined);
  };
  try {
    return await work(await one.approach);
  } catch (error) {
    close();
    throw error;
  } finally {
    one.users--;
    if (one.users === 0 && kept.get(key) === one) one.timer = setTimeout(close, KEPT_MILLISECONDS).unref();
  }
}
