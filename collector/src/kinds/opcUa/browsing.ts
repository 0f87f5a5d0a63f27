/** Sessions for looking through servers. */
import type { OpcUaConnection } from '@wide-ledger/contract';
import { KeptOpen } from '../keptOpen.ts';
import type { Surroundings } from '../kind.ts';
import { connect, type Approach } from './connecting.ts';

/** After the last question. Milliseconds. */
const KEPT_MILLISECONDS = 20_000;

const sessions = new KeptOpen<Approach>(KEPT_MILLISECONDS, (approach) => void approach.close());

/** Does something with a session of a connection. @throws SourceAway */
export const whileBrowsing = <Result>(
  connection: OpcUaConnection,
  around: Surroundings,
  work: (approach: Approach) => Promise<Result>,
): Promise<Result> =>
  sessions.whileOpen(
    JSON.stringify([connection, around.secret(connection.password)]),
    () => connect(connection, around),
    work,
  );
