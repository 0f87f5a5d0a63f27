/** How far a server's clock is from this machine's. */
import type { ClientSession } from 'node-opcua-client';

/** Server_ServerStatus_CurrentTime and _StartTime: OPC 10000-6, annex A. */
const CURRENT_TIME = 'i=2258';
const START_TIME = 'i=2257';

/** When the server was started, in microseconds by its own clock; null where it does not tell. */
export async function readStart(session: ClientSession): Promise<number | null> {
  const { value } = await session.read({ nodeId: START_TIME, attributeId: 13 });
  const shown = value.value as unknown;
  return shown instanceof Date && shown.getTime() > 0 ? shown.getTime() * 1000 : null;
}

/** The server's clock minus this machine's, in milliseconds; null where it does not tell. */
export async function readSkew(session: ClientSession): Promise<number | null> {
  const before = Date.now();
  const { value } = await session.read({ nodeId: CURRENT_TIME, attributeId: 13 });
  // Half of the way there and back is taken for the way back.
  const middle = (before + Date.now()) / 2;
  const shown = value.value as unknown;
  return shown instanceof Date ? Math.round(shown.getTime() - middle) : null;
}
