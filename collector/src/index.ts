/** The collector: what tests may use of it. */
export { Collector } from './collector.ts';
export type { Account } from './account/account.ts';
export { readSettings, type Settings } from './settings.ts';
export { kindOf } from './kinds/index.ts';
export { readBurst } from './answering/burst.ts';
export { lookUp } from './answering/lookingUp.ts';
export {
  SourceAway,
  type Cursor,
  type Kind,
  type Listener,
  type Reached,
  type RecordSession,
  HistoryRefused,
  WriteRefused,
  type HistoryPart,
  type HistoryRequest,
  type PolledSession,
  type Sample,
  type Session,
  type SourceOf,
  type SubscribedSession,
  type Surroundings,
  type TagOf,
  type Value,
} from './kinds/kind.ts';
export { modbusTcp } from './kinds/modbusTcp/kind.ts';
export { NO_REFUSALS, planRequests } from './kinds/modbusTcp/requests.ts';
export { exceptionFault } from './kinds/modbusTcp/faults.ts';
export { awayByNetwork } from './kinds/away.ts';
export { files } from './kinds/files/kind.ts';
export { httpJson } from './kinds/httpJson/kind.ts';
export { ledger } from './kinds/ledger/kind.ts';
export { mqtt } from './kinds/mqtt/kind.ts';
export { opcUa } from './kinds/opcUa/kind.ts';
export { sparkplug } from './kinds/sparkplug/kind.ts';
export { sql } from './kinds/sql/kind.ts';
export { Spool } from './spool/spool.ts';
export { Beats, isOnBeat } from './acquisition/beats.ts';
export { Pace } from './acquisition/pace.ts';
export { Clock } from './watching/clock.ts';
export { Connection } from './connection/connection.ts';
export { Keeping } from './tagLife/keeping.ts';
export { Notebook, type Notes } from './source/notebook.ts';
export { SourceWatcher, type Outlet, type WatcherNotes } from './source/sourceWatcher.ts';
export { Delivery } from './delivery/delivery.ts';
export { MOST_SAMPLES, MOST_SPANS, partsOf } from './delivery/parts.ts';
export { ServerCalls, ServerRefused } from './delivery/serverCalls.ts';
export { Gathering, type Gathered } from './gathering/gathering.ts';
export { Lease, type SharedSource, type LeaseNotes } from './standby/lease.ts';
